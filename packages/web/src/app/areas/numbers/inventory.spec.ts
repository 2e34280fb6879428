import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { Inventory } from './inventory';

const number = (id: string, over: object = {}) => ({
  id,
  e164: `+1201555014${id.length}`,
  label: id,
  description: '',
  kind: 'local',
  capabilities: ['send', 'receive'],
  source: 'bought',
  state: 'active',
  note: '',
  monthly: 1_300_000,
  orderId: '',
  throughput: '10 / s',
  lastUsedAt: null,
  releaseFinalAt: null,
  ended: '',
  endedAt: null,
  orderedBy: null,
  cardName: '',
  cardPicture: false,
  programme: null,
  defaultFor: [],
  campaignId: 'cmp_1',
  campaignName: 'Service notices',
  campaignState: 'registered',
  tieState: 'attached',
  clearance: 'cleared',
  orderedAt: 1,
  activeAt: 1,
  version: 1,
  answers: [{ post: 7, result: 'pass' }],
  deciding: null,
  nextStep: { title: 'Nothing to do.', why: '', action: 'none' },
  ...over,
});
const ALL = [
  number('Sailing'),
  number('Harbour', { deciding: { result: 'stop', why: 'no campaign', lift: 'tie it' }, campaignName: null }),
  number('Ticket counter', { source: 'ported', orderId: 'ord_1' }),
];

interface View {
  id?: string;
  name: string;
  query: string;
}

