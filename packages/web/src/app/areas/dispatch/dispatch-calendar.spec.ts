import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { DispatchCalendarPage } from './dispatch-calendar';

const item = (id: string, at: string, over: object = {}) => ({
  id,
  title: `Dispatch ${id}`,
  state: 'done',
  at: Date.parse(at),
  people: 1200,
  held: '',
  category: '',
  effort: '',
  ...over,
});

describe('the calendar of what goes out', () => {
  let p: OpenPage;
  const open = async (at: string): Promise<void> => {
    p = await openPage(
      DispatchCalendarPage,
      {
        'dispatches.calendar': {
          // Half past midnight in UTC is still the day before in New York.
          items: [
            item('a', '2027-03-10T00:30:00Z'),
            item('b', '2027-03-14T13:00:00Z', { state: 'scheduled' }),
            item('c', '2027-03-14T15:00:00Z', { state: 'scheduled', held: 'More people.' }),
          ],
        },
      },
      { at },
    );
  };
  afterEach(() => closePage(p));
  const day = (name: string): string =>
    [...p.host.querySelectorAll('.days li')].find((li) => li.textContent?.includes(name))?.textContent ?? '';

  it('draws whole weeks of the month, and each dispatch on its day where the business is', async () => {
    await open('/page');
    expect(p.host.querySelectorAll('.days li').length).toBe(35);
    expect(day('Tue 9')).toContain('19:30 Dispatch a');
    expect(day('Sun 14')).toContain('Dispatch b scheduled, 1,200');
    expect(day('Sun 14')).toContain('held, 1,200');
    expect(p.host.querySelector('[aria-current=date]')?.textContent).toContain('Fri 12');
    expect(p.api.of('dispatches.calendar')[0]?.query).toEqual({ from: '2027-03-01', to: '2027-04-04' });
  });

  it('goes by month or by week, and the address says which', async () => {
    await open('/page?span=week');
    expect(p.host.querySelectorAll('.days li').length).toBe(7);
    await p.press('Later');
    expect(p.url()).toBe('/page?span=week&day=2027-03-19');
    expect(p.text()).toContain('15 Mar to 21 Mar 2027');
    await p.press('Today');
    expect(p.url()).toBe('/page?span=week');
  });

  it('leads to each, and gives all of it as a calendar file', async () => {
    await open('/page');
    const hrefs = [...p.host.querySelectorAll('a')].map((a) => a.getAttribute('href'));
    expect(hrefs).toContain('/b/biz_1/dispatch/b');
    expect(hrefs).toContain('/api/v1/businesses/biz_1/dispatches.ics');
  });
});
