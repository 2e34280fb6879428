import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatTooltipModule } from '@angular/material/tooltip';
import { AmountText, moneyOutlookOf, setAutoTopUp, topUp, type MoneyEntry } from '@long-gate/contracts';
import { formatAmount, formatCents, formatShown } from '@long-gate/core';
import { DateTime } from 'luxon';
import * as z from 'zod';
import { ChoiceWord } from '../../parts/chooser/choice-word';
import { Confirm } from '../../parts/confirm';
import { CheckedForm } from '../../parts/form/checked-form';
import { Faults } from '../../parts/form/faults';
import { filledFrom } from '../../parts/form/filled-from';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, MomentPipe, MoneyPipe } from '../../parts/format';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { MoneyStore } from './money.store';
import { text } from '../../parts/form/controls';
import { zoneOf } from '../../state/zone';

type Line = z.output<typeof moneyOutlookOf.answer>['nextMonth'][number] & { sum?: boolean };

/** What is typed, read as the contract wants it. */
const Payment = z.object({ amount: AmountText.pipe(topUp.body.shape.amount) });
const Auto = z
  .object({ below: z.string(), amount: z.string() })
  .transform(({ below, amount }) => (below.trim() === '' ? { below: '0', amount: '0' } : { below, amount }))
  .pipe(
    z.object({
      below: AmountText.pipe(setAutoTopUp.body.shape.below),
      amount: AmountText.pipe(setAutoTopUp.body.shape.amount),
    }),
  );
/** How many months back a statement is offered. */
const MONTHS = 24;

