import { ChangeDetectionStrategy, Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { JobView } from '@long-gate/contracts';
import { Store } from '@ngrx/store';
import { closePage, openPage, type OpenPage } from '../../testing/open-page';
import { CourseActions, type Course } from '../state/course.feature';
import { JobsActions } from '../state/jobs.feature';
import { Shell } from './shell';

const DAY_MS = 86_400_000;
const now = Date.parse('2027-03-12T19:00:00Z');

@Component({
  imports: [Shell],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-shell businessId="biz_1" />`,
})
class Host {}

describe('the clock of the frame', () => {
  let p: OpenPage;
  const open = async (next: { at: number; what: string } | null): Promise<void> => {
    p = await openPage(
      Host,
      {
        'clock.next': { next },
        'clock.move': { now },
        'course.show': { steps: [], inbox: 0 },
        'jobs.list': { items: [] },
      },
      { clockMoves: true },
    );
    p.host.querySelector<HTMLButtonElement>('button.clock')?.click();
    await p.settle();
  };
  afterEach(() => closePage(p));
  const item = (): HTMLButtonElement => document.querySelector('[mat-menu-item]') as HTMLButtonElement;
  const toNext = async (): Promise<void> => {
    item().click();
    for (let i = 0; i < 1_000 && p.questions.length === 0; i++) await p.settle();
  };

  it('says what comes next and when, in the zone of the business, before it is moved there', async () => {
    await open({ at: now + DAY_MS, what: 'a losing carrier answers' });
    expect(p.host.querySelector('button.clock')?.textContent).toContain('12 Mar, 14:00 EST');
    expect(item().textContent).toContain('a losing carrier answers, 13 Mar, 14:00 EST');
    item().click();
    await p.settle();
    expect([p.api.of('clock.move').map((a) => a.body), p.questions.length]).toEqual([[{ by: 'next' }], 0]);
  });

  it('asks before it goes on by weeks, and stays where it is without a yes', async () => {
    await open({ at: now + 40 * DAY_MS, what: 'a monthly fee is due' });
    p.yes = false;
    await toNext();
    expect(p.questions[0]?.title).toBe('Move the clock on by 40 days?');
    expect(p.api.of('clock.move')).toEqual([]);
  });

  it('does not go on where nothing is to come', async () => {
    await open(null);
    expect([item().disabled, item().textContent]).toEqual([true, jasmine.stringContaining('nothing is to come')]);
  });
});

describe('the course in the frame', () => {
  let p: OpenPage;
  beforeEach(async () => {
    p = await openPage(Host, { 'course.show': { steps: [], inbox: 0 }, 'jobs.list': { items: [] } });
  });
  afterEach(() => closePage(p));
  const shown = async (course: Course): Promise<string[]> => {
    TestBed.inject(Store).dispatch(CourseActions.loaded({ matters: [], course }));
    await p.settle();
    return Array.from(p.host.querySelectorAll('nav .open'), (x) => {
      const weight = x.querySelector('lg-weight') ? 'mark ' : '';
      return weight + x.textContent.replace(/\s+/g, ' ').trim();
    });
  };

  it('says how much is open in each area, and anew when that changes', async () => {
    const stop = await shown({
      numbers: { open: 1234, worst: 'stop' },
      inbox: { open: 3, worst: 'none' },
      consent: { open: 0, worst: 'hold' },
    });
    expect(stop.filter((x) => x !== '')).toEqual([jasmine.stringMatching(/^mark .*1,234 open$/), '3 waiting']);
    const later = await shown({ numbers: { open: 1, worst: 'none' } });
    expect(later.filter((x) => x !== '')).toEqual(['1 open']);
  });
});

describe('what the frame opens', () => {
  let p: OpenPage;
  const job: JobView = {
    id: 'job_1',
    kind: 'lookups',
    title: 'Look up 40 numbers',
    state: 'running',
    done: 10,
    total: 40,
    error: '',
    result: '',
    createdAt: now,
    finishedAt: null,
    wishes: ['pause'],
  };
  beforeEach(async () => {
    p = await openPage(Host, {
      'course.show': { steps: [], inbox: 0 },
      'jobs.list': { items: [job] },
      'jobs.control': {},
    });
    TestBed.inject(Store).dispatch(JobsActions.loaded({ jobs: [job] }));
    await p.settle();
  });
  afterEach(() => closePage(p));
  const jobs = (): HTMLElement | null => p.host.querySelector('[aria-label="Jobs"]');
  const opener = (): HTMLButtonElement =>
    Array.from(p.host.querySelectorAll<HTMLButtonElement>('button[aria-expanded]')).find((b) =>
      b.textContent.includes('job'),
    ) as HTMLButtonElement;
  const opened = async (): Promise<void> => {
    opener().click();
    // They come when they are first wanted, and then what they show.
    for (let i = 0; i < 1_000 && !jobs()?.textContent.includes(job.title); i++) await p.settle();
  };

  it('shows the jobs with what may be done with them, and closes them by their button, by Esc and by its own', async () => {
    await opened();
    expect(jobs()?.textContent).toContain('Look up 40 numbers');
    await p.press('Pause');
    expect(p.api.of('jobs.control').map((a) => [a.params['id'], a.body])).toEqual([['job_1', { wish: 'pause' }]]);
    await p.press('Close');
    expect([jobs(), opener().getAttribute('aria-expanded')]).toEqual([null, 'false']);
    await opened();
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    await p.settle();
    expect(jobs()).toBeNull();
    await opened();
    opener().click();
    await p.settle();
    expect(jobs()).toBeNull();
  });

  it('says what each key does', async () => {
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true }));
    const dialog = (): string => document.querySelector('mat-dialog-container')?.textContent ?? '';
    for (let i = 0; i < 1_000 && dialog() === ''; i++) await p.settle();
    expect(dialog()).toContain('go to an area');
  });
});
