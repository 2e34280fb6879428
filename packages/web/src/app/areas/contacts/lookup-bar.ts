import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatButtonModule } from '@angular/material/button';
import { CountedPipe, CountPipe, MoneyPipe } from '../../parts/format';
import { durationOf, LookUp } from '../../parts/look-up';
import { LookupsStore } from './lookups.store';

/** Numbers that were never asked about, what asking costs, and the lookups under way. */
@Component({
  selector: 'lg-lookup-bar',
  imports: [MatButtonModule, MatProgressBarModule, CountedPipe, CountPipe, MoneyPipe],
  providers: [LookupsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.job(); as j) {
      <div class="bar" role="status">
        <div>
          <span class="strong">{{ j.title }}</span>: {{ j.done | count }} of {{ j.total | count }},
          {{ j.state === 'paused' ? 'paused' : left(j) }}
          {{ j.error }}
        </div>
        <mat-progress-bar mode="determinate" [value]="j.total ? (100 * j.done) / j.total : 0" aria-label="Lookups" />
        @if (store.session.mayEdit()) {
          <div class="acts">
            @if (j.state === 'paused') {
              <button type="button" matButton class="plain" (click)="store.control(j.id, 'resume')">Go on</button>
            } @else {
              <button type="button" matButton class="plain" (click)="store.control(j.id, 'pause')">Pause</button>
            }
            <button type="button" matButton class="plain" (click)="store.control(j.id, 'cancel')">Cancel</button>
            <span class="soft small">What is answered already stands.</span>
          </div>
        }
      </div>
    } @else if (store.estimate.value(); as e) {
      @if (e.numbers > 0) {
        <div class="bar">
          <span
            ><span class="hold strong">{{ e.numbers | counted: 'number needs' : 'numbers need' }}</span> asking about
            before texting. It costs {{ e.cost | money }} and takes about {{ duration(e.seconds) }}; the balance is
            {{ e.balance | money }}.</span
          >
          @if (store.session.mayEdit()) {
            <button type="button" matButton="outlined" (click)="start()">Look them up…</button>
          }
        </div>
      }
    }
  `,
  styles: `
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 16px;
      align-items: center;
      padding: 9px 12px;
      margin-bottom: 12px;
      background: var(--surface);
      border: 1px solid var(--hairline);
      border-left: 3px solid var(--hold);
    }
    mat-progress-bar {
      flex-basis: 100%;
    }
    .acts {
      display: flex;
      gap: 16px;
      align-items: baseline;
    }
  `,
})
export class LookupBar {
  protected readonly store = inject(LookupsStore);
  private readonly lookUp = inject(LookUp);

  protected readonly duration = durationOf;
  protected left(j: { done: number; total: number }): string {
    return `about ${durationOf(Math.ceil((j.total - j.done) * 0.056))} left at 18 a second`;
  }
  protected async start(): Promise<void> {
    await this.lookUp.ask(this.store.acting, this.store.everybody());
  }
}
