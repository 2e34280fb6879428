import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  Injector,
  input,
  outputBinding,
  signal,
  viewChild,
  ViewContainerRef,
} from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { Store } from '@ngrx/store';
import { MomentPipe } from '../parts/format';
import { Weight } from '../parts/weight';
import { Say } from '../parts/say';
import { CourseActions, courseFeature, type Course } from '../state/course.feature';
import { jobsFeature } from '../state/jobs.feature';
import { liveFeature } from '../state/live.feature';
import { SessionFacade } from '../state/session.facade';
import { AREAS, type Area } from './areas';
import { Finder } from './finder';
import { FrameStore } from './frame.store';
import { SignInAgain } from './sign-in-again';
import { Theme } from './theme';
import { plain, Shortcuts } from '../parts/keys/shortcuts';

/** The clock goes no farther than this without a yes. */
const FAR_DAYS = 14;

type Open = Course[string];
interface Said {
  text: string;
  worst: Open['worst'];
}
const NOTHING: Said = { text: '', worst: 'none' };

/** How much is open in an area, and how bad the worst of it is. */
function said(path: string, c: Open | undefined): Said {
  if (!c) return NOTHING;
  // What is amiss in the settings is said also where nothing waits for anybody.
  if (c.open === 0) return path === 'settings' ? { text: '', worst: c.worst } : NOTHING;
  return { text: `${c.open.toLocaleString('en-US')} ${path === 'inbox' ? 'waiting' : 'open'}`, worst: c.worst };
}

/** The frame: course, business, clock, jobs; and the keys that work everywhere. */
@Component({
  selector: 'lg-shell',
  imports: [MatButtonModule, RouterOutlet, RouterLink, RouterLinkActive, MatMenuModule, Weight, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [FrameStore],
  templateUrl: './shell.html',
  styleUrl: './shell.scss',
})
export class Shell {
  readonly businessId = input.required<string>();
  private readonly store = inject(Store);
  private readonly frame = inject(FrameStore);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  protected readonly facade = inject(SessionFacade);
  protected readonly theme = inject(Theme);
  protected readonly areas = AREAS;
  protected readonly course = this.store.selectSignal(courseFeature.selectCourse);
  protected readonly running = this.store.selectSignal(jobsFeature.selectRunning);
  protected readonly connected = this.store.selectSignal(liveFeature.selectConnected);
  private readonly say = inject(Say);
  private readonly jobsPlace = viewChild.required('jobsPlace', { read: ViewContainerRef });
  protected readonly jobsOpen = signal(false);
  protected readonly moving = computed(() => this.facade.session()?.clock.moving ?? false);
  private readonly asked = signal(false);
  protected readonly clockBusy = computed(() => this.moving() || this.asked());

  constructor() {
    this.addKeys();
    inject(SignInAgain).watch();
    effect(() => {
      const id = this.businessId();
      const known = this.facade.session()?.businesses.some((b) => b.id === id);
      if (known) this.facade.choose(id);
      else void this.router.navigateByUrl('/');
    });
    effect(() => {
      // The clock was moved: what waited for it is over.
      this.facade.session();
      this.asked.set(false);
    });
    this.store.dispatch(CourseActions.wanted());
  }

  /** What is open in each area, in words: the frame is looked at anew with every row that is scrolled into view. */
  private readonly open = computed(() => new Map(AREAS.map(({ path }) => [path, said(path, this.course()[path])])));
  protected openOf({ path }: Area): Said {
    return this.open().get(path) ?? NOTHING;
  }

  /** What the clock comes to next: undefined until it is known, null where nothing does. */
  protected readonly next = signal<{ at: number; what: string } | null | undefined>(undefined);
  protected async lookAhead(): Promise<void> {
    this.next.set(undefined);
    this.next.set(await this.frame.next());
  }

  /** To what comes next; where that is far away, everything in between happens, so it is asked about. */
  protected async toNext(): Promise<void> {
    const next = this.next() ?? (await this.frame.next());
    const days = next ? Math.round((next.at - this.facade.now()) / 86_400_000) : 0;
    if (next && days > FAR_DAYS) {
      // The dialog is no part of the frame's first load.
      const found = await this.fetched(() => import('../parts/confirm'));
      if (!found) return;
      const sure = await this.injector.get(found.Confirm).ask({
        title: `Move the clock on by ${days} days?`,
        line: `Next is: ${next.what}. Fees are taken on their days in between, and what has a day runs out. The clock never goes back.`,
        yes: 'Move it on',
      });
      if (!sure) return;
    }
    await this.move('next');
  }

  protected async move(by: 'hour' | 'day' | 'next'): Promise<void> {
    this.asked.set(true);
    if (!(await this.frame.move(by))) this.asked.set(false);
  }

  protected async leave(): Promise<void> {
    await this.frame.signOut();
    await this.router.navigateByUrl('/sign-in');
  }

  protected find(): void {
    if (this.dialog.openDialogs.length === 0)
      this.dialog.open(Finder, { width: '560px', position: { top: '90px' }, autoFocus: 'input', ariaLabel: 'Find' });
  }

  protected async keys(): Promise<void> {
    const found = await this.fetched(() => import('../parts/keys/keys-dialog'));
    if (found && this.dialog.openDialogs.length === 0)
      this.dialog.open(found.KeysDialog, { width: '460px', ariaLabel: 'Keys' });
  }

  protected async toggleJobs(): Promise<void> {
    if (this.jobsOpen()) {
      this.closeJobs();
      return;
    }
    const found = await this.fetched(() => import('./jobs-panel'));
    if (!found || this.jobsOpen()) return;
    this.jobsOpen.set(true);
    this.jobsPlace().createComponent(found.JobsPanel, {
      injector: this.injector,
      bindings: [outputBinding('closed', () => this.closeJobs())],
    });
  }

  private closeJobs(): void {
    this.jobsOpen.set(false);
    this.jobsPlace().clear();
  }

  /** What is no part of the frame's first load; undefined, and said, where the server does not answer. */
  private async fetched<T>(load: () => Promise<T>): Promise<T | undefined> {
    try {
      return await load();
    } catch {
      this.say.problem(new Error('This part of the page could not be fetched from the server. Load the page anew.'));
      return undefined;
    }
  }

  private addKeys(): void {
    const done = (work: () => void) => (): boolean => {
      work();
      return true;
    };
    inject(Shortcuts).add(
      {
        shown: 'Ctrl+K',
        words: 'find a place, an object or an action',
        is: (e) => (e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k',
        act: done(() => this.find()),
        always: true,
      },
      {
        shown: 'Alt+1…9',
        words: 'go to an area',
        is: (e) => e.altKey && /^Digit[1-9]$/.test(e.code),
        act: (e) => {
          const area = AREAS[Number(e.code.slice(5)) - 1];
          if (area) void this.router.navigate(['/b', this.businessId(), area.path]);
          return area !== undefined;
        },
        always: true,
      },
      {
        shown: '/',
        words: 'filter the list; ↓ goes from there into it',
        is: plain('/'),
        act: () => {
          const filter = document.querySelector<HTMLInputElement>('input[data-filter]');
          filter?.focus();
          return filter !== null;
        },
      },
      { shown: 'Enter', words: 'open what has the focus', is: () => false, act: () => false },
      { shown: '?', words: 'these keys', is: plain('?'), act: done(() => void this.keys()) },
    );
  }
}
