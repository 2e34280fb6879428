import { PURPOSES } from '@long-gate/core';
import { DateTime } from 'luxon';
import { AUDIT_CHAIN, trailHead } from '../../platform/audit.js';
import { withoutGuard } from '../../testing/database.js';
import { heronPage } from '../../testing/opt-in-page.js';
import { Office } from '../../testing/office.js';

const ADA = '+12125550123';
const BO = '+12125550124';
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
    await o.app.replies.decide(o.admin, o.business, review?.id ?? '', 'offers');
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'granted', promotional: 'revoked' });
    expect(outs().length).toBe(0);
  });

  it('stops only what a list is for, where the list is named', async () => {
    const words = 'remove me from the harvest helpers list';
    const list = 'Harvest helpers';
    await o.contact(ADA, ['informational', 'promotional'], { list });
    await o.text(ADA, words);
    expect((await o.state(ADA)).promotional)
      .withContext('never texted: the wish is for all')
      .toBe('revoked');

    await o.contact(BO, ['informational', 'promotional'], { list });
    const audience = { include: [await o.listId(list)], exclude: [] };
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft({ audience }));
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.text(BO, words);
    expect(await o.state(BO)).toEqual({ conversational: 'none', informational: 'revoked', promotional: 'granted' });
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
      purposes: [{ purpose: 'promotional' as const, label: 'Text me news', frequency: 'twice a month' }],
    };
    const evidence = { ip: '192.0.2.7', agent: 'phone' };
    /** Fills in the page as it stands now. */
    const join = async (phone: string, over: object = {}): Promise<{ shown: string; from: string }> =>
      o.app.publicPages.optIn(
        'heron',
        {
          phone,
          firstName: '',
          purposes: ['promotional'],
          words: (await o.app.publicPages.publicPage('heron')).words,
          ...over,
        },
        evidence,
      );
    beforeEach(async () => {
      await o.app.pages.add(o.admin, o.business, heronPage(o.number, page));
    });

    it('records the exact words, asks for YES once, and grants on YES', async () => {
      await join('212-555-0123');
      await o.settle();
      expect((await o.state(ADA)).promotional).toBe('awaiting');
      expect(o.sentTo(ADA).map((t) => t.includes('reply YES'))).toEqual([true]);
      const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
      expect(event?.disclosure).toContain('Agreeing is not a condition of any purchase');
      expect(event?.disclosure).toContain('Heron Lane Bakery LLC');
      expect(event?.evidence).toEqual({
        ip: '192.0.2.7',
        agent: 'phone',
        page: 'heron',
        pageSha256: jasmine.stringMatching(/^[0-9a-f]{64}$/) as unknown as string,
      });
      await o.text(ADA, 'yes!');
      // Page, confirming and joining text agree on the kind and on how often.
      for (const text of o.sentTo(ADA)) expect(text).toContain('offers (twice a month)');
      expect(o.sentTo(ADA).length).toBe(2);
      expect((await o.state(ADA)).promotional).toBe('granted');
      expect((await o.state(ADA)).informational)
        .withContext('one purpose never implies another')
        .toBe('none');
    });

    it('lapses after 72 hours without a reminder; a late YES grants nothing', async () => {
      await join(ADA);
      await o.settle();
      await o.later(73 * HOUR);
      expect((await o.state(ADA)).promotional).toBe('lapsed');
      await o.text(ADA, 'YES');
      expect((await o.state(ADA)).promotional).toBe('lapsed');
      expect(o.sentTo(ADA).length).toBe(1);
    });

    it('keeps the words whoever agreed before saw, and gives changed words a new version', async () => {
      await join(ADA);
      const [before] = await o.app.pages.list(o.business);
      await o.app.pages.edit(o.admin, o.business, before?.id ?? '', before?.version ?? 0, {
        ...heronPage(o.number, page),
        purposes: [{ purpose: 'promotional', label: 'Text me news', frequency: 'daily' }],
      });
      const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
      expect(event?.disclosure).toContain('twice a month');
      expect((await o.app.pages.list(o.business))[0]?.pageVersion).toBe(2);
    });

    it('is listed the newest first or the oldest, page by page, by kind too', async () => {
      for (const [i, person] of [ADA, '+12015550162', '+12015550163', '+12015550164'].entries())
        await o.app.platform.db.write((w) =>
          o.app.ledger.append(w, o.business, [
            { e164: person, purposes: ['promotional'], kind: i % 2 ? 'revoked' : 'granted', how: 'web page' },
          ]),
        );
      const walked = async (q: { sort?: 'happened'; kind?: string }): Promise<number[]> => {
        const seen: number[] = [];
        for (let cursor: string | undefined; ;) {
          const page = await o.app.ledgerPages.page(o.business, { ...q, ...(cursor ? { cursor } : {}), limit: 3 });
          seen.push(...page.items.map((e) => e.seq));
          if (page.next === null) return seen;
          cursor = page.next;
        }
      };
      expect(await walked({})).toEqual([4, 3, 2, 1]);
      expect(await walked({ sort: 'happened' })).toEqual([1, 2, 3, 4]);
      expect(await walked({ sort: 'happened', kind: 'revoked' })).toEqual([2, 4]);
      expect(await walked({ sort: 'happened', kind: 'revoked,granted' })).toEqual([1, 2, 3, 4]);
      expect(await walked({ kind: 'revoked,granted' })).toEqual([4, 3, 2, 1]);
    });

    it('counts by week what was agreed to and confirmed, a late YES in the week of what it confirms', async () => {
      const weeks = async (): Promise<[string, number, number][]> =>
        ((await o.app.pages.list(o.business))[0]?.weeks ?? [])
          .filter((x) => x.agreed + x.confirmed > 0)
          .map((x) => [x.from, x.agreed, x.confirmed]);
      expect((await o.app.pages.list(o.business))[0]?.weeks.length).toBe(26);
      const monday = (await o.app.pages.list(o.business))[0]?.weeks.at(-1)?.from ?? '';
      const nextMonday = Date.parse(monday) + 7 * 24 * 3_600_000;
      await o.later(nextMonday - o.app.platform.clock.now() - 2 * 3_600_000);
      await join(ADA);
      await o.settle();
      expect(await weeks()).toEqual([[monday, 1, 0]]);
      await o.later(3 * 3_600_000);
      await o.text(ADA, 'YES');
      expect(await weeks()).toEqual([[monday, 1, 1]]);
      await join('+12015550164');
      expect(await weeks()).toEqual([
        [monday, 1, 1],
        [new Date(nextMonday).toISOString().slice(0, 10), 1, 0],
      ]);
    });

    it('refuses a bad number at the field and stores nothing', async () => {
      await expectAsync(join('911')).toBeRejectedWith(
        jasmine.objectContaining({ status: 422, fields: [jasmine.objectContaining({ field: 'phone' })] }),
      );
      await expectAsync(join(ADA, { purposes: ['informational'] })).toBeRejected();
      expect((await o.app.ledger.verify(o.business)).ok && (await o.app.ledgerPages.count(o.business, {})).total).toBe(
        0,
      );
    });

    it('files the words before the person’s eyes: changed ones are asked again, and nothing is stored', async () => {
      const { words } = await o.app.publicPages.publicPage('heron');
      const [before] = await o.app.pages.list(o.business);
      await o.app.pages.edit(o.admin, o.business, before?.id ?? '', before?.version ?? 0, {
        ...heronPage(o.number, page),
        purposes: [{ purpose: 'promotional', label: 'Text me news', frequency: 'daily' }],
      });
      await expectAsync(join(ADA, { words })).toBeRejectedWith(
        jasmine.objectContaining({ status: 409, code: 'words-changed' }),
      );
      expect((await o.app.ledgerPages.count(o.business, {})).total).toBe(0);
      await join(ADA);
      expect((await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA))[0]?.disclosure).toContain('daily');
    });

    it('changes nothing for the owner of a number whoever fills it in: one text a day, and out stays out', async () => {
      await o.contact(ADA, ['promotional']);
      await o.text(ADA, 'STOP');
      const asked = (): number => o.sentTo(ADA).filter((t) => t.includes('reply YES')).length;
      for (let i = 0; i < 3; i++) {
        await join(ADA);
        await o.later(30 * 60_000);
      }
      expect(asked()).toBe(1);
      expect((await o.state(ADA)).promotional).toBe('revoked');
      await expectAsync(join(ADA)).toBeRejectedWith(jasmine.objectContaining({ status: 429 }));
      // Their own YES to that text brings them back; without it they stay out, and START is open to them.
      await o.later(73 * HOUR);
      expect((await o.state(ADA)).promotional).toBe('revoked');
      await o.text(ADA, 'START');
      expect((await o.state(ADA)).promotional).toBe('granted');
    });

    it('asks once a day, also where several pages are filled in for several kinds of text', async () => {
      await o.app.pages.add(o.admin, o.business, heronPage(o.number, { slug: 'orders' }));
      await join(ADA);
      const { words } = await o.app.publicPages.publicPage('orders');
      const form = { phone: ADA, firstName: '', purposes: ['informational' as const], words };
      await o.app.publicPages.optIn('orders', form, evidence);
      await o.settle();
      expect(o.sentTo(ADA).filter((t) => t.includes('reply YES')).length).toBe(1);
    });

    it('is completed by YES only as the answer to its own text', async () => {
      await o.contact(ADA, ['informational']);
      await join(ADA);
      await o.settle();
      const d = await o.app.drafts.add(o.admin, o.business, await o.draft({ text: 'Shall we keep a loaf for you?' }));
      await o.app.sending.send(o.admin, o.business, d.id, d.version);
      await o.later(5_000);
      await o.text(ADA, 'Yes');
      expect((await o.state(ADA)).promotional)
        .withContext('they answered the loaf')
        .toBe('awaiting');
      const { items } = await o.app.reviews.list(o.business);
      expect(items.map((r) => [r.about, r.text])).toEqual([['yes', 'Yes']]);
      expect(items[0]?.before.map((t) => t.text).join(' ')).toContain('keep a loaf');
    });

    it('honours a STOP at once whose sender’s clock is ahead of ours', async () => {
      await o.contact(ADA, ['informational', 'promotional']);
      const to = await o.app.numbers.addressOf(o.app.platform.db, o.number);
      const seq = o.outside.told.length + 1;
      o.outside.told.push({ seq, at: o.now + 90_000, kind: 'text.inbound', key: 'early', from: ADA, to, text: 'STOP' });
      await o.settle();
      expect((await o.state(ADA)).promotional).toBe('revoked');
      expect((await o.app.inbox.thread(o.business, ADA)).messages.every((m) => m.at <= o.now))
        .withContext('nothing is told before it has happened')
        .toBeTrue();
    });

    it('counts from now what is said to be still to come', async () => {
      await o.contact(ADA, ['informational', 'promotional']);
      const { db } = o.app.platform;
      await db.write((w) =>
        o.app.ledger.append(w, o.business, [
          { e164: ADA, purposes: ['promotional'], kind: 'revoked', how: 'reply', happenedAt: o.now + 90_000 },
        ]),
      );
      expect((await o.state(ADA)).promotional).toBe('revoked');
      const kept = await db.one('SELECT consent_promotional AS c FROM contact_number WHERE e164 = $1', [ADA]);
      expect(kept).toEqual({ c: 'revoked' });
    });

    it('lets a person leave as often as they come back', async () => {
      await o.contact(ADA, ['informational', 'promotional']);
      for (let i = 0; i < 5; i++) {
        await o.app.publicPages.optOut('heron', ADA, evidence);
        expect((await o.state(ADA)).promotional).toBe('revoked');
        await o.text(ADA, 'START');
        expect((await o.state(ADA)).promotional).toBe('granted');
      }
      // From one place only so many leave a day: whoever else would is told what works all the same.
      for (let i = 0; i < 35; i++) await o.app.publicPages.optOut('heron', `+1212555${2000 + i}`, evidence);
      await expectAsync(o.app.publicPages.optOut('heron', ADA, evidence)).toBeRejectedWithError(
        /Text STOP to \+1 .*: that works at once/,
      );
    });

    it('lets anybody leave at once', async () => {
      await o.contact(ADA, ['informational', 'promotional']);
      await o.app.publicPages.optOut('heron', '(212) 555-0123', evidence);
      expect(await o.state(ADA)).toEqual({
        conversational: 'revoked',
        informational: 'revoked',
        promotional: 'revoked',
      });
      await expectAsync(o.app.publicPages.optOut('heron', '12', evidence)).toBeRejectedWith(
        jasmine.objectContaining({ status: 422 }),
      );
    });

    it('tells nobody whether a number has agreed', async () => {
      await o.contact(ADA, ['promotional']);
      const known = await join(ADA);
      const other = await join('+12125550124');
      expect({ ...known, shown: '' }).toEqual({ ...other, shown: '' });
    });
  });

  it('honours a STOP to a number that was ours within 90 days, filed under when it was written', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    const { db } = o.app.platform;
    const gone = (days: number): Promise<void> =>
      db.write((w) =>
        w.run(
          `INSERT INTO number (id, business_id, e164, state, ordered_at, active_at, released_at) VALUES ('num_old',$1,'+12015550150','released',0,0,$2) ON CONFLICT (id) DO UPDATE SET released_at = excluded.released_at`,
          [o.business, o.now - days * 24 * HOUR],
        ),
      );
    await gone(91);
    const stop = (key: string, at: number): void => {
      o.outside.told.push({
        seq: o.outside.told.length + 1,
        at,
        kind: 'text.inbound',
        key,
        from: ADA,
        to: '+12015550150',
        text: 'STOP',
      });
    };
    stop('late', o.now);
    await o.settle();
    expect((await o.state(ADA)).promotional).toBe('granted');
    await gone(89);
    const written = o.now - 10 * 60_000;
    // Their consent came before, in the order of when things happened.
    await db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: ADA, purposes: ['promotional'], kind: 'granted', how: 'paper form', happenedAt: written - 1000 },
      ]),
    );
    stop('in time', written);
    await o.settle();
    const events = await o.app.ledger.eventsOf(db, o.business, ADA);
    expect(events[events.length - 1]).toEqual(jasmine.objectContaining({ kind: 'revoked', happenedAt: written }));
    // Ten minutes late: no confirmation any more.
    expect(o.sentTo(ADA)).toEqual([]);
  });

  it('answers HELP three times an hour at most', async () => {
    await o.contact(ADA, []);
    for (let i = 0; i < 6; i++) await o.text(ADA, 'HELP');
    expect(o.sentTo(ADA).length).toBe(3);
    await o.later(HOUR + 1000);
    await o.text(ADA, 'HELP');
    expect(o.sentTo(ADA).length).toBe(4);
  });

  it('lets the decision of one review lift no hold that another needs, and offers alone be given up', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    await o.text(ADA, 'stop sending me offers');
    await o.text(ADA, 'stop sending me deals');
    const held = async (): Promise<number> =>
      (await o.app.preview.preview(o.business, await o.draft({ text: 'News.', purpose: 'promotional' }))).counts
        .posts[4]?.hold ?? 0;
    const reviews = async (): Promise<string[]> => (await o.app.reviews.list(o.business)).items.map((r) => r.id);
    expect((await reviews()).length).toBe(2);
    expect((await o.app.reviews.list(o.business)).items[0]?.dueBy)
      .withContext('the end of the tenth business day after Tuesday the 12th, in New York')
      .toBe(Date.parse('2030-03-27T03:59:59.999Z'));
    await o.app.replies.decide(o.admin, o.business, (await reviews())[0] ?? '', 'no wish');
    expect(await held()).toBe(1);
    await o.app.replies.decide(o.admin, o.business, (await reviews())[0] ?? '', 'offers');
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'granted', promotional: 'revoked' });
    expect(await o.app.reviews.list(o.business)).toEqual({ items: [], right: 1, decided: 2 });
  });

  it('verifies, names the first broken link, and rebuilds the state of now from the ledger', async () => {
    for (let i = 0; i < 6; i++) await o.contact(`+1212555010${i}`, ['informational']);
    await o.text('+12125550101', 'STOP');
    expect((await o.app.ledger.verify(o.business)).ok).toBe(true);
    expect(await o.app.ledger.rebuild(o.business, false)).toEqual(
      jasmine.objectContaining({ ok: true, differing: 0, keptStrict: 0 }),
    );
    const { db } = o.app.platform;
    await db.write((w) =>
      w.run(`UPDATE contact_number SET consent_promotional = 'granted' WHERE e164 = '+12125550101'`),
    );
    expect(await o.app.ledger.rebuild(o.business, true)).toEqual(
      jasmine.objectContaining({ ok: false, differing: 1, keptStrict: 0 }),
    );
    expect(await o.app.ledger.rebuild(o.business, false)).toEqual(
      jasmine.objectContaining({ ok: true, differing: 0, keptStrict: 0 }),
    );
    // Somebody with the file in hand changes the past.
    await db.write((w) => withoutGuard(w, 'consent_event', 'consent_event_no_update'));
    await db.write((w) => w.run(`UPDATE consent_event SET disclosure = 'other words' WHERE seq = 3`));
    expect(await o.app.ledger.verify(o.business)).toEqual(
      jasmine.objectContaining({ ok: false, brokenAt: 3, reason: 'content' }),
    );
  });

  it('shows an end that was cut off and a chain written anew, and never loosens by them', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    await o.contact('+12125550124', ['informational']);
    await o.text(ADA, 'STOP');
    const { db } = o.app.platform;
    // Once a day of scenario time the head is signed.
    await o.later(25 * HOUR);
    expect((await o.app.ledger.signedHeads(o.business)).heads.length).toBe(1);
    expect((await o.app.ledger.verify(o.business)).ok).toBe(true);
    // Somebody with the file in hand takes the STOP away, and the states with it.
    for (const t of ['consent_event_no_update', 'consent_event_no_delete'])
      await db.write((w) => withoutGuard(w, 'consent_event', t));
    await db.write((w) => w.run(`DELETE FROM consent_event WHERE kind = 'revoked'`));
    expect(await o.app.ledger.verify(o.business)).toEqual(jasmine.objectContaining({ ok: false, reason: 'tail' }));
    const rebuilt = await o.app.ledger.rebuild(o.business, true);
    expect([rebuilt.ok, rebuilt.keptStrict]).toEqual([false, 1]);
    const gate = (): Promise<{ s: string } | undefined> =>
      db.one(`SELECT consent_promotional AS s FROM contact_number WHERE e164 = $1`, [ADA]);
    expect((await gate())?.s).toBe('revoked');
    // Nor does the next event of theirs loosen it.
    await db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: ADA, purposes: ['promotional'], kind: 'granted', how: 'paper form' },
      ]),
    );
    expect((await gate())?.s).toBe('revoked');
    // What is short is not signed into being right, and a start says so.
    await o.app.ledger.signHeads(o.business);
    expect((await o.app.ledger.signedHeads(o.business)).heads.length).toBe(1);
    expect(await o.app.ledger.lookAtHeads([o.business])).toEqual([o.business]);
  });

  it('signs at an export where the ledger and the trail stand', async () => {
    await o.contact(ADA, ['promotional']);
    const { db, heads } = o.app.platform;
    await o.app.ledger.signHeads(o.business);
    const [ledger, trail] = [await o.app.ledger.signedHeads(o.business), await heads.of(AUDIT_CHAIN)];
    expect(ledger.heads.map((h) => h.count)).toEqual([1]);
    expect(trail.heads.map(({ count, head }) => ({ count, head }))).toEqual([await trailHead(db)]);
  });

  it('verifies an event that cannot be read as broken, where it stands', async () => {
    for (let i = 0; i < 3; i++) await o.contact(`+1212555010${i}`, ['informational']);
    const { db } = o.app.platform;
    await db.write((w) => withoutGuard(w, 'consent_event', 'consent_event_no_update'));
    await db.write((w) => w.run(`UPDATE consent_event SET evidence = '{broken' WHERE seq = 2`));
    expect(await o.app.ledger.verify(o.business)).toEqual(
      jasmine.objectContaining({ ok: false, brokenAt: 2, reason: 'unreadable' }),
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

  describe('a wish told in person', () => {
    const DAY = 86_400_000;
    const said = (saidOn: string) =>
      o.app.replies.recordWish(o.admin, o.business, {
        e164: ADA,
        purposes: [...PURPOSES],
        how: 'in person',
        saidOn,
        words: 'She asked us at the counter to leave her alone.',
      });
    const last = async () => (await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA)).at(-1);

    it('counts from the end of the day on which it was said, after whatever else was said that day', async () => {
      await o.later(10 * DAY);
      const today = DateTime.fromMillis(o.now, { zone: 'America/New_York' });
      await o.contact(ADA, ['informational', 'promotional']);
      const before = o.now;
      await said(today.toISODate() ?? '');
      expect((await last())?.how).toBe('in person');
      expect((await last())?.happenedAt).toBeGreaterThanOrEqual(before);
      expect((await last())?.happenedAt).toBeLessThanOrEqual(o.now);
      await o.later(DAY);
      await said(today.toISODate() ?? '');
      expect((await last())?.happenedAt).toBe(today.endOf('day').toMillis());
      expect((await last())?.evidence).toEqual({
        words: 'She asked us at the counter to leave her alone.',
        saidOn: today.toISODate() ?? '',
      });
      expect((await o.state(ADA)).informational).toBe('revoked');
    });

    it('is refused of a day to come, and of one after which they agreed: it would stop nothing', async () => {
      await o.contact(ADA, ['informational']);
      await expectAsync(said('2030-03-13')).toBeRejectedWithError(/still to come/);
      await expectAsync(said('2030-03-11')).toBeRejectedWithError(
        'They agreed anew on 12 Mar 2030, so what they said before would stop nothing. If they said no since, choose that day.',
      );
      expect((await o.state(ADA)).informational).toBe('granted');
      await said('2030-03-12');
      expect((await o.state(ADA)).informational).toBe('revoked');
    });
  });
});
