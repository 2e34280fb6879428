import { EMPTY_TOLL_FREE } from '@long-gate/contracts';
import { Office } from '../testing/office.js';
import { keepRules, stoodAt } from './stood-store.js';

describe('what stood on a day', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const stood = async (at: number, kind: string, fact: string): Promise<(string | null)[]> =>
    (await stoodAt(o.app.platform.db, o.business, at))
      .filter((s) => s.objectKind === kind && s.fact === fact)
      .map((s) => s.value);

  it('is known of settings, ties, filings and the account, however they changed since', async () => {
    const before = o.now;
    expect(await stood(before, 'business', 'texts_off')).toEqual(['0']);
    expect(await stood(before, 'number', 'tie_state')).toEqual(['attached']);
    await o.later(3_600_000);
    await o.app.businesses.switchTexts(o.admin, o.business, true);
    await o.app.ties.tie(o.admin, o.business, o.number, null);
    await o.later(3_600_000);
    await o.app.businesses.switchTexts(o.admin, o.business, false);
    const after = o.now;
    expect([
      await stood(before, 'business', 'texts_off'),
      await stood(before + 3_600_000 + 60_000, 'business', 'texts_off'),
      await stood(after + 1, 'business', 'texts_off'),
    ]).toEqual([['0'], ['1'], ['0']]);
    expect([await stood(before, 'number', 'campaign_id'), await stood(after, 'number', 'campaign_id')]).toEqual([
      [o.campaign],
      [null],
    ]);
    expect(JSON.parse((await stood(after, 'campaign', 'body'))[0] ?? '{}')).toEqual(
      jasmine.objectContaining({ useCase: 'marketing' }),
    );
  });

  it('is known of suspensions, of the year a campaign stands for, and of a toll-free number’s verification', async () => {
    const { db } = o.app.platform;
    const until = o.now + 1_000_000;
    await db.write(async (w) => {
      await w.run('UPDATE campaign SET renews_at = $1 WHERE id = $2', [until, o.campaign]);
      await w.run(
        `INSERT INTO number (id, business_id, e164, kind, state, ordered_at, active_at) VALUES ('num_free',$1,'+18005550199','toll-free','active',0,0)`,
        [o.business],
      );
    });
    await o.app.registration.tollFree.save(o.admin, o.business, 'num_free', null, {
      ...EMPTY_TOLL_FREE,
      useCase: 'customer-care',
    });
    const before = o.now;
    await o.later(60_000);
    await o.hear({ kind: 'campaign.suspended', key: `${o.campaign}:1`, reasons: [] });
    await db.write((w) => w.run(`UPDATE toll_free_verification SET state = 'registered'`));
    await o.later(60_000);
    expect([await stood(before, 'campaign', 'halt'), await stood(o.now, 'campaign', 'halt')]).toEqual([
      [''],
      ['suspended'],
    ]);
    expect(await stood(o.now, 'campaign', 'renews_at')).toEqual([String(until)]);
    const kind = 'toll_free_verification';
    expect([await stood(before, kind, 'state'), await stood(o.now, kind, 'state')]).toEqual([
      ['draft'],
      ['registered'],
    ]);
    expect(JSON.parse((await stood(o.now, kind, 'body'))[0] ?? '{}')).toEqual(
      jasmine.objectContaining({ useCase: 'customer-care' }),
    );
  });

  it('says one thing of each at every moment, and nothing of before there was one', async () => {
    for (let i = 0; i < 6; i++) {
      await o.app.businesses.switchTexts(o.admin, o.business, i % 2 === 0);
      await o.later(60_000);
    }
    for (let at = o.now - 350_000; at <= o.now; at += 13_000)
      expect((await stood(at, 'business', 'texts_off')).length)
        .withContext(String(at))
        .toBe(1);
    expect(await stoodAt(o.app.platform.db, o.business, -1)).toEqual([]);
    // What is done all day long and says nothing of what may be sent leaves no trace there.
    const { db } = o.app.platform;
    const count = async () => (await db.all('SELECT id FROM stood')).length;
    const then = await count();
    await o.app.businesses.topUp(o.admin, o.business, 1_000_000, 'more');
    await db.write((w) => o.app.numbers.noteUsed(w, o.number));
    expect(await count()).toBe(then);
  });

  it('says by which rules was judged, before and after they changed, and keeps nothing anew where they did not', async () => {
    const { db } = o.app.platform;
    const hours = async (at: number) => (await stood(at, 'rules', 'hours'))[0] ?? '';
    const count = async () => (await db.all('SELECT id FROM stood')).length;
    const before = o.now;
    expect(JSON.parse(await hours(before))).toEqual(
      jasmine.objectContaining({ DEFAULT_HOURS: jasmine.objectContaining({ federal: jasmine.anything() }) }),
    );
    const then = await count();
    await keepRules(db, o.now);
    expect(await count()).toBe(then);
    await o.later(60_000);
    await keepRules(db, o.now, { hours: '"never"' });
    await o.later(60_000);
    expect(await hours(o.now)).toBe('"never"');
    expect(await hours(before)).toContain('47 CFR 64.1200');
    // What is no longer one of the rules stands no more, and is not forgotten.
    expect([
      (await stood(o.now, 'rules', 'countries')).length,
      (await stood(before, 'rules', 'countries')).length,
    ]).toEqual([0, 1]);
  });
});
