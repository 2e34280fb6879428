import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import {
  listMoney,
  moneyOutlookOf,
  moneyStatementCsv,
  moneyStatementPdf,
  setAutoTopUp,
  topUp,
} from '@long-gate/contracts';
import { formatAmount, parseAmount } from '@long-gate/core';
import { Api } from '../../api/api';
import { Confirm } from '../../parts/confirm';
import { CountPipe, MomentPipe, MoneyPipe } from '../../parts/format';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { Say } from '../../parts/say';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** The prepaid balance: top up, and every charge with what caused it. */
@Component({
  selector: 'lg-money-settings',
  imports: [MatInputModule, MatButtonModule, RouterLink, CountPipe, MoneyPipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Balance {{ session.business()?.balance | money }}</h2>
    @if (session.isAdministrator()) {
      <form (submit)="pay(); $event.preventDefault()">
        <div class="field" [class.wrong]="wrong()">
          <label for="amount">Top up by <span>dollars, such as 50 or 50.00</span></label>
          <div class="line">
            <mat-form-field
              ><input
                matInput
                id="amount"
                inputmode="decimal"
                [value]="amount()"
                (input)="amount.set($any($event.target).value)" /></mat-form-field
            ><button type="submit" matButton="filled" [disabled]="busy()">Top up…</button>
          </div>
          @if (wrong()) {
            <p class="error" role="alert">{{ wrong() }}</p>
          }
        </div>
      </form>
    }
    @if (outlook.value(); as o) {
      <div class="columns">
        <div>
          <h3>At the current pace</h3>
          <p>
            @if (o.daysLeft === null) {
              Nothing is spent at present.
            } @else {
              <span class="strong" [class.hold]="o.daysLeft < 14">{{ o.daysLeft | count }} days left</span>:
              {{ o.perDay | money }} a day, monthly fees included.
            }
          </p>
          <h3>Top up by itself</h3>
          @if (session.isAdministrator()) {
            <form (submit)="setAuto(); $event.preventDefault()">
              <div class="row-fields">
                <div class="field">
                  <label for="below">Below</label
                  ><mat-form-field
                    ><input
                      matInput
                      id="below"
                      inputmode="decimal"
                      placeholder="never"
                      [value]="below()"
                      (input)="below.set($any($event.target).value)"
                  /></mat-form-field>
                </div>
                <div class="field">
                  <label for="autoAmount">By</label
                  ><mat-form-field
                    ><input
                      matInput
                      id="autoAmount"
                      inputmode="decimal"
                      [value]="autoAmount()"
                      (input)="autoAmount.set($any($event.target).value)"
                  /></mat-form-field>
                </div>
              </div>
              @if (wrongAuto()) {
                <p class="error" role="alert">{{ wrongAuto() }}</p>
              }
              <button type="submit" matButton="outlined" [disabled]="busy()">Set</button>
              <span class="soft small"> Leave “below” empty for never. At most three times in 24 hours.</span>
            </form>
          } @else {
            <p>
              {{
                o.autoBelow > 0 ? 'Below ' + (o.autoBelow | money) + ', by ' + (o.autoAmount | money) + '.' : 'Never.'
              }}
            </p>
          }
        </div>
        <div>
          <h3>Next month, at this pace</h3>
          <table class="ledger">
            <tbody>
              @for (l of o.nextMonth; track l.kind) {
                <tr>
                  <td>{{ l.kind }}{{ l.count ? ' (' + l.count + ')' : '' }}</td>
                  <td class="right">{{ l.amount | money }}</td>
                </tr>
              } @empty {
                <tr>
                  <td class="soft" colspan="2">Nothing that costs.</td>
                </tr>
              }
              <tr>
                <td class="strong">all together</td>
                <td class="right strong">{{ o.total | money }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
    }
    <div class="head">
      <h3>Charges and top-ups</h3>
      <label class="soft" for="month">Statement of</label
      ><mat-form-field class="month"
        ><input matInput id="month" type="month" [value]="month()" (input)="month.set($any($event.target).value)"
      /></mat-form-field>
      <a matButton="outlined" [href]="statement('csv')" download>CSV</a>
      <a matButton="outlined" [href]="statement('pdf')" download>PDF</a>
    </div>
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
                <a [routerLink]="to.link" [queryParams]="to.open ? { open: to.open } : {}">{{ e.what }}</a>
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
      <p><button type="button" matButton="outlined" (click)="rows.more()">Show more</button></p>
    }
  `,
  styles: `
    form {
      max-width: 320px;
      margin: 12px 0;
    }
    h3 {
      margin: 8px 0 4px;
    }
    .head {
      margin-top: 18px;
    }
    .head h3 {
      flex: 1;
    }
    .month {
      width: 190px;
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

  protected readonly outlook = liveResource(
    ['settings', 'numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(moneyOutlookOf, { params: { businessId } }),
  );
  protected readonly below = linkedSignal(() => amountOf(this.outlook.value()?.autoBelow));
  protected readonly autoAmount = linkedSignal(() => amountOf(this.outlook.value()?.autoAmount));
  protected readonly wrongAuto = signal('');
  protected readonly month = linkedSignal({
    source: () => this.session.businessId(),
    computation: () => new Date(this.session.now()).toISOString().slice(0, 7),
  });

  constructor() {
    onTopics(['settings'], () => this.rows.refresh());
  }

  /** Where a charge came from. */
  protected place(e: { objectKind: string; objectId: string }): { link: string[]; open: string | null } | null {
    const base = ['/b', this.session.businessId()];
    switch (e.objectKind) {
      case 'dispatch':
        return { link: [...base, 'dispatch', e.objectId], open: null };
      case 'campaign':
        return { link: [...base, 'registration', 'campaigns', e.objectId], open: null };
      case 'brand':
        return { link: [...base, 'registration', 'brand'], open: null };
      case 'number':
        return { link: [...base, 'numbers'], open: e.objectId };
      case 'port':
        return { link: [...base, 'numbers', 'ports', e.objectId], open: null };
      case 'hosted':
        return { link: [...base, 'numbers', 'hosted'], open: e.objectId };
      case 'thread':
        return { link: [...base, 'inbox'], open: null };
      case 'lookups':
        return { link: [...base, 'contacts'], open: null };
      default:
        return null;
    }
  }

  protected statement(kind: 'csv' | 'pdf'): string {
    return this.api.address(kind === 'csv' ? moneyStatementCsv : moneyStatementPdf, {
      params: { businessId: this.session.businessId() },
      query: { month: this.month() },
    });
  }

  protected async setAuto(): Promise<void> {
    this.wrongAuto.set('');
    try {
      const below = this.below().trim() === '' ? 0 : parseAmount(this.below());
      const amount = below === 0 ? 0 : parseAmount(this.autoAmount());
      if (
        below > 0 &&
        !(await this.confirm.ask({
          title: 'Top up by itself?',
          line: `Whenever the balance falls below ${formatAmount(below)}, ${formatAmount(amount)} are added, at most three times in 24 hours. Nothing now unless it is below already. It can be ended at any time.`,
          yes: 'Top up by itself',
        }))
      )
        return;
      this.busy.set(true);
      await this.api.call(setAutoTopUp, {
        params: { businessId: this.session.businessId() },
        body: { below, amount },
      });
      this.outlook.reload();
      this.say.done(below > 0 ? 'It tops up by itself from now on.' : 'It does not top up by itself any more.');
    } catch (error) {
      this.wrongAuto.set((error as Error).message);
    } finally {
      this.busy.set(false);
    }
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

function amountOf(micros: number | undefined): string {
  return micros ? formatAmount(micros) : '';
}
