import { DateTime } from 'luxon';
import { Office } from '../../testing/office.js';

const HOUR_MS = 3_600_000;
const NY = 'America/New_York';

describe('sending later', () => {
  let o: Office;
  const EAST = '+12125550123';
  const WEST = '+12135550124';
  beforeEach(async () => {
    o = await Office.open();
    await o.contact(EAST, ['informational']);
  });
  afterEach(() => o.close());

  const local = (ms: number): string => DateTime.fromMillis(ms, { zone: NY }).toFormat("yyyy-LL-dd'T'HH:mm");
  const get = (id: string) => o.app.drafts.get(o.business, id);
  async function scheduled(
    when: { local: string; zone?: 'business' | 'own' },
    confirmed = { reach: 1, cost: 7_000 },
  ): Promise<string> {
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft());
    await o.app.scheduling.schedule(o.admin, o.business, d.id, d.version, { zone: 'business', ...when }, confirmed);
    return d.id;
  }
  /** The texts of the dispatch that reached a phone; its first text says who it is. */
  const got = (e164: string): number => o.sentTo(e164).length;

  it('leaves at its time in the business’s zone and not before, once', async () => {
    const id = await scheduled({ local: local(o.now + 3 * HOUR_MS) });
    const before = await get(id);
    expect([before.state, before.schedule?.by, before.schedule?.held]).toEqual(['scheduled', 'Wren Holloway', '']);
    await o.later(2 * HOUR_MS);
    expect(got(EAST)).toBe(0);
    await o.later(HOUR_MS + 60_000);
    expect(got(EAST)).toBe(1);
    const after = await get(id);
    expect([after.state, after.schedule]).toEqual(['done', null]);
  });

  it('survives a restart, also one over its time, and sends once', async () => {
    const id = await scheduled({ local: local(o.now + HOUR_MS) });
    await o.again();
    await o.later(HOUR_MS + 60_000);
    await o.again();
    await o.settle();
    expect(got(EAST)).toBe(1);
    expect((await get(id)).state).toBe('done');
  });

  it('is at the same time on the clock on the day it changes', async () => {
    // 13 March 2032 is a Saturday; clocks go forward in the night to Sunday the 14th.
    await o.app.platform.clock.moveTo(Date.UTC(2032, 2, 13, 17));
    const id = await scheduled({ local: '2032-03-14T13:00' });
    expect(new Date((await get(id)).schedule?.at ?? 0).toISOString()).toBe('2032-03-14T17:00:00.000Z');
    const day = await scheduled({ local: '2032-03-13T13:00' });
    expect(new Date((await get(day)).schedule?.at ?? 0).toISOString()).toBe('2032-03-13T18:00:00.000Z');
  });

  it('comes at the chosen time where each recipient is', async () => {
    await o.contact(WEST, ['informational']);
    const id = await scheduled({ local: local(o.now + 2 * HOUR_MS), zone: 'own' }, { reach: 2, cost: 14_000 });
    await o.later(2 * HOUR_MS + 60_000);
    expect([got(EAST), got(WEST)]).toEqual([1, 0]);
    const { items } = await o.app.platform.db
      .all<{ reason: string }>(`SELECT reason FROM message WHERE dispatch_id = $1 AND state = 'held'`, [id])
      .then((rows) => ({ items: rows.map((r) => r.reason) }));
    expect(items).toEqual(['chosen-time']);
    await o.later(3 * HOUR_MS);
    expect([got(EAST), got(WEST)]).toEqual([1, 1]);
    expect((await get(id)).state).toBe('done');
  });

  it('can be changed or called off until it begins, and is edited only as a draft', async () => {
    const id = await scheduled({ local: local(o.now + HOUR_MS) });
    const now = await get(id);
    const edit = o.app.drafts.save(o.admin, o.business, id, now.version, await o.draft({ text: 'Other.' }));
    await expectAsync(edit).toBeRejectedWithError(/Call it off first/);
    await expectAsync(o.app.drafts.remove(o.admin, o.business, id)).toBeRejectedWithError(/Call it off first/);
    const later = { local: local(o.now + 5 * HOUR_MS), zone: 'business' as const };
    await o.app.scheduling.schedule(o.admin, o.business, id, now.version, later, { reach: 1, cost: 7_000 });
    await o.later(2 * HOUR_MS);
    expect(got(EAST)).withContext('the earlier time counts for nothing').toBe(0);
    await o.app.scheduling.callOff(o.admin, o.business, id);
    await o.app.scheduling.callOff(o.admin, o.business, id);
    await o.later(10 * HOUR_MS);
    expect([got(EAST), (await get(id)).state]).toEqual([0, 'draft']);
  });

  it('takes no time that has passed, none beyond a year, and nothing that could not be sent', async () => {
    await expectAsync(scheduled({ local: local(o.now - HOUR_MS) })).toBeRejectedWithError(/has passed/);
    await expectAsync(scheduled({ local: local(o.now + 400 * 24 * HOUR_MS) })).toBeRejectedWithError(/a year ahead/);
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft({ purpose: null }));
    const when = { local: local(o.now + HOUR_MS), zone: 'business' as const };
    await expectAsync(
      o.app.scheduling.schedule(o.admin, o.business, d.id, d.version, when, { reach: 1, cost: 7_000 }),
    ).toBeRejectedWithError(/Name the purpose/);
    await expectAsync(
      o.app.scheduling.schedule(o.admin, o.business, d.id, d.version - 1, when, { reach: 1, cost: 7_000 }),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
  });

  const heldWords = async (id: string): Promise<string> => (await get(id)).schedule?.held ?? '';
  const onToday = async () =>
    (await o.app.today.get(o.business)).matters.find((m) => m.title.startsWith('Held, and asks'));

  it('is held and asks where more than 2% and 20 people would come to what was confirmed, and tells the difference', async () => {
    const id = await scheduled({ local: local(o.now + HOUR_MS) }, { reach: 1, cost: 7_000 });
    for (let i = 0; i < 21; i++) await o.contact(`+121255501${String(30 + i)}`, ['informational']);
    await o.later(HOUR_MS + 60_000);
    expect(await heldWords(id)).toBe('It would reach 22 people, 21 more than the 1 that were confirmed.');
    expect(got(EAST)).toBe(0);
    expect((await onToday())?.weight).toBe('stop');
    await o.app.sending.send(o.admin, o.business, id, (await get(id)).version);
    await o.settle();
    expect(got(EAST)).withContext('once somebody says so').toBe(1);
    expect(await onToday()).toBeUndefined();
  });

  it('goes where twenty came to it, and resolves its audience anew', async () => {
    const id = await scheduled({ local: local(o.now + HOUR_MS) });
    for (let i = 0; i < 20; i++) await o.contact(`+121255501${String(30 + i)}`, ['informational']);
    await o.later(HOUR_MS + 60_000);
    expect((await get(id)).schedule).toBeNull();
    expect(got('+12125550130')).toBe(1);
  });

  it('holds itself where it could no longer go: number lost, campaign off, balance short, or too late', async () => {
    const set = (sql: string) => o.app.platform.db.write((w) => w.run(sql));
    const due = () => o.later(HOUR_MS + 60_000);
    const lost = await scheduled({ local: local(o.now + HOUR_MS) });
    await set(`UPDATE number SET campaign_id = NULL, tie_state = 'none'`);
    await due();
    expect(await heldWords(lost)).toContain('our number is in no campaign');
    await set(`UPDATE number SET campaign_id = '${o.campaign}', tie_state = 'attached'`);

    const declined = await scheduled({ local: local(o.now + HOUR_MS) });
    await set(`UPDATE campaign SET state = 'declined'`);
    await due();
    expect(await heldWords(declined)).toContain('registration declined');
    await set(`UPDATE campaign SET state = 'registered'`);

    const poor = await scheduled({ local: local(o.now + HOUR_MS) });
    await set('UPDATE business SET balance = 0');
    await due();
    expect(await heldWords(poor)).toContain('The balance of 0.00 does not reach');
    await set('UPDATE business SET balance = 50000000');

    const missed = await scheduled({ local: local(o.now + HOUR_MS) });
    await o.app.platform.clock.moveTo(o.now + 8 * HOUR_MS);
    await o.settle();
    expect(await heldWords(missed)).toContain('Nothing was running at the time that was chosen');
    expect(got(EAST)).toBe(0);
  });

  it('shows beforehand whom a time would hold and until when, and a better time', async () => {
    await o.contact(WEST, ['informational']);
    const d = await o.draft();
    // 08:30 in New York is 05:30 in Los Angeles.
    const early = await o.app.preview.preview(o.business, d, { local: '2030-03-13T08:30', zone: 'business' });
    expect(early.later?.held).toBe(1);
    expect(new Date(early.later?.heldUntil ?? 0).toISOString()).toBe('2030-03-13T15:00:00.000Z');
    expect(early.later?.better).toEqual({
      at: Date.UTC(2030, 2, 13, 15),
      local: '2030-03-13T11:00',
      held: 0,
    });
    expect([early.reach, early.costAtMost]).toEqual([2, 14_000]);
    const own = await o.app.preview.preview(o.business, d, { local: '2030-03-13T08:30', zone: 'own' });
    expect([own.later?.held, own.later?.better]).toEqual([0, null]);
    const night = await o.app.preview.preview(o.business, d, { local: '2030-03-13T23:00', zone: 'own' });
    expect([night.later?.held, night.later?.better?.local]).toEqual([2, '2030-03-14T08:00']);
  });

  it('counts drafts, scheduled, under way, sent and archived, and groups by what colleagues wrote', async () => {
    await scheduled({ local: local(o.now + 30 * HOUR_MS) });
    const draft = await o.app.drafts.add(o.admin, o.business, await o.draft({ category: 'Fares', effort: 'Summer' }));
    const sent = await o.app.drafts.add(o.admin, o.business, await o.draft({ title: 'Sent' }));
    await o.app.sending.send(o.admin, o.business, sent.id, sent.version);
    await o.settle();
    const { shows, categories, efforts } = await o.app.drafts.counts(o.business);
    expect(shows).toEqual({ drafts: 1, scheduled: 1, 'under way': 0, sent: 1, archived: 0 });
    expect([categories, efforts]).toEqual([[{ value: 'Fares', n: 1 }], [{ value: 'Summer', n: 1 }]]);
    await expectAsync(o.app.drafts.archive(o.admin, o.business, draft.id, true)).toBeRejectedWithError(
      /once it is done/,
    );
    await o.app.drafts.archive(o.admin, o.business, sent.id, true);
    const titles = async (show?: 'archived' | 'drafts') =>
      (await o.app.drafts.page(o.business, { limit: 10, show })).items.map((d) => d.title);
    expect(await titles('archived')).toEqual(['Sent']);
    expect(await titles()).not.toContain('Sent');
    expect((await o.app.drafts.page(o.business, { limit: 10, effort: 'Summer' })).total).toBe(1);
    const copy = await o.app.drafts.copy(o.admin, o.business, sent.id);
    const again = await o.app.drafts.copy(o.admin, o.business, copy.id);
    expect([copy.title, again.title, copy.state, copy.text]).toEqual([
      'Follow-up: Sent',
      'Follow-up: Sent',
      'draft',
      'The rye loaf is back.',
    ]);
  });

  it('stands in the calendar by day, with what was sent, and in its file', async () => {
    const id = await scheduled({ local: '2030-03-14T10:00' });
    const items = await o.app.dispatchCalendar.between(o.business, '2030-03-14', '2030-03-14');
    expect(items.map((i) => [i.id, i.state, i.people])).toEqual([[id, 'scheduled', 1]]);
    expect(await o.app.dispatchCalendar.between(o.business, '2030-03-15', '2030-03-31')).toEqual([]);
    const file = await o.app.dispatchCalendar.file(o.business);
    expect(file).toContain('DTSTART:20300314T140000Z');
    expect(file).toContain('SUMMARY:News');
  });
});
