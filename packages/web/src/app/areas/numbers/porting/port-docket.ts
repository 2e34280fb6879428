import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { PortView } from '@long-gate/contracts';
import { addBusinessDays, dayIn, daysBetween, formatAmount, PORT_ZONE } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { DateField } from '../../../parts/form/date-field';
import { momentIn, MomentPipe, MoneyPipe } from '../../../parts/format';
import { zoneOf } from '../../../state/zone';
import { History } from '../../../parts/history';
import { DayPipe, FACT_LABELS, toneOf } from './port-words';
import { PortStore } from './port.store';

/** A date farther away is asked about. */
const FAR_DAYS = 30;

/** Where a request stands: the next step, the way in business days, the runbook of the day, and what can be done. */
@Component({
  selector: 'lg-port-docket',
  imports: [MatCheckboxModule, MatButtonModule, RouterLink, DateField, MomentPipe, MoneyPipe, DayPipe, History],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="kind">
      <span>Port-in</span><span>{{ port().attempt > 1 ? 'try ' + port().attempt : '' }}</span>
    </div>
    <h2 [class]="tone(port())">{{ port().state }}{{ port().late ? ', late' : '' }}</h2>
    <div class="step" [class.pass]="tone(port()) === 'pass'" [class.hold]="tone(port()) === 'hold'">
      <span class="strong">{{ port().nextStep.title }}</span> {{ port().nextStep.why }}
    </div>
    @if (keepOld()) {
      <p class="problem">
        <span class="strong">Keep the old service running</span> until the numbers have landed. Ending it before loses
        them.
      </p>
    }
    <h3>The way, in business days</h3>
    <ol class="way">
      @for (t of port().timeline; track t.step) {
        <li [class]="t.state">
          <span class="strong">{{ t.step }}</span>&ngsp;<span
            [class]="t.state === 'late' || t.state === 'failed' ? 'stop' : 'soft'"
            >{{ words[t.state] }} {{ t.day ? (t.day | day) : '' }}</span
          >
          <div class="soft small">{{ t.note }}</div>
        </li>
      }
    </ol>
    @if (port().state === 'accepted') {
      <dl class="facts">
        <dt>FOC date</dt>
        <dd>{{ port().focAt | moment: 'zone' }}</dd>
        <dt>Changes until</dt>
        <dd>{{ port().lastDayToChange | day }}</dd>
        @if (port().askedDate) {
          <dt>Asked for</dt>
          <dd class="hold">{{ port().askedDate | day }}, not answered yet</dd>
        }
      </dl>
      @if (session.isAdministrator() && port().mayMoveDate) {
        <form class="row-fields move" (submit)="move($event)">
          <lg-date-field
            label="Another FOC date"
            name="day"
            [from]="earliest()"
            [value]="day()"
            (changed)="day.set($event)"
          />
          <button type="submit" matButton="outlined" [disabled]="busy() || !day()">Ask</button>
        </form>
      } @else if (session.isAdministrator() && !port().askedDate) {
        <p class="soft small">
          The days for another date or the end are over. After landing there are 72 hours to have them go back.
        </p>
      }
    }
    @if (running()) {
      <h3>Runbook of the day</h3>
      <p class="soft small">
        What pauses: texts to and from the numbers, for minutes as a rule, up to three days at worst. Calls move to the
        handling prepared here.
      </p>
      @for (r of port().runbook; track r.test) {
        <mat-checkbox
          class="check"
          [checked]="r.done"
          [disabled]="busy() || !session.isAdministrator()"
          (change)="store.tick(r.test, $event.checked)"
          >{{ r.what }}
          @if (r.at) {
            <span class="soft small">{{ r.at | moment: 'short' }}</span>
          }
          @if (r.failedAt) {
            <span class="stop small">failed {{ r.failedAt | moment: 'short' }}: a call came, and nobody took it</span>
          }
        </mat-checkbox>
      }
      <p class="soft small">Each is noted by itself when the text or call that proves it comes.</p>
      @if (port().callsNowhere.length > 0) {
        <p class="hold small">
          Calls to {{ port().callsNowhere.length === 1 ? 'the number' : port().callsNowhere.length + ' numbers' }} go
          nowhere yet: name a line for them above, or they ring and nobody answers.
        </p>
      }
    }
    @if (port().changedSince.length > 0) {
      <h3>Changed since the last submission</h3>
      <ul class="changed">
        @for (c of port().changedSince; track c.field) {
          <li>
            <span class="strong">{{ labels[c.field] }}:</span> <del class="stop">{{ c.before || '(empty)' }}</del>
            {{ c.after || '(empty)' }}
          </li>
        }
      </ul>
    }
    <hr class="rule" />
    <dl class="facts">
      <dt>From</dt>
      <dd>{{ port().losingCarrier }}</dd>
      <dt>Costs</dt>
      <dd>
        @if (port().costNow < 0) {
          {{ -port().costNow | money }} come back now,
        } @else {
          {{ port().costNow | money }} now,
        }
        then {{ port().costMonthly | money }} monthly
      </dd>
      @for (n of landed(); track n.e164) {
        <dt>Landed</dt>
        <dd>
          <a [routerLink]="['/b', session.businessId(), 'numbers']" [queryParams]="{ open: n.numberId }"
            >In the inventory</a
          >
        </dd>
      }
    </dl>
    @if (session.isAdministrator()) {
      <p class="ends">
        @if (mayCancel()) {
          <button type="button" matButton="outlined" class="danger" [disabled]="busy()" (click)="cancel()">
            Cancel the port…
          </button>
        }
        @if (port().snapBackUntil; as until) {
          <button type="button" matButton="outlined" class="danger" [disabled]="busy()" (click)="snapBack(until)">
            Have them go back…
          </button>
        }
      </p>
    }
    <lg-history kind="port" [object]="port().id" />
  `,
  styles: `
    h3 {
      margin: 14px 0 6px;
    }
    .way li {
      padding: 0 0 8px 12px;
      border-left: 2px solid var(--hairline);
    }
    .way li.done {
      border-color: var(--pass);
    }
    .way li.now,
    .way li.expected {
      border-color: var(--hold);
    }
    .way li.late,
    .way li.failed {
      border-color: var(--stop);
    }
    .move {
      align-items: end;
      margin-top: 8px;
    }
    .move button {
      margin-bottom: 14px;
    }
    .move button {
      flex: none;
    }
    .check {
      margin: 4px 0;
    }
    .changed li {
      font-size: 13px;
      padding: 2px 0;
      overflow-wrap: anywhere;
    }
    .ends {
      display: flex;
      gap: 8px;
      flex-wrap: wrap;
      margin-top: 12px;
    }
  `,
})
export class PortDocket {
  readonly port = input.required<PortView>();
  protected readonly store = inject(PortStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly busy = this.store.acting.busy;
  protected readonly day = signal('');
  /** Two business days from today: nothing sooner is granted. */
  protected readonly earliest = computed(() => addBusinessDays(dayIn(this.session.now(), PORT_ZONE), 2));
  protected readonly labels = FACT_LABELS;
  protected readonly tone = toneOf;
  protected readonly words = {
    done: '',
    now: 'under way,',
    expected: 'expected by',
    late: 'late, due',
    ahead: '',
    failed: 'no further',
  } as const;

  protected keepOld(): boolean {
    return ['submitted', 'accepted', 'cutting over'].includes(this.port().state);
  }
  protected running(): boolean {
    return ['accepted', 'cutting over', 'done'].includes(this.port().state);
  }
  protected mayCancel(): boolean {
    return this.port().mayCancel;
  }
  protected landed(): PortView['numbers'] {
    return this.port().numbers.filter((n) => n.numberId !== null);
  }
  protected async cancel(): Promise<void> {
    const paid = this.port().attempt > 0 ? this.port().costMonthly - this.port().costNow : 0;
    if (
      !(await this.confirm.ask({
        title: 'Cancel the port?',
        line: `The numbers stay with ${this.port().losingCarrier}. ${paid > 0 ? `${formatAmount(paid)} come back to the balance. ` : ''}Nothing that was written is lost, but the request cannot be taken up again.`,
        yes: 'Cancel the port',
        no: 'Keep it',
      }))
    )
      return;
    await this.store.cancel();
  }

  protected async snapBack(until: number): Promise<void> {
    if (
      !(await this.confirm.ask({
        title: 'Have the numbers go back?',
        line: `Possible until ${momentIn(until, zoneOf(this.session.business()), 'zone')}. They leave the inventory and go back to ${this.port().losingCarrier} within hours; the first month is not refunded.`,
        yes: 'Have them go back',
        no: 'Keep them',
      }))
    )
      return;
    await this.store.snapBack();
  }

  protected async move(event: Event): Promise<void> {
    event.preventDefault();
    const day = this.day();
    const away = daysBetween(dayIn(this.session.now(), PORT_ZONE), day);
    if (
      away > FAR_DAYS &&
      !(await this.confirm.ask({
        title: 'Ask for a date so far away?',
        line: `${day} is ${away} days from now. Until then the numbers, and their bills, stay with ${this.port().losingCarrier}; letter and PIN may be too old by then.`,
        yes: 'Ask for it',
        no: 'Choose another',
      }))
    )
      return;
    await this.store.move(day);
  }
}
