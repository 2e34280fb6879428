import { TestBed } from '@angular/core/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { Store } from '@ngrx/store';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { LiveActions } from '../../../state/live.feature';
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
  takes: 'The registered campaigns take 44 more numbers.',
  blocked: '',
  steps: [],
});

describe('getting a number', () => {
  let p: OpenPage;
  const open = async (at: string, over: object = {}): Promise<void> => {
    p = await openPage(
      Acquire,
      {
        'numbers.search': {
          offers: [offer],
          total: 12,
          unit: 'miles',
          neighbours: [],
          place: 'New Jersey',
          problem: '',
        },
        'basket.get': basket(),
        'basket.put': basket([
          {
            e164: offer.e164,
            kind: 'local',
            heldUntil: Date.parse('2027-03-12T19:09:30Z'),
            putBy: '',
            programme: null,
          },
        ]),
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
      'Name an area code such as 551, a town, a state, or digits.',
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
        total: 0,
        unit: 'miles',
        place: 'New Jersey',
        problem: '',
        neighbours: [
          { code: '551', state: 'NJ', distance: 0, count: 12 },
          { code: '732', state: 'NJ', distance: 21, count: 1 },
        ],
      },
    });
    expect(p.text()).toContain('No stock in 201');
    expect(p.text()).toContain('21 miles, 1 number');
    await p.press(/551/);
    expect(p.url()).toBe('/page?where=551');
  });

  it('keeps a number aside, and orders it once the price was confirmed', async () => {
    await open('/page?where=551');
    await p.press('Keep aside');
    expect(p.text()).toContain('9 min left');
    expect(p.text()).toContain('take 44 more numbers');
    await (await p.loader.getHarness(MatCheckboxHarness.with({ selector: 'lg-basket-panel mat-checkbox' }))).check();
    await p.press(/Order for/);
    expect(p.questions[0]?.line).toContain('2.30 now, then 1.30 monthly.');
    expect(p.api.of('orders.place').map((a) => a.body)).toEqual([{ terms: true }]);
    expect(p.url()).toBe('/b/biz_1/numbers?open=num_9');
  });

  it('keeps aside with the line its calls go to, where somebody came for that', async () => {
    await open('/page?where=551&forward=%2B16095550110');
    expect(p.text()).toContain('put through to +1 609-555-0110');
    await p.press('Keep aside');
    expect(p.api.of('basket.put').map((a) => a.body)).toEqual([
      { e164: offer.e164, kind: 'local', forwardTo: '+16095550110' },
    ]);
  });

  it('says how many there are in stock, not how many are shown', async () => {
    await open('/page?where=551');
    expect(p.text()).toContain('12 numbers in stock in 551, New Jersey');
    expect(p.text()).toContain('the first 1 shown');
  });

  it('keeps the basket where the time is over, and says whose choice it was', async () => {
    const item = { ...offer, heldUntil: Date.parse('2027-03-12T18:00:00Z'), programme: null, putBy: 'Odette Brand' };
    await open('/page', { 'basket.get': basket([item]) });
    expect(p.text()).toContain('time is over');
    expect(p.text()).toContain('Ordering keeps it aside anew');
    expect(p.text()).toContain('chosen by Odette Brand');
  });

  it('orders nothing that could never send, and says why', async () => {
    const item = { ...offer, heldUntil: Date.parse('2027-03-12T19:09:30Z'), programme: null, putBy: '' };
    await open('/page', { 'basket.get': { ...basket([item]), blocked: 'It takes one number: put one back.' } });
    expect(p.host.querySelector('[role=alert]')?.textContent).toContain('put one back');
    expect(p.text()).not.toContain('Order for');
  });

  it('leads to the money with what is missing, and back to where one was', async () => {
    const item = { ...offer, heldUntil: Date.parse('2027-03-12T19:09:30Z'), programme: null, putBy: '' };
    await open('/page?where=551', { 'basket.get': { ...basket([item]), missing: 1_300_001 } });
    const link = [...p.host.querySelectorAll('a')].find((a) => a.textContent?.includes('Top up by'));
    expect(link?.getAttribute('href')).toBe('/b/biz_1/settings/money?amount=1.31&back=%2Fpage%3Fwhere%3D551');
  });

  it('asks what a short code is for before it can be ordered, and keeps that at the code', async () => {
    const item = { ...offer, e164: '04211', kind: 'short code', heldUntil: 0, programme: null, putBy: '' };
    const programme = {
      name: 'Loaf alerts',
      what: 'One text when a loaf that people ordered is ready.',
      agreement: 'Customers tick a box at the counter that says so.',
      sample: 'Heron Lane: your rye is ready. Reply STOP to end.',
      help: 'heron.example/help',
    };
    await open('/page', { 'basket.get': basket([item]), 'basket.programme': basket([{ ...item, programme }]) });
    await p.press('Keep the programme');
    expect(p.text()).toContain('Say what people will know it by.');
    expect(p.api.of('basket.programme')).toEqual([]);
    for (const [field, value] of Object.entries(programme)) await p.fill(field, value);
    await p.press('Keep the programme');
    expect(p.api.of('basket.programme').map((a) => a.body)).toEqual([programme]);
    expect(p.text()).toContain('For “Loaf alerts”');
  });

  it('keeps a programme that is being changed open while something else of the basket changes', async () => {
    const programme = {
      name: 'Loaf alerts',
      what: 'One text when a loaf that people ordered is ready.',
      agreement: 'Customers tick a box at the counter that says so.',
      sample: 'Heron Lane: your rye is ready. Reply STOP to end.',
      help: 'heron.example/help',
    };
    const item = { ...offer, e164: '04211', kind: 'short code', heldUntil: 0, programme, putBy: '' };
    await open('/page', { 'basket.get': basket([item]) });
    await p.press('Change the programme');
    await p.fill('help', 'heron.example/what-to-do');
    TestBed.inject(Store).dispatch(LiveActions.changed({ businessId: 'biz_1', topic: 'numbers' }));
    // What changed is asked for 150 ms later, so that a burst of changes is one question.
    while (p.api.of('basket.get').length < 2) await new Promise((r) => setTimeout(r, 20));
    await p.settle();
    expect(p.host.querySelector<HTMLInputElement>('#help')?.value).toBe('heron.example/what-to-do');
  });

  it('says why a number could not be kept, and looks again', async () => {
    await open('/page?where=551', { 'basket.put': new ApiProblem(409, 'taken', 'Somebody else was quicker.', []) });
    await p.press('Keep aside');
    expect(p.said).toEqual(['Somebody else was quicker.']);
    expect(p.api.of('numbers.search').length).toBe(2);
  });
});
