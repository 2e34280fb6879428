import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatButtonModule } from '@angular/material/button';
import { controlJob, type JobView } from '@long-gate/contracts';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { CountPipe, MomentPipe } from '../parts/format';
import { Say } from '../parts/say';
import { jobsFeature } from '../state/jobs.feature';
import { SessionFacade } from '../state/session.facade';

/** Running and recent jobs, with counts, pause and cancel; what is done already stands. */
@Component({
  selector: 'lg-jobs-panel',
  imports: [MatButtonModule, MatProgressBarModule, CountPipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown.escape)': 'closed.emit()' },
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
          @if (job.wishes.length > 0 && session.mayEdit()) {
            <div class="acts">
              @for (w of job.wishes; track w) {
                <button type="button" matButton class="plain" (click)="wish(job, w)">{{ words[w] }}</button>
              }
            </div>
          }
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
  readonly businessId = input.required<string>();
  readonly closed = output();
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly jobs = inject(Store).selectSignal(jobsFeature.selectAllJobs);

  protected readonly words = { pause: 'Pause', resume: 'Go on', cancel: 'Cancel' } as const;

  protected open(job: JobView): boolean {
    return ['running', 'waiting', 'paused'].includes(job.state);
  }

  protected async wish(job: JobView, wish: 'pause' | 'resume' | 'cancel'): Promise<void> {
    await this.api
      .call(controlJob, { params: { businessId: this.businessId(), id: job.id }, body: { wish } })
      .catch((e: unknown) => this.say.problem(e));
  }
}
