import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { listMoney, topUp } from '@long-gate/contracts';
import { formatAmount, parseAmount } from '@long-gate/core';
import { Api } from '../../api/api';
import { Confirm } from '../../parts/confirm';
import { MomentPipe, MoneyPipe } from '../../parts/format';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';

/** The prepaid balance: top up, and every charge with what caused it. */
@Component({
  selector: 'lg-money-settings',
  imports: [RouterLink, MoneyPipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Balance {{ session.business()?.balance | money }}</h2>
    @if (session.isAdministrator()) {
      <form (submit)="pay(); $event.preventDefault()">
        <div class="field" [class.wrong]="wrong()">
          <label for="amount">Top up by <span>dollars, such as 50 or 50.00</span></label>
          <div class="line">
            <input
              id="amount"
              class="text"
              inputmode="decimal"
              [value]="amount()"
              (input)="amount.set($any($event.target).value)"
            /><button type="submit" class="do main" [disabled]="busy()">Top up…</button>
          </div>
          @if (wrong()) {
            <p class="error" role="alert">{{ wrong() }}</p>
          }
        </div>
      </form>
    }
    <table class="ledger">
      <thead>
        <tr>
          <th>When</th>
          <th>What</th>
          <th class="right">Amount</th>
          <th class="right">Balance</th>
        </tr>
      </thead>
      <tbody>
        @for (e of rows.rows(); track e.id) {
          <tr>
            <td class="soft">{{ e.at | moment }}</td>
            <td>
              @if (place(e); as to) {
                <a [routerLink]="to">{{ e.what }}</a>
              } @else {
                {{ e.what }}
              }
            </td>
            <td class="right" [class.pass]="e.amount > 0">
              {{ e.amount > 0 ? '+' : '' }}{{ e.amount | money: 'exact' }}
            </td>
            <td class="right soft">{{ e.balanceAfter | money }}</td>
          </tr>
        } @empty {
          <tr>
            <td colspan="4" class="soft">{{ rows.loading() ? 'Reading…' : 'Nothing yet. Top up to begin.' }}</td>
          </tr>
        }
      </tbody>
    </table>
    @if (!rows.ended() && rows.total()) {
      <p><button type="button" class="do" (click)="rows.more()">Show more</button></p>
    }
  `,
  styles: `
    form {
      max-width: 320px;
      margin: 12px 0;
    }
    .line {
      display: flex;
      gap: 8px;
    }
  `,
})
export class MoneySettings {
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly amount = signal('');
  protected readonly wrong = signal('');
  protected readonly busy = signal(false);
  protected readonly rows = new PagedRows(
    computed(() => this.session.businessId() || undefined),
    (businessId, cursor, limit) => this.api.call(listMoney, { params: { businessId }, query: { cursor, limit } }),
    60,
  );

  constructor() {
    onTopics(['settings'], () => this.rows.refresh());
  }

  protected place(e: { objectKind: string; objectId: string }): string[] | null {
    const base = ['/b', this.session.businessId()];
    if (e.objectKind === 'dispatch') return [...base, 'dispatch', e.objectId];
    if (e.objectKind === 'campaign') return [...base, 'registration', 'campaigns', e.objectId];
    if (e.objectKind === 'brand') return [...base, 'registration', 'brand'];
    if (e.objectKind === 'number') return [...base, 'numbers'];
    if (e.objectKind === 'thread') return [...base, 'inbox'];
    return null;
  }

  protected async pay(): Promise<void> {
    let micros = 0;
    try {
      micros = parseAmount(this.amount());
      this.wrong.set(micros < 1_000_000 ? 'A top-up is at least 1.00.' : '');
    } catch (error) {
      this.wrong.set((error as Error).message);
    }
    if (this.wrong()) return;
    if (
      !(await this.confirm.ask({
        title: `Top up ${formatAmount(micros)}?`,
        line: `${formatAmount(micros)} now, nothing monthly. On the balance at once. The money is simulated like the rest of the outside.`,
        yes: `Top up ${formatAmount(micros)}`,
      }))
    )
      return;
    this.busy.set(true);
    try {
      await this.api.call(topUp, { params: { businessId: this.session.businessId() }, body: { amount: micros } });
      await this.session.load();
      this.amount.set('');
      this.rows.refresh();
      this.say.done(`The balance is ${formatAmount(this.session.business()?.balance ?? 0)}.`);
    } catch (error) {
      this.say.problem(error);
    } finally {
      this.busy.set(false);
    }
  }
}