/** The prepaid balance: top up, and every charge with what caused it. */
@Component({
  selector: 'lg-money-settings',
  imports: [
    Cell,
    ChoiceWord,
    Faults,
    Form,
    Table,
    TextField,
    MatTooltipModule,
    MatButtonModule,
    RouterLink,
    CountedPipe,
    MoneyPipe,
    MomentPipe,
  ],
  providers: [MoneyStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Balance {{ session.business()?.balance | money }}</h2>
    @if (store.address().back) {
      <p class="soft">What was missing is filled in; after topping up you are back where you were.</p>
    }
    @if (session.isAdministrator()) {
      <form class="with-button" [lgForm]="paying" (sent)="pay()">
        <lg-text-field
          [control]="paying.controls.amount"
          label="Top up by"
          hint="dollars, such as 50 or 50.00"
          name="amount"
          inputmode="decimal"
        />
        <button type="submit" matButton="filled" [disabled]="store.acting.busy()">Top up…</button>
      </form>
    }
    @if (store.outlook.value(); as o) {
      <div class="columns">
        <div>
          <h3>At the current pace</h3>
          <p>
            @if (o.daysLeft === null) {
              Nothing is spent at present.
            } @else {
              <span class="strong" [class.hold]="o.daysLeft < 14">{{ o.daysLeft | counted: 'day' }} left</span>:
              {{ o.perDay | money }} a day, monthly fees included.
            }
          </p>
          <h3>Top up by itself</h3>
          @if (session.isAdministrator()) {
            <form [lgForm]="auto" (sent)="setAuto()">
              <div class="row-fields">
                <lg-text-field
                  [control]="auto.controls.below"
                  label="Below"
                  name="below"
                  inputmode="decimal"
                  placeholder="never"
                />
                <lg-text-field [control]="auto.controls.amount" label="By" name="autoAmount" inputmode="decimal" />
              </div>
              <lg-faults [form]="auto" />
              <button type="submit" matButton="outlined" [disabled]="auto.busy()">Set</button>
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
          <lg-table label="Next month" headless [rows]="lines()" [columns]="lineColumns" [key]="lineKey" />
        </div>
      </div>
    }
    <div class="head">
      <h3>Charges and top-ups</h3>
      <label class="soft" for="month">Statement of</label
      ><lg-choice-word
        class="month"
        name="month"
        [choices]="months()"
        [chosen]="month()"
        (picked)="month.set($event ?? month())"
      />
      <a matButton="outlined" [href]="store.statement('csv', month())" download>CSV</a>
      <a matButton="outlined" [href]="store.statement('pdf', month())" download>PDF</a>
    </div>
    @if (store.problem(); as p) {
      <div class="problem" role="alert">
        {{ p.message }} <button type="button" matButton class="plain" (click)="store.again()">Try again</button>
      </div>
    }
    <lg-table label="Charges and top-ups" [rows]="store.rows()" [columns]="columns" [key]="key">
      <ng-template lgCell="when" [of]="store.rows()" let-e>{{ e.at | moment }}</ng-template>
      <ng-template lgCell="what" [of]="store.rows()" let-e>
        @if (place(e); as to) {
          <a [routerLink]="to.link" [queryParams]="to.open ? { open: to.open } : {}">{{ e.what }}</a>
        } @else {
          {{ e.what }}
        }
      </ng-template>
      <ng-template lgCell="amount" [of]="store.rows()" let-e
        ><span [matTooltip]="exactly(e.amount)">{{ e.amount > 0 ? '+' : '' }}{{ shown(e.amount) }}</span></ng-template
      >
      <ng-template lgCell="balance" [of]="store.rows()" let-e
        ><span [matTooltip]="exactly(e.balanceAfter)">{{ e.balanceAfter | money }}</span></ng-template
      >
      <ng-container none>{{ store.loading() ? 'Reading…' : 'Nothing yet. Top up to begin.' }}</ng-container>
    </lg-table>
    @if (!store.ended() && store.total()) {
      <p><button type="button" matButton="outlined" (click)="store.more()">Show more</button></p>
    }
  `,
  styles: `
    form {
      margin: 12px 0;
    }
    form:not(.with-button) {
      max-width: 320px;
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
  `,
})
export class MoneySettings {
  protected readonly store = inject(MoneyStore);
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  protected readonly session = this.store.session;
  protected readonly key = (e: MoneyEntry): string => e.id;
  protected readonly columns: readonly Column<MoneyEntry>[] = [
    { id: 'when', head: 'When', face: 'soft nowrap' },
    { id: 'what', head: 'What' },
    {
      id: 'amount',
      head: 'Amount',
      right: true,
      face: (e) => (e.amount > 0 ? 'pass' : ''),
    },
    { id: 'balance', head: 'Balance', right: true, face: 'soft' },
  ];
  protected readonly shown = formatShown;
  protected readonly exactly = (micros: number): string => `exactly ${formatAmount(micros)}`;
  protected readonly lineKey = (l: Line): string => l.kind;
  protected readonly lineColumns: readonly Column<Line>[] = [
    {
      id: 'kind',
      head: 'What',
      text: (l) => `${l.kind}${l.count ? ` (${l.count})` : ''}`,
      face: (l) => (l.sum ? 'strong' : ''),
    },
    {
      id: 'amount',
      head: 'Amount',
      right: true,
      text: (l) => formatCents(l.amount),
      face: (l) => (l.sum ? 'strong' : ''),
    },
  ];
  protected readonly lines = computed((): Line[] => {
    const o = this.store.outlook.hasValue() ? this.store.outlook.value() : undefined;
    if (!o) return [];
    return [...o.nextMonth, { kind: 'all together', count: 0, amount: o.total, sum: true }];
  });
  protected readonly paying = new CheckedForm({ amount: text() }, Payment);
  protected readonly auto = new CheckedForm({ below: text(), amount: text() }, Auto);
  protected readonly months = computed(() => {
    const now = this.today().startOf('month');
    return Array.from({ length: MONTHS }, (_, i) => {
      const at = now.minus({ months: i });
      return { value: at.toFormat('yyyy-LL'), label: at.toFormat('LLL yyyy', { locale: 'en-US' }) };
    });
  });
  protected readonly month = linkedSignal({
    source: () => this.session.businessId(),
    computation: () => this.today().toFormat('yyyy-LL'),
  });

  private today(): DateTime {
    return DateTime.fromMillis(this.session.now(), { zone: zoneOf(this.session.business()) });
  }

  constructor() {
    filledFrom(this.paying, () => {
      const { amount } = this.store.address();
      return amount ? { of: amount, values: { amount } } : undefined;
    });
    filledFrom(this.auto, () => {
      const o = this.store.outlook.hasValue() ? this.store.outlook.value() : undefined;
      const shown = (micros: number): string => (micros ? formatAmount(micros) : '');
      return o
        ? { of: this.session.businessId(), values: { below: shown(o.autoBelow), amount: shown(o.autoAmount) } }
        : undefined;
    });
  }

  /** Where a charge came from. */
  protected place(e: MoneyEntry): { link: string[]; open: string | null } | null {
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

  protected async setAuto(): Promise<void> {
    const wish = this.auto.body();
    if (!wish) return;
    if (
      wish.below > 0 &&
      !(await this.confirm.ask({
        title: 'Top up by itself?',
        line: `Whenever the balance falls below ${formatAmount(wish.below)}, ${formatAmount(wish.amount)} are added, at most three times in 24 hours. Nothing now unless it is below already. It can be ended at any time.`,
        yes: 'Top up by itself',
      }))
    )
      return;
    if (await this.auto.send((body) => this.store.setAuto(body))) this.auto.group.markAsPristine();
  }

  protected async pay(): Promise<void> {
    const wish = this.paying.body();
    if (!wish) return;
    const yes = await this.confirm.ask({
      title: `Top up ${formatAmount(wish.amount)}?`,
      line: `${formatAmount(wish.amount)} now, nothing monthly. On the balance at once. The money is simulated like the rest of the outside.`,
      yes: `Top up ${formatAmount(wish.amount)}`,
    });
    if (!yes) return;
    if (!(await this.store.topUp(wish.amount))) return;
    this.paying.group.reset();
    // Whoever came for what was missing goes on where they were.
    const { back } = this.store.address();
    if (back) await this.router.navigateByUrl(`/b/${this.session.businessId()}/${back}`);
  }
}
