import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { Acquire } from './acquire';

const offer = { e164: '+15515550160', kind: 'local', setup: 1_000_000, monthly: 1_300_000, capabilities: ['send'] };
const basket = (items: object[] = []) => ({
  items,
  costNow: 2_300_000,
  costMonthly: 1_300_000,
  balance: 12_000_000,
  missing: 0,
  accountState: 'open',
  mobileConfirmed: true,
  steps: [],
});

describe('getting a number', () => {
  let p: OpenPage;
  const open = async (at: string, over: object = {}): Promise<void> => {
    p = await openPage(
      Acquire,
      {
        'numbers.search': { offers: [offer], neighbours: [], place: 'New Jersey', problem: '' },
        'basket.get': basket(),
        'basket.put': basket([{ e164: offer.e164, kind: 'local', heldUntil: Date.parse('2027-03-12T19:09:30Z') }]),
        'basket.take-out': basket(),
        'orders.place': { orderId: 'ord_1', numbers: [{ id: 'num_9' }] },
        ...over,
      },
      { at },
    );
  };
  afterEach(() => closePage(p));

  it('asks in words what is missing, and nothing of the exchange', async () => {
    await open('/page');
    await p.press('Search');
    expect(document.getElementById('where-wrong')?.textContent?.trim()).toBe(
      'Name an area code such as 551, a state, or digits.',
    );
    await p.fill('where', '12');
    await p.press('Search');
    expect(p.api.of('numbers.search')).toEqual([]);
    expect(p.url()).toBe('/page');
  });

  it('looks for what the address says, and says in the address what is looked for', async () => {
    await open('/page?where=551');
    expect(p.api.of('numbers.search')[0]?.query).toEqual(
      jasmine.objectContaining({ where: '551', kind: 'local', country: 'US' }),
    );
    expect(p.host.querySelector<HTMLInputElement>('#where')?.value).toBe('551');
    await p.fill('digits', 'BOAT');
    await (await p.loader.getHarness(MatCheckboxHarness.with({ label: 'can voice' }))).check();
    await p.press('Search');
    expect(p.url()).toBe('/page?where=551&digits=BOAT&can=voice');
  });

  it('offers the nearest places where there is no stock', async () => {
    await open('/page?where=201', {
      'numbers.search': {
        offers: [],
        place: 'New Jersey',
        problem: '',
        neighbours: [{ code: '551', state: 'NJ', km: 0, count: 12 }],
      },
    });
    expect(p.text()).toContain('No stock in 201');
    await p.press(/551/);
    expect(p.url()).toBe('/page?where=551');
  });

  it('keeps a number aside, and orders it once the price was confirmed', async () => {
    await open('/page?where=551');
    await p.press('Keep aside');
    expect(p.text()).toContain('10 min left');
    await (await p.loader.getHarness(MatCheckboxHarness.with({ selector: 'lg-basket-panel mat-checkbox' }))).check();
    await p.press(/Order for/);
    expect(p.questions[0]?.line).toContain('2.30 now, then 1.30 monthly.');
    expect(p.api.of('orders.place').map((a) => a.body)).toEqual([{ terms: true }]);
    expect(p.url()).toBe('/b/biz_1/numbers?open=num_9');
  });

  it('says why a number could not be kept, and looks again', async () => {
    await open('/page?where=551', { 'basket.put': new ApiProblem(409, 'taken', 'Somebody else was quicker.', []) });
    await p.press('Keep aside');
    expect(p.said).toEqual(['Somebody else was quicker.']);
    expect(p.api.of('numbers.search').length).toBe(2);
  });
});
