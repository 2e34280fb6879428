import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { moveClock, signOut } from '@long-gate/contracts';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { MomentPipe } from '../parts/format';
import { Weight } from '../parts/gate-strip';
import { CourseActions, courseFeature } from '../state/course.feature';
import { jobsFeature } from '../state/jobs.feature';
import { liveFeature } from '../state/live.feature';
import { SessionFacade } from '../state/session.facade';
import { AREAS, type Area } from './areas';
import { Finder } from './finder';
import { JobsPanel } from './jobs-panel';
import { Keys } from './keys';
import { Theme } from './theme';
import { Say } from '../parts/say';

/** The frame: course, business, clock, jobs; and the keys that work everywhere. */
@Component({
  selector: 'lg-shell',
  imports: [MatButtonModule, RouterOutlet, RouterLink, RouterLinkActive, MatMenuModule, Weight, MomentPipe, JobsPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown)': 'onKey($event)' },
  templateUrl: './shell.html',
  styleUrl: './shell.scss',
})
export class Shell {
  readonly businessId = input.required<string>();
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly say = inject(Say);
  protected readonly facade = inject(SessionFacade);
  protected readonly theme = inject(Theme);
  protected readonly areas = AREAS;
  protected readonly course = this.store.selectSignal(courseFeature.selectCourse);
  protected readonly running = this.store.selectSignal(jobsFeature.selectRunning);
  protected readonly connected = this.store.selectSignal(liveFeature.selectConnected);
  protected readonly jobsOpen = signal(false);
  protected readonly moving = computed(() => this.facade.session()?.clock.moving ?? false);
  private readonly asked = signal(false);
  protected readonly clockBusy = computed(() => this.moving() || this.asked());

  constructor() {
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

  protected openOf(area: Area): { text: string; worst: string } {
    const c = this.course()[area.path];
    if (area.path === 'settings' || !c)
      return { text: c && c.open > 0 ? `${c.open} open` : '', worst: c?.worst ?? 'none' };
    if (c.open === 0) return { text: '', worst: 'none' };
    return {
      text: area.path === 'inbox' ? `${c.open} unread` : `${c.open.toLocaleString('en-US')} open`,
      worst: c.worst,
    };
  }

  protected async move(by: 'hour' | 'day' | 'next'): Promise<void> {
    this.asked.set(true);
    try {
      await this.api.call(moveClock, { body: { by } });
    } catch (error) {
      this.asked.set(false);
      this.say.problem(error);
    }
  }

  protected async leave(): Promise<void> {
    await this.api.call(signOut).catch(() => undefined);
    await this.facade.load();
    await this.router.navigateByUrl('/sign-in');
  }

  protected find(): void {
    if (this.dialog.openDialogs.length === 0)
      this.dialog.open(Finder, { width: '560px', position: { top: '90px' }, autoFocus: 'input', ariaLabel: 'Find' });
  }

  protected keys(): void {
    if (this.dialog.openDialogs.length === 0) this.dialog.open(Keys, { width: '460px', ariaLabel: 'Keys' });
  }

  protected onKey(event: KeyboardEvent): void {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
      event.preventDefault();
      this.find();
      return;
    }
    if (event.altKey && /^Digit[1-9]$/.test(event.code)) {
      event.preventDefault();
      const area = AREAS[Number(event.code.slice(5)) - 1];
      if (area) void this.router.navigate(['/b', this.businessId(), area.path]);
      return;
    }
    const typing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName);
    if (typing || event.ctrlKey || event.metaKey || event.altKey || this.dialog.openDialogs.length > 0) return;
    if (event.key === '?') this.keys();
    if (event.key === '/') {
      const filter = document.querySelector<HTMLInputElement>('input[data-filter]');
      if (filter) {
        event.preventDefault();
        filter.focus();
      }
    }
  }
}
