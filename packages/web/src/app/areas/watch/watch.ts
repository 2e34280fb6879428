import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { getWatch } from '@long-gate/contracts';
import { describeRate } from '@long-gate/core';
import type * as z from 'zod';
import { Chart, type Series } from '../../parts/chart/chart';
import { Facet } from '../../parts/facet';
import { CountPipe, dayInWords, PhonePipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { everyDay } from './every-day';
import { WatchStore } from './watch.store';

type Watched = z.output<typeof getWatch.answer>;
type WatchedNumber = Watched['numbers'][number];
type Reason = Watched['reasons'][number];
type Carrier = Watched['carriers'][number];

const SPANS = [7, 30, 90, 365];
const rate = <T>(id: string, head: string, of: (row: T) => Parameters<typeof describeRate>[0]): Column<T> => ({
  id,
  head,
  by: (row) => of(row)?.rate ?? null,
  text: (row) => describeRate(of(row)),
  face: 'rate',
});

/** What was delivered, what failed and why, who left: for each number, with intervals, and over time. */
@Component({
  selector: 'lg-watch',
  imports: [Cell, Chart, Facet, Table, MatButtonModule, PageTitle, CountPipe, PhonePipe],
  providers: [WatchStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="watch" /></div>
        <div class="facets tight" role="group" aria-label="Time">
          <lg-facet
            label="Last"
            [values]="spanValues()"
            (picked)="store.set({ days: $event === '90' ? null : $event })"
          />
          @if (store.address().number) {
            <lg-facet
              label="Number"
              [values]="[{ value: 'number', label: store.numberName() + ' ×', on: true }]"
              (picked)="store.set({ number: null })"
            />
          }
        </div>
        @if (store.watch.error(); as e) {
          <div class="problem" role="alert">{{ e.message }}</div>
        }
        @if (store.shown(); as w) {
          @if (w.numbers.length === 0) {
            <div class="empty">
              <h2>Nothing to watch yet</h2>
              <p>Once a number has sent, its deliveries, failures and opt-outs stand here.</p>
            </div>
          } @else {
            <lg-table
              label="Numbers"
              [rows]="w.numbers"
              [columns]="columns"
              [key]="key"
              opening
              [open]="store.address().number"
              (opened)="narrow($event)"
            >
              <ng-template lgCell="number" [of]="w.numbers" let-n>
                <button
                  type="button"
                  matButton
                  class="plain mono"
                  (click)="narrow(n.numberId); $event.stopPropagation()"
                >
                  {{ n.e164 | phone }}
                </button>
                <div class="small">{{ n.label }}</div>
              </ng-template>
              <ng-template lgCell="level" [of]="w.numbers" let-n>
                {{ n.level }}
                <div class="small">{{ n.because }}</div>
              </ng-template>
              <ng-template lgCell="sent" [of]="w.numbers" let-n>
                {{ n.sent | count }}
                @if (n.pending > 0) {
                  <div class="small soft">{{ n.pending | count }} pending</div>
                }
              </ng-template>
            </lg-table>
            <h2>
              By day
              @if (store.address().number) {
                <span class="soft">{{ store.numberName() }}</span>
              }
            </h2>
            @if (w.days.length > 0) {
              <lg-chart label="Texts by day" stepName="Day" [steps]="steps()" [series]="series()" />
            } @else {
              <p class="soft">Nothing was sent in this time.</p>
            }
            <div class="columns">
              <div>
                <h2>Failures by reason</h2>
                <lg-table label="Failures by reason" [rows]="w.reasons" [columns]="reasons" [key]="reasonKey">
                  <ng-container none>No failures.</ng-container>
                </lg-table>
              </div>
              <div>
                <h2>By carrier</h2>
                <lg-table label="By carrier" [rows]="w.carriers" [columns]="carriers" [key]="carrierKey">
                  <ng-container none>No receipts yet.</ng-container>
                </lg-table>
              </div>
            </div>
            <p class="soft small">
              Rates are over final receipts only, with 95% Wilson intervals; what the gate held or stopped is in none of
              them. An opt-out is booked on the number that wrote to the person last.
            </p>
          }
        } @else if (!store.watch.error()) {
          <p class="soft">Counting…</p>
        }
      </div>
    </div>
  `,
  styles: `
    h2 {
      margin: 20px 0 6px;
    }
  `,
})
export class WatchPage {
  protected readonly store = inject(WatchStore);
  protected readonly spanValues = computed(() =>
    SPANS.map((d) => ({ value: String(d), label: `${d} days`, on: this.store.span() === d })),
  );
  protected readonly key = (n: WatchedNumber): string => n.numberId;
  protected readonly columns: readonly Column<WatchedNumber>[] = [
    { id: 'number', head: 'Number', by: (n) => n.e164 },
    {
      id: 'level',
      head: 'Level',
      by: (n) => ['quiet', 'watch'].indexOf(n.level),
      face: (n) => (n.level === 'quiet' ? 'soft' : n.level === 'watch' ? 'hold' : 'stop'),
    },
    { id: 'sent', head: 'Sent', right: true, by: (n) => n.sent },
    rate('delivered', 'Delivered', (n) => n.delivered),
    rate('filtered', 'Filtered', (n) => n.filtered),
    rate('failed', 'Failed otherwise', (n) => n.failed),
    rate('optOuts', 'Opt-outs per delivered', (n) => n.optOuts),
    {
      id: 'replies',
      head: 'Replies',
      right: true,
      by: (n) => n.replies,
      text: (n) => n.replies.toLocaleString('en-US'),
    },
    {
      id: 'median',
      head: 'Median',
      right: true,
      by: (n) => n.medianSeconds,
      text: (n) => (n.medianSeconds === null ? '–' : `${n.medianSeconds} s`),
    },
  ];
  protected readonly reasonKey = (r: Reason): string => r.key;
  protected readonly reasons: readonly Column<Reason>[] = [
    { id: 'reason', head: 'Reason', text: (r) => r.key, by: (r) => r.key },
    rate('rate', 'Of all final receipts', (r) => r.rate),
  ];
  protected readonly carrierKey = (c: Carrier): string => c.carrier;
  protected readonly carriers: readonly Column<Carrier>[] = [
    { id: 'carrier', head: 'Carrier', text: (c) => c.carrier, by: (c) => c.carrier },
    rate('delivered', 'Delivered', (c) => c.delivered),
    rate('filtered', 'Filtered', (c) => c.filtered),
  ];
  private readonly days = computed(() => everyDay(this.store.shown()?.days ?? []));
  protected readonly steps = computed(() => this.days().map((d) => dayInWords(d.day, 'axis')));
  protected readonly series = computed((): Series[] => [
    { name: 'delivered', kind: 'bar', tone: 'pass', values: this.days().map((d) => d.delivered) },
    { name: 'filtered', kind: 'bar', tone: 'hold', values: this.days().map((d) => d.filtered) },
    { name: 'failed otherwise', kind: 'bar', tone: 'stop', values: this.days().map((d) => d.failed) },
    { name: 'opt-outs', kind: 'line', tone: 'note', values: this.days().map((d) => d.optOuts) },
  ]);

  /** To one number, or back to all. */
  protected narrow(numberId: string): void {
    this.store.set({ number: numberId === this.store.address().number ? null : numberId });
  }
}
