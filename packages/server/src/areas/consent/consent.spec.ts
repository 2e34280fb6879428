import { PURPOSES } from '@long-gate/core';
import { Office } from '../../testing/office.js';

const ADA = '+12125550123';
const HOUR = 3_600_000;

describe('consent', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
  });
  afterEach(() => o.close());

  const outs = (): string[] => o.sentTo(ADA).filter((t) => t.includes('no more texts'));

  for (const word of [
    'STOP',
    'stop.',
    'Unsubscribe',
    'opt out',
    'QUIT!',
    'please take me off your list',
    'No me manden más mensajes',
  ]) {
    it(`honours “${word}” at once, for every purpose, with one confirmation`, async () => {
      await o.contact(ADA, ['informational', 'promotional']);
      await o.text(ADA, word);
      expect(await o.state(ADA)).toEqual({
        conversational: 'revoked',
        informational: 'revoked',
        promotional: 'revoked',
      });
      expect(outs().length).toBe(1);
      await o.text(ADA, 'STOP');
      expect(outs().length).withContext('one confirmation only').toBe(1);
    });
  }

  it('holds promotional texts and shows the reply where only offers are meant, and a person decides', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    await o.text(ADA, 'stop sending me offers');
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'granted', promotional: 'granted' });
    const { db } = o.app.platform;
    const held = await o.app.preview.preview(
      o.business,
      await o.draft({ text: 'Rye bread is back.', purpose: 'promotional' }),
    );
    expect(held.counts.posts[4]?.hold).toBe(1);
    const review = await db.one<{ id: string }>(`SELECT id FROM reply_review WHERE state = 'open'`);
    await o.app.replies.decide(o.admin, o.business, review?.id ?? '', true);
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'granted', promotional: 'revoked' });
    expect(outs().length).toBe(0);
  });

  it('takes small talk for small talk', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    for (const words of ['Does the ferry stop at Aldersund?', 'ok thanks', 'at the end of the day'])
      await o.text(ADA, words);
    expect((await o.state(ADA)).promotional).toBe('granted');
    expect(o.sentTo(ADA)).toEqual([]);
  });

  it('brings back with START what was in force when the person left, citing the words they once saw', async () => {
    await o.contact(ADA, ['promotional']);
    await o.text(ADA, 'STOP');
    await o.text(ADA, 'START');
    expect(await o.state(ADA)).toEqual({ conversational: 'revoked', informational: 'revoked', promotional: 'granted' });
    const events = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    expect(events[events.length - 1]).toEqual(
      jasmine.objectContaining({ kind: 'granted', how: 'keyword', disclosure: 'Text me news.' }),
    );
    expect(o.sentTo(ADA).filter((t) => t.includes('back in for offers')).length).toBe(1);
  });

  it('takes YES back in only from one who is out or was asked', async () => {
    await o.contact(ADA, []);
    await o.text(ADA, 'YES');
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'none', promotional: 'none' });
    expect(o.sentTo(ADA)).toEqual([]);
  });

  it('answers HELP once for each request, also to one who has left', async () => {
    await o.contact(ADA, ['promotional']);
    await o.text(ADA, 'STOP');
    await o.text(ADA, 'HELP');
    expect(o.sentTo(ADA).filter((t) => t.includes('office@heron.example')).length).toBe(1);
  });

  describe('the opt-in page', () => {
    const page = {
      slug: 'heron',
      title: 'Texts from Heron Lane',
      intro: '',
      privacyUrl: 'https://heron.example/p',
      termsUrl: 'https://heron.example/t',
      published: true,
      purposes: [{ purpose: 'promotional' as const, label: 'Text me news, twice a month.' }],
    };
    const evidence = { ip: '192.0.2.7', agent: 'phone' };
    beforeEach(async () => {
      await o.app.pages.add(o.admin, o.business, { ...page, numberId: o.number });
    });

    it('records the exact words, asks for YES once, and grants on YES', async () => {
      await o.app.pages.optIn(
        'heron',
        { phone: '212-555-0123', firstName: 'Ada', purposes: ['promotional'] },
        evidence,
      );
      await o.settle();
      expect((await o.state(ADA)).promotional).toBe('awaiting');
      expect(o.sentTo(ADA).map((t) => t.includes('reply YES'))).toEqual([true]);
      const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
      expect(event?.disclosure).toContain('Agreeing is not a condition of any purchase');
      expect(event?.disclosure).toContain('Heron Lane Bakery LLC');
      expect(event?.evidence).toEqual({ ip: '192.0.2.7', agent: 'phone', page: 'heron' });
      await o.text(ADA, 'yes!');
      expect((await o.state(ADA)).promotional).toBe('granted');
      expect((await o.state(ADA)).informational)
        .withContext('one purpose never implies another')
        .toBe('none');
    });

    it('lapses after 72 hours without a reminder; a late YES grants nothing', async () => {
      await o.app.pages.optIn('heron', { phone: ADA, firstName: '', purposes: ['promotional'] }, evidence);
      await o.settle();
      await o.later(73 * HOUR);
      expect((await o.state(ADA)).promotional).toBe('lapsed');
      await o.text(ADA, 'YES');
      expect((await o.state(ADA)).promotional).toBe('lapsed');
      expect(o.sentTo(ADA).length).toBe(1);
    });

    it('keeps the words whoever agreed before saw, and gives changed words a new version', async () => {
      await o.app.pages.optIn('heron', { phone: ADA, firstName: '', purposes: ['promotional'] }, evidence);
      const [before] = await o.app.pages.list(o.business);
      await o.app.pages.edit(o.admin, o.business, before?.id ?? '', before?.version ?? 0, {
        ...page,
        numberId: o.number,
        purposes: [{ purpose: 'promotional', label: 'Text me news, daily.' }],
      });
      const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
      expect(event?.disclosure).toContain('twice a month');
      expect((await o.app.pages.list(o.business))[0]?.pageVersion).toBe(2);
    });

    it('refuses a bad number at the field and stores nothing', async () => {
      await expectAsync(
        o.app.pages.optIn('heron', { phone: '911', firstName: '', purposes: ['promotional'] }, evidence),
      ).toBeRejectedWith(
        jasmine.objectContaining({ status: 422, fields: [jasmine.objectContaining({ field: 'phone' })] }),
      );
      await expectAsync(
        o.app.pages.optIn('heron', { phone: ADA, firstName: '', purposes: ['informational'] }, evidence),
      ).toBeRejected();
      expect(
        (await o.app.ledger.verify(o.business)).ok && (await o.app.ledger.page(o.business, { limit: 10 })).total,
      ).toBe(0);
    });

    it('tells nobody whether a number has agreed', async () => {
      await o.contact(ADA, ['promotional']);
      const known = await o.app.pages.optIn(
        'heron',
        { phone: ADA, firstName: '', purposes: ['promotional'] },
        evidence,
      );
      const other = await o.app.pages.optIn(
        'heron',
        { phone: '+12125550124', firstName: '', purposes: ['promotional'] },
        evidence,
      );
      expect({ ...known, shown: '' }).toEqual({ ...other, shown: '' });
    });
  });

  it('verifies, names the first broken link, and rebuilds the state of now from the ledger', async () => {
    for (let i = 0; i < 6; i++) await o.contact(`+1212555010${i}`, ['informational']);
    await o.text('+12125550101', 'STOP');
    expect((await o.app.ledger.verify(o.business)).ok).toBe(true);
    expect(await o.app.ledger.rebuild(o.business, false)).toEqual({ ok: true, differing: 0 });
    const { db } = o.app.platform;
    await db.write((w) =>
      w.run(`UPDATE contact_number SET consent_promotional = 'granted' WHERE e164 = '+12125550101'`),
    );
    expect(await o.app.ledger.rebuild(o.business, true)).toEqual({ ok: false, differing: 1 });
    expect(await o.app.ledger.rebuild(o.business, false)).toEqual({ ok: true, differing: 0 });
    // Somebody with the file in hand changes the past.
    await db.write((w) => w.run('DROP TRIGGER consent_event_no_update'));
    await db.write((w) => w.run(`UPDATE consent_event SET disclosure = 'other words' WHERE seq = 3`));
    expect(await o.app.ledger.verify(o.business)).toEqual(
      jasmine.objectContaining({ ok: false, brokenAt: 3, reason: 'content' }),
    );
  });

  it('records a wish told by phone at once, and keeps businesses apart', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    const other = await o.app.platform.db.write((w) =>
      o.app.businesses.add(w, o.admin, { legalName: 'Other LLC', nameLine: 'Other', form: 'private company' }),
    );
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, other, [{ e164: ADA, purposes: ['promotional'], kind: 'granted', how: 'paper form' }]),
    );
    await o.app.replies.recordWish(o.admin, o.business, {
      e164: ADA,
      purposes: [...PURPOSES],
      how: 'phone call',
      words: 'She asked to be left alone.',
    });
    expect((await o.state(ADA)).promotional).toBe('revoked');
    expect((await o.app.ledger.statesOf(o.app.platform.db, other, ADA)).promotional.state).toBe('granted');
  });
});
