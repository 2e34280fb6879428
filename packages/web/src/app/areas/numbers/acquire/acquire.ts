import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  resource,
  signal,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { getBasket, putAside, searchNumbers, type Basket, type OfferView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import type { z } from 'zod';
import { Api } from '../../../api/api';
import { MoneyPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { checkWith } from '../../../parts/schema-form';
import { Say } from '../../../parts/say';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';
import { BasketPanel } from './basket-panel';

type Wish = z.input<typeof searchNumbers.query>;

/** Looks for numbers at the exchange and keeps chosen ones aside until they are ordered. */
@Component({
  selector: 'lg-acquire',
  imports: [
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    BasketPanel,
    RouterLink,
    MoneyPipe,
    PhonePipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="numbers:" of="get a number" />
          <a matButton="outlined" [routerLink]="['/b', session.businessId(), 'numbers', 'need']"
            >Which kind do I need?</a
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
          <div class="row-fields">
            <div class="field">
              <label for="kind">Kind</label>
              <mat-form-field
                ><select matNativeControl id="kind" (change)="kindTyped.set($any($event.target).value)">
                  @for (k of kinds; track k) {
                    <option [value]="k" [selected]="kindTyped() === k">{{ k }}</option>
                  }
                </select></mat-form-field
              >
            </div>
            @if (kindTyped() === 'local') {
              <div class="field">
                <label for="country">Country</label>
                <mat-form-field
                  ><select matNativeControl id="country" (change)="countryTyped.set($any($event.target).value)">
                    <option value="US" [selected]="countryTyped() === 'US'">United States</option>
                    <option value="CA" [selected]="countryTyped() === 'CA'">Canada</option>
                  </select></mat-form-field
                >
              </div>
              <div class="field" [class.wrong]="wrong()['where']">
                <label for="where">Area code or state</label
                ><mat-form-field
                  ><input
                    matInput
                    id="where"
                    autocomplete="off"
                    placeholder="551, or New Jersey"
                    [value]="whereTyped()"
                    (input)="whereTyped.set($any($event.target).value)"
                /></mat-form-field>
              </div>
            }
            <div class="field" [class.wrong]="wrong()['digits']">
              <label for="digits">Digits or letters in it</label
              ><mat-form-field
                ><input
                  matInput
                  id="digits"
                  class="mono"
                  autocomplete="off"
                  placeholder="42, BOAT, 01?7"
                  [value]="digitsTyped()"
                  (input)="digitsTyped.set($any($event.target).value)"
              /></mat-form-field>
            </div>
            <div class="field narrow">
              <label for="count">How many</label
              ><mat-form-field
                ><input
                  matInput
                  id="count"
                  inputmode="numeric"
                  [value]="countTyped()"
                  (input)="countTyped.set($any($event.target).value)"
              /></mat-form-field>
            </div>
          </div>
          <div class="line">
            @for (
              c of [
                ['pictures', 'can pictures'],
                ['voice', 'can voice'],
              ];
              track c[0]
            ) {
              <mat-checkbox class="check" [checked]="canTyped().includes(c[0]!)" (change)="toggle(c[0]!)">{{
                c[1]
              }}</mat-checkbox>
            }
            <button type="submit" matButton="filled">Search</button>
          </div>
          @for (w of problems(); track w) {
            <p class="error" role="alert">{{ w }}</p>
          }
        </form>
        @if (found.isLoading()) {
          <p class="soft">Asking the exchange…</p>
        } @else if (found.error()) {
          <div class="problem" role="alert">
            {{ found.error()?.message }}
            <button type="button" matButton class="plain" (click)="found.reload()">Try again</button>
          </div>
        } @else if (found.value(); as f) {
          @if (f.problem) {
            <p class="error" role="alert">{{ f.problem }}</p>
          } @else if (f.offers.length > 0) {
            <h2>
              {{ f.offers.length }} {{ f.offers.length === 1 ? 'number' : 'numbers'
              }}{{ where() ? ' in ' + where() : '' }} <span class="soft">{{ f.place }}</span>
            </h2>
            <table class="ledger tight">
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
                      @if (aside().includes(o.e164)) {
                        <span class="pass">kept aside</span>
                      } @else if (session.isAdministrator()) {
                        <button type="button" matButton="outlined" [disabled]="busy()" (click)="keep(o)">
                          Keep aside
                        </button>
                      }
                    </td>
                  </tr>
                }
              </tbody>
            </table>
          } @else {
            <div class="empty">
              <h2>No stock{{ where() ? ' in ' + where() : '' }}</h2>
              <p>
                The exchange has no such number{{ f.place ? ' in ' + f.place : '' }} now.
                {{ digits() || can() ? 'Ask for fewer digits or abilities, or look elsewhere.' : '' }}
              </p>
              @if (f.neighbours.length > 0) {
                <p>Nearest area codes with numbers:</p>
                <ul>
                  @for (n of f.neighbours; track n.code) {
                    <li>
                      <button type="button" matButton class="plain" (click)="go({ where: n.code })">
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
      @if (basket.value(); as b) {
        @if (b.items.length > 0) {
          <lg-basket-panel class="docket" [basket]="b" (changed)="take($event)" (ordered)="basket.reload()" />
        }
      }
    </div>
  `,
  styles: `
    .ask {
      max-width: 820px;
      margin-bottom: 12px;
    }
    .field {
      margin-bottom: 8px;
    }
    .narrow {
      max-width: 90px;
    }
    .line {
      display: flex;
      gap: 18px;
      align-items: center;
    }
    li {
      padding: 3px 0;
      display: flex;
      gap: 12px;
    }
    li button {
      min-width: 70px;
    }
    h2 {
      margin: 8px 0;
    }
  `,
})
export class Acquire {
  readonly where = input<string>();
  readonly country = input<string>();
  readonly kind = input<string>();
  readonly digits = input<string>();
  readonly can = input<string>();
  readonly count = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly kinds = ['local', 'toll-free', 'short code'] as const;
  protected readonly kindTyped = linkedSignal(() => (this.kind() ?? 'local') as OfferView['kind']);
  protected readonly countryTyped = linkedSignal(() => (this.country() ?? 'US') as 'US' | 'CA');
  protected readonly whereTyped = linkedSignal(() => this.where() ?? '');
  protected readonly digitsTyped = linkedSignal(() => this.digits() ?? '');
  protected readonly countTyped = linkedSignal(() => this.count() ?? '20');
  protected readonly canTyped = linkedSignal(() => (this.can() ?? '').split(',').filter((c) => c !== ''));
  protected readonly wrong = signal<Record<string, string>>({});
  protected readonly problems = computed(() => Object.values(this.wrong()));
  protected readonly busy = signal(false);
  private readonly wish = computed((): Wish | undefined => {
    const where = this.where();
    if (where === undefined && this.digits() === undefined && this.kind() === undefined) return undefined;
    return {
      country: (this.country() ?? 'US') as 'US' | 'CA',
      kind: (this.kind() ?? 'local') as OfferView['kind'],
      where: where ?? '',
      digits: this.digits() ?? '',
      can: this.can() ?? '',
      count: this.count() ?? '20',
    };
  });
  protected readonly found = resource({
    params: () => {
      const wish = this.wish();
      return wish && this.session.businessId() ? { wish, businessId: this.session.businessId() } : undefined;
    },
    loader: ({ params }) =>
      this.api.call(searchNumbers, { params: { businessId: params.businessId }, query: params.wish }),
  });
  protected readonly basket = liveResource(
    ['numbers', 'settings'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(getBasket, { params: { businessId } }),
  );
  protected readonly aside = computed(() => (this.basket.value()?.items ?? []).map((i) => i.e164));

  protected toggle(c: string): void {
    this.canTyped.update((all) => (all.includes(c) ? all.filter((x) => x !== c) : [...all, c]));
  }

  protected search(event: Event): void {
    event.preventDefault();
    const local = this.kindTyped() === 'local';
    const wish = {
      kind: this.kindTyped(),
      country: this.countryTyped(),
      where: local ? this.whereTyped().trim() : '',
      digits: this.digitsTyped().trim(),
      can: this.canTyped().join(','),
      count: this.countTyped().trim() || '20',
    };
    this.wrong.set(checkWith(searchNumbers.query, wish));
    if (Object.keys(this.wrong()).length > 0) return;
    this.go({
      ...wish,
      kind: local ? '' : wish.kind,
      country: wish.country === 'US' ? '' : wish.country,
      count: wish.count === '20' ? '' : wish.count,
    });
  }

  /** What is looked for stands in the address. */
  protected go(query: Record<string, string>): void {
    const queryParams = Object.fromEntries(Object.entries(query).map(([k, v]) => [k, v === '' ? null : v]));
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }

  protected take(b: Basket): void {
    this.basket.set(b);
  }

  protected async keep(o: OfferView): Promise<void> {
    this.busy.set(true);
    try {
      this.basket.set(
        await this.api.call(putAside, {
          params: { businessId: this.session.businessId() },
          body: { e164: o.e164, kind: o.kind },
        }),
      );
      this.say.done(`${formatPhone(o.e164)} is kept aside for ten minutes.`);
    } catch (error) {
      this.say.problem(error);
      this.found.reload();
    } finally {
      this.busy.set(false);
    }
  }
}
