import { ChangeDetectionStrategy, Component, computed, inject, input, resource, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { orderNumber, searchNumbers } from '@long-gate/contracts';
import { formatAmount, formatPhone } from '@long-gate/core';
import { Api } from '../../api/api';
import { Confirm } from '../../parts/confirm';
import { MoneyPipe, PhonePipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { checkWith } from '../../parts/schema-form';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { NumbersTabs } from './numbers-tabs';

/** Searches the number exchange by area code, and buys. */
@Component({
  selector: 'lg-acquire',
  imports: [PageTitle, NumbersTabs, RouterLink, MoneyPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="numbers:" of="get a number" /><a
            class="do"
            [routerLink]="['/b', session.businessId(), 'numbers']"
            >Back to the list</a
          >
        </div>
        <lg-numbers-tabs />
        @if (session.business()?.accountState !== 'open') {
          <div class="problem">
            The account is {{ session.business()?.accountState }}. You can search; buying is possible once it is open.
            <a [routerLink]="['/b', session.businessId(), 'settings', 'business']">Open the account</a>
          </div>
        }
        <form class="ask" (submit)="search($event)">
          <div class="field" [class.wrong]="wrong()">
            <label for="code">Area code <span>three digits, such as 551</span></label>
            <div class="line">
              <input
                #code
                id="code"
                class="text mono"
                inputmode="numeric"
                maxlength="3"
                autocomplete="off"
                [value]="areaCode() ?? ''"
              /><button type="submit" class="do main">Search</button>
            </div>
            @if (wrong()) {
              <p class="error" role="alert">{{ wrong() }}</p>
            }
          </div>
        </form>
        @if (found.isLoading()) {
          <p class="soft">Asking the exchange…</p>
        } @else if (found.error()) {
          <div class="problem" role="alert">
            {{ found.error()?.message }} <button type="button" class="plain" (click)="found.reload()">Try again</button>
          </div>
        } @else if (found.value(); as f) {
          @if (f.offers.length > 0) {
            <h2>
              {{ f.offers.length }} numbers in {{ f.areaCode }} <span class="soft">{{ f.place }}</span>
            </h2>
            <table class="ledger">
              <thead>
                <tr>
                  <th>Number</th>
                  <th>Can</th>
                  <th class="right">Once</th>
                  <th class="right">Monthly</th>
                  <th></th>
                </tr>
              </thead>
              <tbody>
                @for (o of f.offers; track o.e164) {
                  <tr>
                    <td class="mono">{{ o.e164 | phone }}</td>
                    <td class="soft">{{ o.capabilities.join(', ') }}</td>
                    <td class="right">{{ o.setup | money }}</td>
                    <td class="right">{{ o.monthly | money }}</td>
                    <td class="right">
                      <button type="button" class="do" [disabled]="!mayBuy() || busy()" (click)="buy(o)">Buy…</button>
                    </td>
                  </tr>
                }
              </tbody>
            </table>
          } @else {
            <div class="empty">
              <h2>{{ f.place ? 'No stock in ' + f.areaCode : 'There is no area code ' + f.areaCode }}</h2>
              <p>
                {{
                  f.place
                    ? 'The exchange has no number in ' + f.areaCode + ' (' + f.place + ') now.'
                    : 'Check the three digits.'
                }}
              </p>
              @if (f.neighbours.length > 0) {
                <p>Nearest area codes with numbers:</p>
                <ul>
                  @for (n of f.neighbours; track n.code) {
                    <li>
                      <button type="button" class="plain" (click)="go(n.code)">
                        <span class="mono">{{ n.code }}</span> {{ n.state }}</button
                      >&ngsp;<span class="soft"
                        >{{ n.km === 0 ? 'same area' : n.km + ' km' }}, {{ n.count }} numbers</span
                      >
                    </li>
                  }
                </ul>
              }
            </div>
          }
        } @else {
          <p class="soft">
            People trust a number from their own area. Prices are shown with each number; nothing is bought before you
            have seen what it costs.
          </p>
        }
      </div>
    </div>
  `,
  styles: `
    .ask {
      max-width: 360px;
    }
    .line {
      display: flex;
      gap: 8px;
    }
    li {
      padding: 3px 0;
      display: flex;
      gap: 12px;
    }
    li button {
      min-width: 70px;
    }
    td .do {
      min-height: 28px;
      padding: 2px 12px;
    }
    h2 {
      margin: 8px 0;
    }
  `,
})
export class Acquire {
  readonly areaCode = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly wrong = signal('');
  protected readonly busy = signal(false);
  protected readonly mayBuy = computed(
    () => this.session.isAdministrator() && this.session.business()?.accountState === 'open',
  );
  protected readonly found = resource({
    params: () =>
      this.areaCode() && this.session.businessId()
        ? { areaCode: this.areaCode() as string, businessId: this.session.businessId() }
        : undefined,
    loader: ({ params }) =>
      this.api.call(searchNumbers, { params: { businessId: params.businessId }, query: { areaCode: params.areaCode } }),
  });

  protected search(event: Event): void {
    event.preventDefault();
    const code = (event.target as HTMLFormElement).querySelector<HTMLInputElement>('#code')?.value.trim() ?? '';
    this.wrong.set(checkWith(searchNumbers.query, { areaCode: code })['areaCode'] ?? '');
    if (this.wrong() === '') this.go(code);
  }

  protected go(areaCode: string): void {
    void this.router.navigate([], { queryParams: { areaCode } });
  }

  protected async buy(o: { e164: string; setup: number; monthly: number }): Promise<void> {
    const balance = this.session.business()?.balance ?? 0;
    const now = o.setup + o.monthly;
    if (balance < now) {
      const go = await this.confirm.ask({
        title: 'The balance does not reach',
        line: `This costs ${formatAmount(now)} now; the balance is ${formatAmount(balance)}, so ${formatAmount(now - balance)} is missing.`,
        yes: 'Top up',
      });
      if (go) void this.router.navigate(['/b', this.session.businessId(), 'settings', 'money']);
      return;
    }
    const key = crypto.randomUUID();
    const yes = await this.confirm.ask({
      title: `Buy ${formatPhone(o.e164)}?`,
      line: `${formatAmount(now)} now (set-up ${formatAmount(o.setup)}, first month ${formatAmount(o.monthly)}), then ${formatAmount(o.monthly)} monthly. Active in about half a minute. It may send once it is tied to a registered campaign. Set-up is not refunded.`,
      yes: `Buy for ${formatAmount(now)}`,
    });
    if (!yes) return;
    this.busy.set(true);
    try {
      const made = await this.api.call(orderNumber, {
        params: { businessId: this.session.businessId() },
        body: { e164: o.e164 },
        key,
      });
      this.say.done(`${formatPhone(made.e164)} is ordered.`);
      void this.router.navigate(['/b', this.session.businessId(), 'numbers'], { queryParams: { open: made.id } });
    } catch (error) {
      this.say.problem(error);
      this.found.reload();
    } finally {
      this.busy.set(false);
    }
  }
}
