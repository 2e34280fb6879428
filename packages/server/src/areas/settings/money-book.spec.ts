import { Office } from '../../testing/office.js';

const DAY_MS = 86_400_000;

describe('the money of a business', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const spend = (amount: number): Promise<void> =>
    o.app.platform.db.write((w) => o.app.businesses.charge(w, o.business, amount, 'texts', 'dispatch', 'd1'));

  it('says how long the balance lasts and what next month costs, by kind', async () => {
    await o.app.platform.db.write((w) => w.run('UPDATE number SET monthly = 1300000'));
    await o.later(30 * DAY_MS);
    await spend(6_000_000);
    const outlook = await o.app.money.outlook(o.business);
    // 6.00 over 30 days, a number at 1.30 and a registered marketing campaign at 10.00 a month.
    expect(outlook.perDay).toBe(Math.round((6_000_000 + 1_300_000 + 10_000_000) / 30));
    expect(outlook.daysLeft).toBe(Math.floor((await balance()) / outlook.perDay));
    expect(outlook.nextMonth.map((l) => [l.kind, l.amount])).toEqual([
      ['local numbers', 1_300_000],
      ['campaigns', 10_000_000],
      ['texts', 6_000_000],
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

  it('holds an unpaid number for 14 days, and lets it go only then', async () => {
    const { numbers } = await o.buy(['+15515550101'], 'key-1');
    const id = numbers[0]?.id ?? '';
    await o.hear({ kind: 'order.filled', key: id, e164: '+15515550101' });
    const number = () => o.app.numbers.get(o.app.platform.db, o.business, id);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 0'));
    await o.later(30 * DAY_MS + 3_600_000);
    expect([(await number()).state, (await number()).note]).toEqual([
      'paused',
      jasmine.stringMatching(/held until 2030-04-2/),
    ]);
    await o.later(13 * DAY_MS);
    expect((await number()).state).toBe('paused');
    await o.later(2 * DAY_MS);
    expect((await number()).state).toBe('released');
  });
});
