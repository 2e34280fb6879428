import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { MoneySettings } from './money';

const outlook = {
  balance: 12_000_000,
  perDay: 1_000_000,
  daysLeft: 12,
  nextMonth: [{ kind: 'local numbers', count: 5, amount: 6_500_000 }],
  total: 6_500_000,
  autoBelow: 0,
  autoAmount: 0,
};
const entry = (id: string, over: object = {}) => ({
  id,
  at: Date.parse('2027-03-11T18:41:00Z'),
  amount: -1_300_000,
  what: 'number +1 551-555-0160: monthly fee',
  objectKind: 'number',
  objectId: 'num_1',
  balanceAfter: 12_000_000,
  ...over,
});

describe('the balance', () => {
  let p: OpenPage;
  const open = async (role = 'administrator', over: object = {}, at = '/page', now?: string): Promise<void> => {
    p = await openPage(
      MoneySettings,
      {
        'money.outlook': outlook,
        'money.list': {
          items: [entry('a'), entry('b', { amount: 5_000_000, what: 'topped up', objectKind: '' })],
          next: null,
          total: 2,
        },
        'money.topUp': { id: 'biz_1' },
        'money.auto': outlook,
        ...over,
      },
      { role, at, ...(now ? { now } : {}) },
    );
  };
  afterEach(() => closePage(p));

  it('says how long it lasts, what next month costs, and what caused each charge', async () => {
    await open();
    expect(p.text()).toContain('12 days left');
    expect(p.text()).toContain('local numbers (5)');
    const link = p.host.querySelector<HTMLAnchorElement>('td a');
    expect(link?.getAttribute('href')).toBe('/b/biz_1/numbers?open=num_1');
    expect(p.text()).toContain('+5.00');
  });

  it('opens the statement of the month it is where the business is', async () => {
    await open('administrator', {}, '/page', '2027-04-01T02:30:00Z');
    const file = p.host.querySelector<HTMLAnchorElement>('a[download]')?.getAttribute('href') ?? '';
    expect(file).toContain('month=2027-03');
  });

  it('is filled with what is missing where somebody came for that, and leads back once it is there', async () => {
    await open('administrator', {}, '/page?amount=1.31&back=numbers%2Facquire%3Fwhere%3D551');
    expect(p.host.querySelector<HTMLInputElement>('#amount')?.value).toBe('1.31');
    p.yes = false;
    await p.press('Top up…');
    expect(p.url()).toContain('/page');
    p.yes = true;
    await p.press('Top up…');
    expect(p.api.of('money.topUp').map((a) => a.body)).toEqual([{ amount: 1_310_000 }]);
    expect(p.url()).toBe('/b/biz_1/numbers/acquire?where=551');
  });

  it('takes what is no amount for none, in words, and asks nothing of the server', async () => {
    await open();
    await p.fill('amount', '12,x');
    await p.press('Top up…');
    expect(p.host.querySelector('[role=alert]')?.textContent?.trim()).toBe(
      '“12,x” is not an amount; write it like 25 or 25.50.',
    );
    expect(document.activeElement?.id).toBe('amount');
    await p.fill('amount', '0.50');
    expect(p.host.querySelector('[role=alert]')?.textContent?.trim()).toBe('A top-up is at least 1.00.');
    expect(p.api.of('money.topUp')).toEqual([]);
  });

  it('tops up once that is said, by what the question named', async () => {
    await open();
    await p.fill('amount', '250');
    p.yes = false;
    await p.press('Top up…');
    expect(p.questions[0]?.title).toBe('Top up 250.00?');
    expect(p.api.of('money.topUp')).toEqual([]);
    p.yes = true;
    await p.press('Top up…');
    expect(p.api.of('money.topUp').map((a) => a.body)).toEqual([{ amount: 250_000_000 }]);
    expect(p.host.querySelector<HTMLInputElement>('#amount')?.value).toBe('');
  });

  it('tops up by itself from a limit on, and never where none is given', async () => {
    await open();
    await p.fill('below', '20');
    await p.fill('autoAmount', '100');
    await p.press('Set');
    expect(p.questions[0]?.line).toContain('Whenever the balance falls below 20.00, 100.00 are added');
    await p.fill('below', '');
    await p.press('Set');
    expect(p.api.of('money.auto').map((a) => a.body)).toEqual([
      { below: 20_000_000, amount: 100_000_000 },
      { below: 0, amount: 0 },
    ]);
  });

  it('leaves no way to pay to one who may only read', async () => {
    await open('viewer');
    expect(p.host.querySelector('#amount')).toBeNull();
    expect(p.text()).toContain('Never.');
  });

  it('hands out the statement of the month that is chosen', async () => {
    await open();
    const month = p.host.querySelector<HTMLSelectElement>('#month');
    expect(month?.options[0]?.text).toBe('Mar 2027');
    await p.fill('month', '2027-01');
    const pdf = Array.from(p.host.querySelectorAll('a')).find((a) => a.textContent.includes('PDF'));
    expect(pdf?.getAttribute('href')).toBe('/api/v1/businesses/biz_1/money/statement.pdf?month=2027-01');
  });
});
