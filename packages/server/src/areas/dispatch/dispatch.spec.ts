import { Office } from '../../testing/office.js';
import type { DispatchDraft } from './drafts.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

describe('dispatch', () => {
  let o: Office;
  const people = Array.from({ length: 12 }, (_, i) => `+1212555${String(100 + i).padStart(4, '0')}`);

  beforeEach(async () => {
    o = await Office.open();
    for (const [i, e164] of people.entries())
      await o.contact(e164, ['informational', 'promotional'], { firstName: i % 2 === 0 ? 'Ada' : '' });
  });
  afterEach(() => o.close());

  async function draft(over: Partial<DispatchDraft> = {}): Promise<{ id: string; version: number }> {
    return o.app.drafts.add(
      o.admin,
      o.business,
      await o.draft({ text: 'Rye bread is back.', purpose: 'promotional', ...over }),
    );
  }
  async function send(over: Partial<DispatchDraft> = {}): Promise<string> {
    const d = await draft(over);
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.settle();
    await o.later(60_000);
    return d.id;
  }
  const counts = async (id: string): Promise<Record<string, number>> => (await o.app.drafts.get(o.business, id)).counts;
  const state = async (id: string): Promise<string> => (await o.app.drafts.get(o.business, id)).state;

  it('lets go at once of what waits for a person who says STOP, also where it waits for tomorrow', async () => {
    // Ten in the evening in New York: everybody is held until morning.
    await o.later(10 * HOUR);
    const d = await draft();
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.settle();
    expect(await counts(d.id)).toEqual(jasmine.objectContaining({ held: 12 }));
    await o.text(people[3] ?? '', 'STOP');
    expect(await counts(d.id)).toEqual(jasmine.objectContaining({ held: 11, stopped: 1 }));
    const row = await o.app.platform.db.one<{ post: number; reason: string; hold_until: number | null }>(
      'SELECT post, reason, hold_until FROM message WHERE dispatch_id = $1 AND e164 = $2',
      [d.id, people[3]],
    );
    expect(row).toEqual({ post: 5, reason: 'opted-out', hold_until: null });
  });

  it('is listed as asked: by title whatever its capitals, by state, purpose or moment, page by page', async () => {
    await draft({ title: 'Rye' });
    await o.later(HOUR);
    await draft({ title: 'barley', purpose: 'informational' });
    await o.later(HOUR);
    await send({ title: 'Oats' });
    const walked = async (sort?: 'title' | '-title' | 'state' | 'sent' | 'purpose'): Promise<string> => {
      let seen = '';
      for (let cursor: string | undefined; ;) {
        const page = await o.app.drafts.page(o.business, { cursor, limit: 2, sort });
        expect(page.total).toBe(3);
        seen += page.items.map((d) => d.title[0]).join('');
        if (page.next === null) return seen;
        cursor = page.next;
      }
    };
    expect(await walked())
      .withContext('the newest first')
      .toBe('ObR');
    expect(await walked('sent')).toBe('RbO');
    expect(await walked('title')).toBe('bOR');
    expect(await walked('-title')).toBe('ROb');
    expect(await walked('state'))
      .withContext('done, draft, draft')
      .toBe('ObR');
    expect(await walked('purpose'))
      .withContext('informational, then promotional, the newest first')
      .toBe('bOR');
  });

  it('gives each recipient a text of their own, charged exactly', async () => {
    const before = (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
    const id = await send({ text: 'Hello [firstName|friend], rye bread is back.' });
    expect(o.outside.sent.length).toBe(12);
    expect(o.sentTo(people[0] ?? '')).toEqual(['Heron Lane: Hello Ada, rye bread is back. Reply STOP to end.']);
    expect(o.sentTo(people[1] ?? '')).toEqual(['Heron Lane: Hello friend, rye bread is back. Reply STOP to end.']);
    expect(before - (await o.app.businesses.row(o.app.platform.db, o.business)).balance).toBe(12 * 7_000);
    expect(await counts(id)).toEqual({ sent: 12 });
    expect(await state(id)).toBe('done');
  });

  it('is sent once however often it is asked, at once or later', async () => {
    const d = await draft();
    await Promise.all([1, 2, 3].map(() => o.app.sending.send(o.admin, o.business, d.id, d.version)));
    await o.later(60_000);
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.later(60_000);
    expect(o.outside.sent.length).toBe(12);
    expect(new Set(o.outside.sent.map((t) => t.key)).size).toBe(12);
  });

  it('keeps to the pace of the campaign', async () => {
    const d = await draft();
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    const begun = o.now;
    await o.settle();
    const left = (): number => o.outside.sent.length;
    // An unvetted brand: four segments a second, and no saving up. The wall's own time goes by as well.
    const permitted = (): number => Math.ceil(1 + (4 * (o.now - begun)) / 1000);
    expect(left()).toBeLessThanOrEqual(permitted());
    expect(left()).toBeLessThan(12);
    await o.later(1000);
    expect(left()).toBeLessThanOrEqual(permitted());
    await o.later(1500);
    expect(left()).toBeLessThanOrEqual(permitted());
    await o.later(1500);
    expect(left()).toBe(12);
  });

  it('takes receipts as they come: final ones stay, repeated ones count once, and numbers learn from them', async () => {
    const id = await send();
    const key = (i: number): string => o.outside.sent[i]?.key ?? '';
    await o.hear({ kind: 'text.delivered', key: key(0), carrier: 'Tessary Wireless' });
    await o.hear({ kind: 'text.delivered', key: key(0), carrier: 'Tessary Wireless' });
    await o.hear({
      kind: 'text.failed',
      key: key(0),
      carrier: 'Tessary Wireless',
      failure: 'filtered',
      code: '50',
      reason: 'Filtered.',
    });
    await o.hear({
      kind: 'text.failed',
      key: key(1),
      carrier: 'Tessary Wireless',
      failure: 'not-textable',
      code: '30',
      reason: 'No mobile at this number.',
    });
    expect(await counts(id)).toEqual({ delivered: 1, failed: 1, sent: 10 });
    const again = await o.app.preview.preview(
      o.business,
      await o.draft({ title: 'x', text: 'More.', purpose: 'promotional' }),
    );
    expect(again.counts.posts[2]?.stop).withContext('barred from texts').toBe(1);
    const watch = await o.app.watch.numbers(o.business, 30);
    expect(watch[0]?.delivered).toEqual(jasmine.objectContaining({ k: 1, n: 2 }));
  });

  it('holds outside the permitted hours and lets them follow by themselves when the hour comes', async () => {
    await o.later(11 * HOUR);
    const id = await send();
    expect(o.outside.sent.length).toBe(0);
    expect(await counts(id)).toEqual({ held: 12 });
    await o.later(9 * HOUR + 5 * 60_000);
    await o.later(60_000);
    expect(o.outside.sent.length).toBe(12);
    expect(await state(id)).toBe('done');
  });

  it('lets go after three days of whoever is still held', async () => {
    await o.app.platform.db.write((w) =>
      w.run(`UPDATE contact_number SET looked_up_at = NULL, textable = 'unknown' WHERE e164 = $1`, [people[3]]),
    );
    const id = await send();
    expect(await counts(id)).toEqual({ sent: 11, held: 1 });
    await o.later(3 * DAY + HOUR);
    expect(await counts(id)).toEqual({ sent: 11, stopped: 1 });
    expect(await state(id)).toBe('done');
  });

  it('lets one held for a lookup follow as soon as the lookup is there', async () => {
    await o.app.platform.db.write((w) =>
      w.run(`UPDATE contact_number SET looked_up_at = NULL, textable = 'unknown' WHERE e164 = $1`, [people[3]]),
    );
    const id = await send();
    await o.app.lookups.start(o.admin, o.business, {}, 'lookup-now');
    for (let i = 0; i < 20 && (await counts(id))['held']; i++) {
      await o.settle();
      await new Promise((r) => setTimeout(r, 120));
      await o.later(1000);
    }
    expect(await counts(id)).toEqual({ sent: 12 });
  });

  it('holds what the balance does not reach for, and never goes below nothing', async () => {
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 35000 WHERE id = $1', [o.business]));
    const id = await send();
    expect(o.outside.sent.length).toBe(5);
    expect(await counts(id)).toEqual({ sent: 5, held: 7 });
    expect((await o.app.businesses.row(o.app.platform.db, o.business)).balance).toBe(0);
    await o.app.businesses.topUp(o.admin, o.business, 10_000_000, 'more');
    for (let i = 0; i < 20 && (await counts(id))['held']; i++) {
      await new Promise((r) => setTimeout(r, 60));
      await o.later(5_000);
    }
    await o.later(60_000);
    expect(o.outside.sent.length).toBe(12);
  });

  it('caps solicitations at three in any 24 hours', async () => {
    for (let i = 0; i < 3; i++) await send({ title: `N${i}` });
    expect(o.outside.sent.length).toBe(36);
    const fourth = await send({ title: 'Fourth' });
    expect(await counts(fourth)).toEqual({ held: 12 });
    const notice = await send({ title: 'Notice', purpose: 'informational', text: 'We close at four today.' });
    expect(await counts(notice))
      .withContext('notices are no solicitations')
      .toEqual({ sent: 12 });
  });

  describe('of the fourth offer in 24 hours', () => {
    const offers = (e164: string): number => o.sentTo(e164).filter((t) => t.includes('loaf')).length;
    const ada = (): string => people[0] ?? '';
    const draft = (title: string) => o.draft({ title, purpose: 'promotional', text: `A loaf, ${title}.` });
    /** Written down and handed to the network together. */
    async function atOnce(...titles: string[]): Promise<void> {
      const { engine } = o.app.platform;
      const drafts = [];
      for (const title of titles) drafts.push(await o.app.drafts.add(o.admin, o.business, await draft(title)));
      for (const d of drafts) await o.app.sending.send(o.admin, o.business, d.id, d.version);
      await engine.drain();
      await o.later(20_000);
    }

    it('nothing leaves, also where four are judged at one moment', async () => {
      await atOnce('one', 'two', 'three', 'four');
      for (const e164 of people) expect(offers(e164)).withContext(e164).toBe(3);
    });

    it('nothing leaves sooner by the clock of a network that took the first some seconds later', async () => {
      const handed: number[] = [];
      o.outside.beforeSend = async (text) => {
        if (text.to !== ada()) return;
        // The first takes two seconds to get there, within which its verdict is good.
        if (handed.length === 0) await o.app.platform.clock.moveTo(o.now + 2_000);
        handed.push(o.now);
      };
      for (const title of ['one', 'two', 'three', 'four']) await atOnce(title);
      expect(handed.length).toBe(3);
      await o.later(25 * HOUR);
      const [first = 0, , , last = 0] = handed;
      expect([handed.length, last - first >= DAY]).toEqual([4, true]);
    });

    it('nothing leaves to another number of the same person', async () => {
      await atOnce('one', 'two', 'three');
      const { db } = o.app.platform;
      const id = (await o.app.contacts.names(db, o.business, [ada()])).get(ada())?.contactId ?? '';
      const other = '+16465550188';
      await o.contact(other, ['promotional'], { list: 'Elsewhere' });
      const gone = (await o.app.contacts.names(db, o.business, [other])).get(other)?.contactId ?? '';
      const version = async (c: string): Promise<number> => (await o.app.edits.detail(db, o.business, c)).version;
      const versions = { keptVersion: await version(id), goneVersion: await version(gone) };
      await o.app.merges.merge(o.admin, o.business, id, { with: gone, ...versions });
      await o.app.edits.preferNumber(o.admin, o.business, id, other);
      await atOnce('four');
      expect([offers(ada()), offers(other)]).toEqual([3, 0]);
      await o.later(25 * HOUR);
      expect(offers(other)).withContext('a day later').toBe(1);
    });

    it('nothing leaves to a number that was taken away and came again', async () => {
      await atOnce('one', 'two', 'three');
      const { db } = o.app.platform;
      const id = (await o.app.contacts.names(db, o.business, [ada()])).get(ada())?.contactId ?? '';
      await o.app.removals.delete(o.admin, o.business, { ids: [id], filter: null, seen: 1 }, 'gone-and-back');
      await o.settle();
      await o.contact(ada(), []);
      await atOnce('four');
      expect(offers(ada())).toBe(3);
    });
  });

  it('refuses what cannot be sent, and says what to mend', async () => {
    const refusal = async (over: Partial<DispatchDraft>): Promise<string> => {
      const d = await draft(over);
      return o.app.sending.send(o.admin, o.business, d.id, d.version).then(
        () => 'sent',
        (e: unknown) => (e as Error).message,
      );
    };
    expect(await refusal({ text: ' ' })).toContain('There is no text yet.');
    expect(await refusal({ text: 'Hi [firstName]' })).toContain('has no fallback');
    expect(await refusal({ purpose: null })).toContain('Name the purpose.');
    expect(await refusal({ numberId: null })).toContain('Choose the sending number.');
    expect(await refusal({ audience: { include: [], exclude: [] } })).toContain('Choose an audience.');
    await o.app.platform.db.write((w) => w.run(`UPDATE number SET tie_state = 'none', campaign_id = NULL`));
    expect(await refusal({})).toContain('our number is in no campaign');
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET account_state = 'restricted'`));
    expect(await refusal({})).toContain('account restricted');
    expect(o.outside.sent.length).toBe(0);
  });

  it('does not overwrite what somebody else changed meanwhile, nor edit what was sent', async () => {
    const d = await draft();
    const full = await o.draft({ title: 'Mine', text: 'Mine', purpose: 'promotional' });
    await o.app.drafts.save(o.admin, o.business, d.id, d.version, full);
    await expectAsync(
      o.app.drafts.save(o.admin, o.business, d.id, d.version, { ...full, text: 'Theirs' }),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
    const now = await o.app.drafts.get(o.business, d.id);
    await o.app.sending.send(o.admin, o.business, d.id, now.version);
    await expectAsync(o.app.drafts.save(o.admin, o.business, d.id, now.version + 1, full)).toBeRejectedWith(
      jasmine.objectContaining({ status: 409 }),
    );
  });

  it('answers a person within a day of their last word, through the gate, once for one key', async () => {
    const ada = people[0] ?? '';
    await o.text(ada, 'Do you have spelt bread?');
    const answer = (): Promise<unknown> =>
      o.app.inbox.answer(o.admin, o.business, ada, 'Yes, on Saturdays.', 'key-12345');
    await answer();
    await answer();
    await o.later(5_000);
    expect(o.sentTo(ada)).toEqual(['Yes, on Saturdays.']);
    await o.later(25 * HOUR);
    await expectAsync(o.app.inbox.answer(o.admin, o.business, ada, 'Too late', 'key-67890')).toBeRejectedWith(
      jasmine.objectContaining({ code: 'gate' }),
    );
    await o.text(ada, 'STOP');
    await expectAsync(o.app.inbox.answer(o.admin, o.business, ada, 'Why?', 'key-99999')).toBeRejectedWith(
      jasmine.objectContaining({ code: 'gate' }),
    );
  });

  it('sends nothing at all from a suspended account, and still records the opt-out', async () => {
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET account_state = 'suspended'`));
    await o.text(people[0] ?? '', 'STOP');
    expect((await o.state(people[0] ?? '')).promotional).toBe('revoked');
    expect(o.outside.sent.length).toBe(0);
  });

  it('is begun once for one key, whatever it is asked with again', async () => {
    const before = (await o.app.drafts.page(o.business, { limit: 50 })).total;
    const first = await o.app.drafts.add(o.admin, o.business, await o.draft({ title: 'Rye' }), 'sheet-0001');
    const again = await o.app.drafts.add(o.admin, o.business, await o.draft({ title: 'Rye is back' }), 'sheet-0001');
    expect([again.id, again.title]).toEqual([first.id, 'Rye']);
    expect((await o.app.drafts.page(o.business, { limit: 50 })).total).toBe(before + 1);
  });
});
