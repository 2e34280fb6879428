import { Office } from '../../testing/office.js';

const DAY_MS = 86_400_000;

describe('the money of a business', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const spend = (amount: number): Promise<unknown> =>
    o.app.platform.db.write((w) => o.app.businesses.charge(w, o.business, amount, 'texts', 'dispatch', 'd1'));

  it('says how long the balance lasts and what next month costs, by kind', async () => {
    await o.app.platform.db.write((w) => w.run('UPDATE number SET monthly = 1300000'));
    await o.later(30 * DAY_MS);
    await spend(6_000_000);
    const outlook = await o.app.money.outlook(o.business);
    // 6.00 over 30 days, a number at 1.30 and a registered marketing campaign at 10.00 a month.
    expect(outlook.perDay).toBe(Math.round((6_000_000 + 1_300_000 + 10_000_000) / 30));
    // The campaign's fee stands due at once and again a month on; use goes on day by day.
    expect(outlook.daysLeft).toBeGreaterThan(0);
    expect(outlook.nextMonth.map((l) => [l.kind, l.amount])).toEqual([
      ['local numbers', 1_300_000],
      ['campaigns', 10_000_000],
      ['texts', 6_000_000],
    ]);
  });

  it('writes money on the trail as money, whoever moves it', async () => {
    await o.app.businesses.topUp(o.admin, o.business, 12_500_000, 'top-up-one');
    await spend(await balance());
    const told = await o.app.platform.db.all<{ action: string; after: string }>(
      `SELECT action, "after" FROM audit WHERE action LIKE 'topped up%' ORDER BY n`,
    );
    expect(told.map((x) => [x.action, JSON.parse(x.after) as unknown])).toContain([
      'topped up 12.50',
      { amount: '12.50' },
    ]);
  });

  it('tops up once for one wish, and takes nothing that is not there, with words that say how much is missing', async () => {
    const before = await balance();
    for (let i = 0; i < 3; i++) await o.app.businesses.topUp(o.admin, o.business, 5_000_000, 'wish-of-mine');
    expect((await balance()) - before).toBe(5_000_000);
    const have = await balance();
    await expectAsync(spend(have + 1_500_000)).toBeRejectedWithError(/1\.50 is missing\. Top up first/);
    expect(await balance()).toBe(have);
    await spend(have);
    expect(await balance()).toBe(0);
  });

  it('has no number of days where nothing is spent', async () => {
    await o.app.platform.db.write((w) => w.run(`UPDATE campaign SET state = 'draft'`));
    expect((await o.app.money.outlook(o.business)).daysLeft).toBeNull();
  });

  it('tops up by itself below the limit, before a charge would fail, and at most three times in a day', async () => {
    await expectAsync(o.app.money.setAuto(o.admin, o.business, 20_000_000, 5_000_000)).toBeRejectedWithError(
      /at least as large/,
    );
    await o.app.money.setAuto(o.admin, o.business, 20_000_000, 40_000_000);
    await spend(31_000_000);
    expect(await balance())
      .withContext('50 less 31, then 40 more')
      .toBe(59_000_000);
    await spend(70_000_000);
    expect(await balance())
      .withContext('40 more first')
      .toBe(29_000_000);
    await spend(25_000_000);
    expect(await balance()).toBe(44_000_000);
    await expectAsync(spend(60_000_000))
      .withContext('a fourth time in a day')
      .toBeRejectedWithError(/Top up first/);
    await o.later(DAY_MS + 1000);
    await spend(60_000_000);
    expect(await balance()).toBe(24_000_000);
    await o.app.money.setAuto(o.admin, o.business, 0, 0);
    await spend(20_000_000);
    expect(await balance()).toBe(4_000_000);
    const sum = await o.app.platform.db.one<{ n: number }>('SELECT sum(amount) AS n FROM money_entry');
    expect(sum?.n).toBe(4_000_000);
  });

  it('makes a statement of a month that begins and ends with the balance, and is harmless to a spreadsheet', async () => {
    await o.app.platform.db.write((w) =>
      o.app.businesses.charge(w, o.business, 1_500_000, '=HYPERLINK("x")', 'dispatch', 'd1'),
    );
    const lines = (await o.app.money.csv(o.business, '2030-03')).trim().split('\n');
    expect(lines[1]).toContain('opening balance,,0.00');
    expect(lines.at(-1)).toContain('closing balance,,48.50');
    expect(lines.some((l) => l.includes(`"'=HYPERLINK(""x"")"`))).toBeTrue();
    expect((await o.app.money.csv(o.business, '2030-04')).split('\n')[1]).toContain('48.50');
    expect((await o.app.money.pdf(o.business, '2030-03')).subarray(0, 5).toString()).toBe('%PDF-');
  });

  const add = (amount: number, to: string): Promise<unknown> =>
    o.app.platform.db.write((w) => o.app.businesses.charge(w, o.business, amount, 'texts', 'dispatch', to, to));

  it('keeps a statement in which every balance follows from the one before, whatever charges of a day go on', async () => {
    await add(10_000_000, 'mon_a');
    await o.later(60_000);
    await add(3_000_000, 'mon_b');
    await o.later(60_000);
    await add(36_000_000, 'mon_a');
    await o.later(60_000);
    await o.app.businesses.topUp(o.admin, o.business, 30_000_000, 'more');
    await add(29_000_000, 'mon_a');
    await add(1_000_000, 'mon_b');
    await o.later(DAY_MS);
    await o.app.businesses.topUp(o.admin, o.business, 5_000_000, 'still-more');
    await add(2_000_000, 'mon_b');
    await o.app.platform.db.write((w) =>
      o.app.businesses.book(w, o.business, 500_000, 'texts', 'dispatch', 'mon_a', 'mon_a'),
    );
    const items = [];
    for (let cursor: string | undefined, more = true; more;) {
      const page = await o.app.money.page(o.business, { cursor, limit: 2 });
      items.push(...page.items);
      cursor = page.next ?? undefined;
      more = page.next !== null;
    }
    let running = 0;
    for (const e of items.reverse()) {
      running += e.amount;
      expect(e.balanceAfter).withContext(`after ${e.what} of ${e.amount}`).toBe(running);
      expect(running).withContext('what was spent had been there').toBeGreaterThanOrEqual(0);
    }
    expect(running).toBe(await balance());
    const at = items.map((e) => e.at);
    expect(at).toEqual([...at].sort((a, b) => a - b));
    // One entry for all that follows on a day, another where money came in between or the day is over.
    expect(items.map((e) => e.amount / 1_000_000)).toEqual([50, -46, -3, 30, -29, -1, 5, -2, 0.5]);
  });

  it('changes nothing any more of a month that is over, where charges that were begun in it go on', async () => {
    // Half past eight in the evening of 31 March in New York: in Greenwich it is April.
    await o.app.platform.clock.moveTo(Date.UTC(2030, 3, 1, 0, 30));
    await add(10_000_000, 'mon_a');
    await o.app.platform.clock.moveTo(Date.UTC(2030, 3, 1, 4, 30));
    const march = await o.app.money.csv(o.business, '2030-03');
    expect(march.trim().split('\n').at(-1)).toContain('closing balance,,40.00');
    await add(7_000_000, 'mon_a');
    expect(await o.app.money.csv(o.business, '2030-03')).toBe(march);
    const april = (await o.app.money.csv(o.business, '2030-04')).trim().split('\n');
    expect([april[1], april.at(-1)]).toEqual([
      jasmine.stringContaining('opening balance,,40.00'),
      jasmine.stringContaining('closing balance,,33.00'),
    ]);
  });

  it('holds an unpaid number for 14 days, and lets it go only then', async () => {
    // Nine in the evening of 12 March in New York: it is another day in Greenwich.
    await o.later(9 * 3_600_000);
    const { numbers } = await o.buy(['+15515550101'], 'key-1');
    const id = numbers[0]?.id ?? '';
    await o.hear({ kind: 'order.filled', key: id, e164: '+15515550101' });
    const number = () => o.app.numbers.get(o.app.platform.db, o.business, id);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 0'));
    await o.later(31 * DAY_MS + 3_600_000);
    expect([(await number()).state, (await number()).note]).toEqual([
      'paused',
      jasmine.stringMatching(/held until 2030-04-26, then lost/),
    ]);
    await o.later(13 * DAY_MS);
    expect((await number()).state).toBe('paused');
    expect(o.outside.givenBack).toEqual([]);
    await o.later(2 * DAY_MS);
    expect((await number()).state).toBe('released');
    expect(o.outside.givenBack).withContext('the exchange may sell it to somebody else').toEqual(['+15515550101']);
  });

  it('takes the fee of a campaign on the same day of each month, holds what is unpaid for 14 days, and says so on Today', async () => {
    const set = (sql: string) => o.app.platform.db.write((w) => w.run(sql));
    await o.app.platform.clock.moveTo(Date.UTC(2031, 0, 31, 17));
    await set(`UPDATE business SET time_zone = 'America/New_York'`);
    await set(`UPDATE campaign SET decided_at = ${o.now}, next_fee_at = ${o.now}`);
    await o.app.platform.db.write((w) =>
      o.app.fees.begin(w, { kind: 'campaign', businessId: o.business, id: o.campaign }),
    );
    const days = async () =>
      (
        await o.app.platform.db.all<{ at: number }>(
          `SELECT at FROM money_entry WHERE what LIKE 'campaign%' ORDER BY at`,
        )
      ).map((e) => new Date(e.at).toISOString().slice(0, 10));
    await o.later(95 * DAY_MS);
    expect(await days()).toEqual(['2031-01-31', '2031-02-28', '2031-03-31', '2031-04-30']);
    await set('UPDATE business SET balance = 0');
    await o.later(25 * DAY_MS);
    const unpaid = (await o.app.today.get(o.business)).matters.find((m) => m.title.includes('is unpaid'));
    expect(unpaid?.title).toBe('The monthly fee of campaign News is unpaid');
    expect(Math.round(((unpaid?.due ?? 0) - o.now) / DAY_MS)).toBe(14);
    await o.app.businesses.topUp(o.admin, o.business, 20_000_000, 'again');
    await o.later(2 * 3_600_000);
    expect((await days()).length)
      .withContext('tried again every hour')
      .toBe(5);
    await set('UPDATE business SET balance = 0');
    await o.later(46 * DAY_MS);
    const campaign = await o.app.registration.campaigns.one(o.business, o.campaign);
    expect([campaign.state, campaign.reasons[0]?.code]).toEqual(['declined', 'fee-unpaid']);
  });

  it('writes statements in the business’s zone as everywhere, with numbers a spreadsheet can add', async () => {
    await spend(5_500);
    const month = new Date(o.now).toISOString().slice(0, 7);
    const file = await o.app.money.csv(o.business, month);
    expect(file).toContain('"12 Mar 2030, 12:00",texts,-0.0055,49.9945');
    expect(file).not.toMatch(/\d{4}-\d{2}-\d{2}T/);
  });
});