describe('the inventory', () => {
  let views: View[] = [];
  let p: OpenPage;
  const open = async (at = '/page', role = 'administrator', items: object[] = ALL): Promise<void> => {
    p = await openPage(
      Inventory,
      {
        'numbers.list': { items },
        'watch.carried': {
          from: '2027-02-11',
          items: [{ numberId: 'Sailing', sent: [...Array.from({ length: 29 }, () => 0), 1200], received: [] }],
        },
        'registration.get': { campaigns: [{ id: 'cmp_1', name: 'Service notices', state: 'registered' }] },
        'views.list': () => ({ items: views }),
        'views.drop': ({ params }: Asked) => ((views = views.filter((v) => v.id !== params['id'])), { done: true }),
        'views.save': ({ body }: Asked) => (views.push({ id: 'viw_2', ...(body as View) }), { id: 'viw_2' }),
        'numbers.bulk': {
          changed: 1,
          refused: [{ e164: '+12015550146', why: 'It is being released.' }],
          undo: [{ id: 'Sailing', label: 'Sailing' }],
        },
        'numbers.bulk-undo': { changed: 1 },
        'numbers.bulk-preview': {
          change: 1,
          skipped: [{ e164: '+12015550146', why: 'It is paused.' }],
          interrupted: ['+12015550147'],
          undoable: false,
        },
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));
  const labels = (): string[] =>
    Array.from(p.host.querySelectorAll('tr[data-row]')).map((r) => r.getAttribute('data-row') ?? '');

  it('shows what each carried in thirty days, beside the figure', async () => {
    await open();
    expect(labels()).toEqual(['Sailing', 'Harbour', 'Ticket counter']);
    expect(p.host.querySelector('lg-spark svg')?.getAttribute('aria-label')).toBe('1,200 texts in 30 days');
    expect(p.text()).toContain('3 numbers, 3.90 monthly');
  });

  it('is narrowed by facets, and its file says the same', async () => {
    await open('/page?source=ported');
    expect(labels()).toEqual(['Ticket counter']);
    const file = Array.from(p.host.querySelectorAll('a')).find((a) => a.textContent.includes('Export'));
    expect(file?.getAttribute('href')).toBe('/api/v1/businesses/biz_1/numbers.csv?source=ported');
  });

  it('says how an order stands, and leads back to all numbers', async () => {
    await open('/page?order=ord_1');
    expect(labels()).toEqual(['Ticket counter']);
    expect(p.text()).toContain('Your order: 1 of 1 active.');
    await p.press('show all numbers');
    expect(labels().length).toBe(3);
  });

  it('labels the chosen ones, names what was skipped, and takes it back', async () => {
    await open();
    const box = await p.loader.getHarness(MatCheckboxHarness.with({ selector: 'td mat-checkbox' }));
    await box.check();
    await p.settle();
    expect(p.text()).toContain('1 chosen');
    const field = p.host.querySelector<HTMLInputElement>('[aria-label="Label for the chosen numbers"]');
    if (field) field.id = 'bulk-label';
    await p.fill('bulk-label', 'Counter');
    await p.press('Label');
    expect(p.api.of('numbers.bulk').map((a) => a.body)).toEqual([{ ids: ['Sailing'], label: 'Counter' }]);
    expect(p.said).toEqual(['1 number changed. +1 201-555-0146 skipped: It is being released.']);
    p.undo?.();
    await p.settle();
    expect(p.api.of('numbers.bulk-undo').map((a) => a.body)).toEqual([
      { before: [{ id: 'Sailing', label: 'Sailing' }] },
    ]);
  });

  it('says before tying several what is out of service, what is skipped, and whether it can be undone', async () => {
    await open();
    await (await p.loader.getHarness(MatCheckboxHarness.with({ selector: 'td mat-checkbox' }))).check();
    await p.settle();
    const select = p.host.querySelector<HTMLSelectElement>('[aria-label="Campaign for the chosen numbers"]');
    if (select) select.value = 'cmp_1';
    select?.dispatchEvent(new Event('change'));
    await p.settle();
    const line = p.questions[0]?.line ?? '';
    expect(line).toContain('out of service for up to 72 hours: +1 201-555-0147');
    expect(line).toContain('Skipped: +1 201-555-0146: It is paused.');
    expect(line).toContain('Moving back would take as long again.');
  });

  it('says whose order one looks at, where it was a colleague’s', async () => {
    const mine = number('Ticket counter', { orderId: 'ord_1', orderedBy: { id: 'usr_9', name: 'Odette Brand' } });
    await open('/page?order=ord_1', 'administrator', [mine]);
    expect(p.text()).toContain('The order of Odette Brand: 1 of 1 active.');
  });

  it('has what ended in a facet of its own, and counts no fee of it', async () => {
    await open('/page', 'administrator', [...ALL, number('Gone', { state: 'released', ended: 'ported away' })]);
    expect(p.text()).toContain('4 numbers, 3.90 monthly');
    await (await p.loader.getHarness(MatButtonToggleHarness.with({ text: /ported away/ }))).check();
    await p.settle();
    expect(labels()).toEqual(['Gone']);
    expect(p.url()).toBe('/page?ended=ported%20away');
  });

  it('offers the first step where there is nothing', async () => {
    await open('/page', 'administrator', []);
    expect(p.text()).toContain('No numbers yet');
    expect(p.host.querySelector('table')).toBeNull();
  });

  it('lets nobody choose who may not act', async () => {
    await open('/page', 'viewer');
    expect(p.host.querySelector('mat-checkbox')).toBeNull();
    expect(p.host.querySelector('.head')?.textContent).not.toContain('Get a number');
  });

  it('drops a saved view at once, and brings it back where that was a slip', async () => {
    views = [{ id: 'viw_1', name: 'Ported ones', query: 'source=ported' }];
    await open();
    const drop = (): HTMLButtonElement | null => p.host.querySelector('[aria-label="Drop the view Ported ones"]');
    drop()?.click();
    await p.settle();
    expect(drop()).toBeNull();
    expect(p.said).toEqual(['The view “Ported ones” is gone, for everybody.']);
    p.undo?.();
    await p.settle();
    expect(p.api.of('views.save').map((a) => a.body)).toEqual([{ name: 'Ported ones', query: 'source=ported' }]);
    expect(drop()).not.toBeNull();
  });
});
