import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { DispatchListPage } from './dispatch-list';

const dispatch = (id: string, over: object = {}) => ({
  id,
  title: `Dispatch ${id}`,
  state: 'done',
  sentAt: Date.parse('2027-03-01T15:00:00Z'),
  purpose: 'promotional',
  schedule: null,
  archivedAt: null,
  counts: { delivered: 1006, failed: 84, stopped: 516 },
  ...over,
});

describe('the list of dispatches', () => {
  let p: OpenPage;
  const open = async (role: string, items: object[]): Promise<void> => {
    p = await openPage(
      DispatchListPage,
      {
        'dispatches.list': { items, next: null, total: items.length },
        'dispatches.counts': {
          shows: { drafts: 2, scheduled: 1, 'under way': 0, sent: 9, archived: 4 },
          categories: [{ value: 'Fares', n: 3 }],
          efforts: [],
        },
      },
      { role },
    );
  };
  afterEach(() => closePage(p));

  it('shows how each went, as a bar and in figures, and the bar in words', async () => {
    await open('coordinator', [dispatch('a'), dispatch('b', { state: 'sending', counts: { held: 12, waiting: 30 } })]);
    const bars = Array.from(p.host.querySelectorAll('.bar')).map((b) => b.getAttribute('aria-label'));
    expect(bars).toEqual(['1,006 delivered, 84 failed, 516 stopped by the gate', '30 on its way, 12 held']);
    expect(p.text()).toContain('1,006');
  });

  it('draws nothing for a draft, and says so', async () => {
    await open('coordinator', [dispatch('d', { state: 'draft', sentAt: null, purpose: null, counts: {} })]);
    expect(p.host.querySelector('.bar')?.getAttribute('aria-label')).toBe('nothing has left');
    expect(p.host.querySelectorAll('.bar i').length).toBe(0);
    expect(p.text()).toContain('not named');
  });

  it('leads to each, and to a new one for whoever may write', async () => {
    await open('coordinator', [dispatch('a')]);
    expect(p.text()).toContain('Write a dispatch');
    p.host.querySelector<HTMLElement>('tr[data-row=a]')?.click();
    await p.settle();
    expect(p.url()).toBe('/b/biz_1/dispatch/a');
    closePage(p);
    await open('viewer', []);
    expect(p.text()).toContain('No dispatches yet');
    expect(p.text()).not.toContain('Write a dispatch');
  });

  it('is narrowed to drafts, scheduled, under way, sent or archived, each with its count', async () => {
    await open('coordinator', [dispatch('a')]);
    const toggles = await p.loader.getAllHarnesses(MatButtonToggleHarness);
    expect(await Promise.all(toggles.map((t) => t.getText()))).toEqual([
      'drafts 2',
      'scheduled 1',
      'under way 0',
      'sent 9',
      'archived 4',
      'Fares 3',
    ]);
    await toggles[4]?.check();
    await p.settle();
    expect(p.url()).toBe('/page?show=archived');
    expect(p.api.of('dispatches.list').at(-1)?.query['show']).toBe('archived');
  });

  it('says of a scheduled one when it leaves, and of one that is held that it asks', async () => {
    const schedule = { at: Date.parse('2027-03-14T14:00:00Z'), held: '' };
    await open('coordinator', [
      dispatch('a', { state: 'scheduled', sentAt: null, counts: {}, schedule }),
      dispatch('b', { state: 'scheduled', sentAt: null, counts: {}, schedule: { ...schedule, held: 'More people.' } }),
    ]);
    const [waits, held] = [...p.host.querySelectorAll('tr[data-row]')].map((r) => r.textContent ?? '');
    expect(waits).toContain('leaves 14 Mar, 10:00');
    expect(held).toContain('held, was for 14 Mar, 10:00');
  });
});
