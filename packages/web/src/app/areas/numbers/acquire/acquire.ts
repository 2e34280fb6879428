import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { searchNumbers, type OfferView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { CheckedForm } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { Faults } from '../../../parts/form/faults';
import { filledFrom } from '../../../parts/form/filled-from';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { CountPipe, MoneyPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { NumbersTabs } from '../numbers-tabs';
import { AcquireStore, ANY } from './acquire.store';
import { BasketPanel } from './basket-panel';
import { flag, text } from '../../../parts/form/controls';

/** Looks for numbers at the exchange and keeps chosen ones aside until they are ordered. */
@Component({
  selector: 'lg-acquire',
  imports: [
    ReactiveFormsModule,
    Cell,
    ChoiceField,
    Faults,
    Form,
    Table,
    TextField,
    MatCheckboxModule,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    BasketPanel,
    RouterLink,
    CountPipe,
    MoneyPipe,
    PhonePipe,
  ],
  providers: [AcquireStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="numbers:" of="get a number" />
          <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'numbers', 'need']"
            >Which kind do I need?</a
          >
        </div>
        <lg-numbers-tabs />
        @if (store.session.business()?.accountState !== 'open') {
          <div class="problem">
            The account is {{ store.session.business()?.accountState }}. You can search; buying is possible once it is
            open. <a [routerLink]="['/b', store.session.businessId(), 'settings', 'business']">Open the account</a>
          </div>
        }
        @if (store.address().forward; as line) {
          <p>
            Calls to the number you choose will be put through to <span class="mono strong">{{ line | phone }}</span>,
            from its first day.
            <button type="button" matButton class="plain" (click)="store.set({ forward: null })">
              not put through
            </button>
          </p>
        }
        <form class="ask" [lgForm]="form" (sent)="search()">
          <div class="row-fields">
            <lg-choice-field [control]="form.controls.kind" label="Kind" name="kind" [choices]="kinds" />
            @if (wished().kind === 'local') {
              <lg-choice-field [control]="form.controls.country" label="Country" name="country" [choices]="countries" />
              <lg-text-field
                [control]="form.controls.where"
                label="Area code, town or state"
                name="where"
                placeholder="551, Jersey City or New Jersey"
              />
            }
            <lg-text-field
              [control]="form.controls.digits"
              label="Digits or letters in it"
              name="digits"
              placeholder="42, BOAT, 01?7"
              mono
            />
            <lg-text-field
              class="narrow"
              [control]="form.controls.count"
              label="How many"
              name="count"
              inputmode="numeric"
            />
          </div>
          <div class="line">
            <mat-checkbox class="check" [formControl]="form.controls.pictures">can pictures</mat-checkbox>
            <mat-checkbox class="check" [formControl]="form.controls.voice">can voice</mat-checkbox>
            <button type="submit" matButton="filled">Search</button>
          </div>
          <lg-faults [form]="form" />
        </form>
        @if (store.found.isLoading()) {
          <p class="soft">Asking the exchange…</p>
        } @else if (store.found.error()) {
          <div class="problem" role="alert">
            {{ store.found.error()?.message }}
            <button type="button" matButton class="plain" (click)="store.found.reload()">Try again</button>
          </div>
        } @else if (store.found.value(); as f) {
          @if (f.problem) {
            <p class="error" role="alert">{{ f.problem }}</p>
          } @else if (f.offers.length > 0) {
            <h2>
              {{ f.total | count }} {{ f.total === 1 ? 'number' : 'numbers' }} in stock{{ inWords(f.place) }}
              @if (f.total > f.offers.length) {
                <span class="soft">the first {{ f.offers.length }} shown</span>
              }
            </h2>
            <lg-table
              class="tight"
              name="offers"
              label="Numbers at the exchange"
              [rows]="f.offers"
              [columns]="columns"
              [key]="key"
            >
              <ng-template lgCell="once" [of]="f.offers" let-o>{{ o.setup | money }}</ng-template>
              <ng-template lgCell="monthly" [of]="f.offers" let-o>{{ o.monthly | money }}</ng-template>
              <ng-template lgCell="keep" [of]="f.offers" let-o>
                @if (store.aside().includes(o.e164)) {
                  <span class="pass">kept aside</span>
                } @else if (store.session.isAdministrator()) {
                  <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="store.keep(o)">
                    Keep aside
                  </button>
                }
              </ng-template>
            </lg-table>
          } @else {
            <div class="empty">
              <h2>No stock{{ store.wish().where ? ' in ' + store.wish().where : '' }}</h2>
              <p>
                The exchange has no such number{{ f.place ? ' in ' + f.place : '' }} now.
                {{
                  store.wish().digits || store.wish().can ? 'Ask for fewer digits or abilities, or look elsewhere.' : ''
                }}
              </p>
              @if (f.neighbours.length > 0) {
                <p>Nearest area codes with numbers:</p>
                <ul>
                  @for (n of f.neighbours; track n.code) {
                    <li>
                      <button type="button" matButton class="plain" (click)="store.ask({ where: n.code })">
                        <span class="mono">{{ n.code }}</span> {{ n.state }}</button
                      >&ngsp;<span class="soft"
                        >{{ n.distance === 0 ? 'same area' : n.distance + ' ' + f.unit }}, {{ n.count }}
                        {{ n.count === 1 ? 'number' : 'numbers' }}</span
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
      @if (store.basket.value(); as b) {
        @if (b.items.length > 0) {
          <lg-basket-panel class="docket" [basket]="b" />
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
  protected readonly store = inject(AcquireStore);
  protected readonly kinds = ['local', 'toll-free', 'short code'].map((value) => ({ value, label: value }));
  protected readonly countries = [
    { value: 'US', label: 'United States' },
    { value: 'CA', label: 'Canada' },
  ];
  protected readonly key = (o: OfferView): string => o.e164;
  protected readonly columns: readonly Column<OfferView>[] = [
    { id: 'number', head: 'Number', width: 160, text: (o) => formatPhone(o.e164), face: 'mono', by: (o) => o.e164 },
    { id: 'can', head: 'Can', least: 140, text: (o) => o.capabilities.join(', '), face: 'soft' },
    { id: 'once', head: 'Once', width: 90, right: true, by: (o) => o.setup },
    { id: 'monthly', head: 'Monthly', width: 90, right: true, by: (o) => o.monthly },
    { id: 'keep', head: 'What can be done', quiet: true, width: 130, right: true },
  ];
  protected readonly form = new CheckedForm(
    {
      kind: text(ANY.kind),
      country: text(ANY.country),
      where: text(),
      digits: text(),
      count: text(String(ANY.count)),
      pictures: flag(),
      voice: flag(),
    },
    searchNumbers.query,
    {
      body: (v) => ({
        kind: v.kind,
        country: v.country,
        where: v.kind === 'local' ? v.where.trim() : '',
        digits: v.digits.trim(),
        can: [...(v.pictures ? ['pictures'] : []), ...(v.voice ? ['voice'] : [])].join(','),
        count: v.count.trim() || ANY.count,
      }),
    },
  );
  protected readonly wished = toSignal(this.form.group.valueChanges, { initialValue: this.form.group.value });

  constructor() {
    // What is looked for stands in the address, and the form says the same.
    filledFrom(this.form, () => {
      const { can, ...wish } = this.store.wish();
      const abilities = can.split(',');
      return {
        of: this.store.query(),
        values: { ...wish, pictures: abilities.includes('pictures'), voice: abilities.includes('voice') },
      };
    });
  }

  /** Where was looked: an area code with its state, a town or state by its name. */
  protected inWords(place: string): string {
    const where = this.store.wish().where;
    if (!where) return '';
    return /^\d+$/.test(where) ? ` in ${where}, ${place}` : ` in ${place || where}`;
  }

  protected search(): void {
    const wish = this.form.body();
    if (wish) this.store.ask({ ...wish, count: String(wish.count) });
  }
}
