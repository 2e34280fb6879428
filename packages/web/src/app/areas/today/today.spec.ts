import { TestBed } from '@angular/core/testing';
import { Store } from '@ngrx/store';
import type { Matter } from '@long-gate/contracts';
import { CourseActions } from '../../state/course.feature';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { linesOf } from './lines';
import { TodayPage } from './today';

const matter = (over: Partial<Matter>): Matter => ({
  area: 'numbers',
  weight: 'stop',
  title: 'a matter',
  detail: 'why',
  link: 'numbers',
  count: 1,
  due: null,
  since: null,
  group: '',
  ...over,
});

describe('the lines of Today', () => {
  const ties = ['0142', '0151', '0163'].map((n) =>
    matter({ title: `+1 201-555-${n}: Tie it.`, link: `numbers?open=${n}`, group: '# numbers: Tie it.' }),
  );

  it('gather equal matters where the first of them stands, and open out to exactly these', () => {
    const all = [matter({ title: 'first' }), ...ties, matter({ title: 'last', group: '# numbers: Wait.' })];
    expect(linesOf(all, new Set()).map((l) => [l.title, l.gathers])).toEqual([
      ['first', 0],
      ['3 numbers: Tie it.', 3],
      ['last', 0],
    ]);
    const key = linesOf(all, new Set())[1]?.key ?? '';
    expect(linesOf(all, new Set([key])).filter((l) => l.inner)).toHaveSize(3);
  });

  it('say no common reason where the matters have several', () => {
    const [a, b] = [matter({ group: '# x', detail: 'one' }), matter({ group: '# x', detail: 'two', link: 'y' })];
    expect(linesOf([a, b], new Set())[0]?.detail).toBe('');
  });
});

describe('Today', () => {
  let p: OpenPage;
  const open = async (matters: Matter[]): Promise<void> => {
    p = await openPage(TodayPage, {});
    TestBed.inject(Store).dispatch(CourseActions.loaded({ matters, course: {} }));
    await p.settle();
  };
  afterEach(() => closePage(p));

  it('says by when a matter is due, and never “since” of what is to come', async () => {
    await open([
      matter({ title: 'keep it', due: Date.UTC(2027, 4, 1) }),
      matter({ title: 'read it', since: Date.UTC(2027, 1, 1) }),
    ]);
    const [due, since] = [...p.host.querySelectorAll('tbody tr')].map((r) => r.textContent ?? '');
    expect(due).toContain('Due');
    expect(due).not.toContain('Since');
    expect(since).toContain('Since');
    expect(p.text()).toContain('2 matters at');
    closePage(p);
    await open([matter({ title: 'keep it' })]);
    expect(p.text()).toContain('1 matter at');
  });

  it('opens out what it gathers, without leaving', async () => {
    await open(['a', 'b'].map((t) => matter({ title: t, link: t, group: '# numbers wait' })));
    const before = p.url();
    await p.press('2 numbers wait');
    expect([...p.host.querySelectorAll('a.inner')].map((a) => a.textContent?.trim())).toEqual(['a', 'b']);
    expect(p.url()).toBe(before);
    await p.press('2 numbers wait');
    expect(p.host.querySelectorAll('a.inner').length).toBe(0);
  });
});
