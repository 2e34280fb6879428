import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Basket } from '@long-gate/contracts';
import { formatAmount, formatPhone } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { readOf } from '../../../parts/form/control-state';
import { flag } from '../../../parts/form/controls';
import { MoneyPipe, PhonePipe } from '../../../parts/format';
import { OwnMobile } from '../../../parts/own-mobile';
import { CodeProgramme } from './code-programme';
import { AcquireStore } from './acquire.store';

/** Numbers kept aside: what an order of them costs now and monthly, and what still has to happen before they may send. */
@Component({
  selector: 'lg-basket-panel',
  imports: [
    CodeProgramme,
    MatCheckboxModule,
    MatButtonModule,
    ReactiveFormsModule,
    RouterLink,
    OwnMobile,
    MoneyPipe,
    PhonePipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="kind"><span>Kept aside</span></div>
    <h2>{{ basket().items.length }} {{ basket().items.length === 1 ? 'number' : 'numbers' }}</h2>
    @for (i of basket().items; track i.e164) {
      <div class="item">
        <span>
          <span class="mono">{{ i.e164 | phone }}</span>
          @if (i.forwardTo) {
            <span class="soft small"> calls go to {{ i.forwardTo | phone }}</span>
          }
          @if (i.putBy) {
            <span class="soft small"> chosen by {{ i.putBy }}</span>
          }
        </span>
        <span class="soft small">{{ left(i.heldUntil) }}</span>
        <button
          type="button"
          matButton
          class="plain"
          [attr.aria-label]="'Put back ' + (i.e164 | phone)"
          (click)="store.drop(i.e164)"
        >
          put back
        </button>
      </div>
      @if (i.kind === 'short code') {
        <lg-code-programme [item]="i" />
      }
    }
    @if (lapsed() > 0) {
      <p class="soft small">
        The ten minutes are over for {{ lapsed() === 1 ? 'one' : lapsed() }}. Ordering keeps
        {{ lapsed() === 1 ? 'it' : 'them' }} aside anew, unless somebody was faster.
      </p>
    }
    <hr class="rule" />
    <dl class="facts">
      <dt>Now</dt>
      <dd class="strong">{{ basket().costNow | money }}</dd>
      <dt>Monthly</dt>
      <dd>{{ basket().costMonthly | money }}, from the second month</dd>
      <dt>Balance</dt>
      <dd>{{ basket().balance | money }}</dd>
    </dl>
    <h3>Before they may send</h3>
    <p class="soft small">{{ basket().takes }}</p>
    <ul>
      @for (s of basket().steps; track s.title) {
        <li>
          <span [class]="s.done ? 'pass' : 'hold'">{{ s.done ? 'done' : 'still' }}</span>
          @if (s.done) {
            <span>{{ s.title }}</span>
          } @else {
            <a [routerLink]="['/b', session.businessId()].concat(s.link.split('/'))">{{ s.title }}</a>
          }
        </li>
      }
    </ul>
    @if (basket().blocked) {
      <div class="step stop" role="alert">{{ basket().blocked }}</div>
    } @else if (basket().missing > 0) {
      <div class="step">
        <span class="strong">{{ basket().missing | money }} is missing.</span> What you chose stays in the basket
        meanwhile.
        <div>
          <a
            matButton="filled"
            [routerLink]="['/b', session.businessId(), 'settings', 'money']"
            [queryParams]="{ amount: plain(basket().missing), back: here() }"
            >Top up by {{ basket().missing | money }}</a
          >
        </div>
      </div>
    } @else if (basket().accountState !== 'open') {
      <div class="step hold">
        <span class="strong">{{
          basket().accountState === 'in review' ? 'The provider looks at the account.' : 'Open the account first.'
        }}</span>
        What you chose stays in the basket meanwhile.
        <div>
          <a matButton="outlined" [routerLink]="['/b', session.businessId(), 'settings', 'business']">To the account</a>
        </div>
      </div>
    } @else if (!basket().mobileConfirmed) {
      <div class="step hold">
        <span class="strong">Confirm your own mobile once.</span> It shows who buys.
        <lg-own-mobile (confirmed)="store.basket.reload()" />
      </div>
    } @else {
      <mat-checkbox class="check" [formControl]="terms"
        >Set-up is not refunded once a number is active; it is leased month by month and may be released at any time;
        texts only to people who agreed.</mat-checkbox
      >
      <button type="button" matButton="filled" [disabled]="busy() || !agreed()" (click)="order()">
        Order for {{ basket().costNow | money }}…
      </button>
    }
  `,
  styles: `
    .item {
      display: grid;
      grid-template-columns: 1fr auto auto;
      gap: 10px;
      padding: 5px 0;
      border-bottom: 1px solid var(--hairline);
    }
    h3 {
      margin: 14px 0 6px;
    }
    li {
      display: grid;
      grid-template-columns: 42px 1fr;
      gap: 6px;
      padding: 2px 0;
    }
    .check {
      margin: 14px 0 10px;
    }
  `,
})
export class BasketPanel {
  readonly basket = input.required<Basket>();
  protected readonly store = inject(AcquireStore);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly busy = this.store.acting.busy;
  protected readonly terms = flag();
  protected readonly agreed = readOf(
    () => this.terms,
    (c) => c.value,
  );

  protected readonly lapsed = computed(
    () => this.basket().items.filter((i) => i.heldUntil <= this.session.now()).length,
  );

  protected left(until: number): string {
    const ms = until - this.session.now();
    if (ms <= 0) return 'time is over';
    return ms < 60_000 ? 'less than a minute' : `${Math.floor(ms / 60_000)} min left`;
  }

  /** The place one comes back to once the money is there. */
  protected here(): string {
    return this.router.url.replace(/^\/b\/[^/]+\//, '');
  }
  /** What has to be topped up for an amount: whole cents, and no less than is taken. */
  protected plain(amount: number): string {
    return Math.max(1, Math.ceil(amount / 10_000) / 100).toFixed(2);
  }

  protected async order(): Promise<void> {
    const b = this.basket();
    const which = b.items.length === 1 ? formatPhone(b.items[0]?.e164 ?? '') : `${b.items.length} numbers`;
    if (
      !(await this.confirm.ask({
        title: `Order ${which}?`,
        line: `${formatAmount(b.costNow)} now, then ${formatAmount(b.costMonthly)} monthly. Active in about half a minute, a short code in months. What cannot be filled is refunded; set-up is not, once a number is active.`,
        yes: `Order for ${formatAmount(b.costNow)}`,
      }))
    )
      return;
    const made = await this.store.order(`${which} ${b.items.length === 1 ? 'is' : 'are'} ordered.`);
    if (!made) return;
    this.terms.reset();
    void this.router.navigate(['/b', this.session.businessId(), 'numbers'], {
      queryParams: made.numbers.length === 1 ? { open: made.numbers[0]?.id } : { order: made.orderId },
    });
  }
}
