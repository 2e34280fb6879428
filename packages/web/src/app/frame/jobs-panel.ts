import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { JobView } from '@long-gate/contracts';
import { Store } from '@ngrx/store';
import { CountPipe, MomentPipe } from '../parts/format';
import { plain, Shortcuts } from '../parts/keys/shortcuts';
import { jobsFeature } from '../state/jobs.feature';
import { FrameStore } from './frame.store';

/** Running and recent jobs, with counts, pause and cancel; what is done already stands. */
@Component({
  selector: 'lg-jobs-panel',
  imports: [MatButtonModule, MatProgressBarModule, RouterLink, CountPipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-label="Jobs">
      <div class="top">
        <h2>Jobs</h2>
        <button type="button" matButton class="plain" (click)="closed.emit()">Close</button>
      </div>
      @for (job of jobs().slice(0, 12); track job.id) {
        <div class="job">
          <div class="strong">{{ job.title }}</div>
          <div class="small soft">
            {{ job.state }}
            @if (job.total > 0) {
              , {{ job.done | count }} of {{ job.total | count }}
            }
            , {{ job.createdAt | moment: 'short' }}
          </div>
          @if (open(job) && job.total > 0) {
            <mat-progress-bar mode="determinate" [value]="(100 * job.done) / job.total" [attr.aria-label]="job.title" />
          }
          @if (job.error) {
            <div class="small hold">{{ job.error }}</div>
          }
          @if (job.result) {
            <div class="small">{{ job.result }}</div>
          }
          <div class="acts">
            @if (store.session.mayEdit()) {
              @for (w of job.wishes; track w) {
                <button type="button" matButton class="plain" (click)="store.control(job.id, w)">{{ words[w] }}</button>
              }
            }
            <a
              [routerLink]="['/b', store.session.businessId(), 'settings', 'audit']"
              [queryParams]="{ objectKind: 'job', objectId: job.id, whole: 'yes' }"
              [attr.aria-label]="'History of ' + job.title"
              (click)="closed.emit()"
              >History</a
            >
          </div>
        </div>
      } @empty {
        <p class="soft">No jobs yet.</p>
      }
    </section>
  `,
  styles: `
    :host {
      position: absolute;
      right: 16px;
      top: 54px;
      width: 340px;
      max-height: 70vh;
      overflow: auto;
      z-index: 25;
      background: var(--surface);
      border: 1px solid var(--hairline);
      border-radius: 2px;
      padding: 14px 16px;
    }
    .top {
      display: flex;
      justify-content: space-between;
      margin-bottom: 6px;
    }
    .job {
      padding: 8px 0;
      border-top: 1px solid var(--hairline);
      display: grid;
      gap: 4px;
    }
    .acts {
      display: flex;
      gap: 16px;
    }
  `,
})
export class JobsPanel {
  readonly closed = output();
  protected readonly store = inject(FrameStore);
  protected readonly jobs = inject(Store).selectSignal(jobsFeature.selectAllJobs);

  protected readonly words = { pause: 'Pause', resume: 'Go on', cancel: 'Cancel' } as const;

  constructor() {
    inject(Shortcuts).add({
      shown: 'Esc',
      words: 'close the jobs',
      is: plain('Escape'),
      act: () => {
        this.closed.emit();
        return true;
      },
    });
  }

  protected open(job: JobView): boolean {
    return ['running', 'waiting', 'paused'].includes(job.state);
  }
}
