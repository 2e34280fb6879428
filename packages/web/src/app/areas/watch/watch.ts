import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { getWatch } from '@long-gate/contracts';
import { BarChart, LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import type { EChartsCoreOption } from 'echarts/core';
import { DateTime } from 'luxon';
import { NgxEchartsDirective, provideEchartsCore } from 'ngx-echarts';
import { Api } from '../../api/api';
import { Theme } from '../../frame/theme';
import { Facet } from '../../parts/facet';
import { CountPipe, PhonePipe, RatePipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

echarts.use([BarChart, LineChart, GridComponent, LegendComponent, TooltipComponent, CanvasRenderer]);

const SPANS = [7, 30, 90, 365];

interface Day {
  day: string;
  delivered: number;
  filtered: number;
  failed: number;
  optOuts: number;
}

/** Days without texts too, so that distance on the axis is distance in time. */
export function everyDay(days: readonly Day[]): Day[] {
  const first = days[0];
  const last = days[days.length - 1];
  if (!first || !last) return [];
  const by = new Map(days.map((d) => [d.day, d]));
  const out: Day[] = [];
  for (let at = DateTime.fromISO(first.day); at <= DateTime.fromISO(last.day); at = at.plus({ days: 1 })) {
    const day = at.toISODate() ?? '';
    out.push(by.get(day) ?? { day, delivered: 0, filtered: 0, failed: 0, optOuts: 0 });
  }
  return out;
}

/** What was delivered, what failed and why, who left: for each number, with intervals, and over time. */
@Component({
  selector: 'lg-watch',
  imports: [Facet, MatButtonModule, PageTitle, NgxEchartsDirective, CountPipe, PhonePipe, RatePipe],
  providers: [provideEchartsCore({ echarts })],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="watch" /></div>
        <div class="facets tight" role="group" aria-label="Time">
          <lg-facet label="Last" [values]="spanValues()" (picked)="set({ days: $event === '90' ? null : +$event })" />
          @if (number()) {
            <lg-facet
              label="Number"
              [values]="[{ value: 'number', label: numberName() + ' ×', on: true }]"
              (picked)="set({ number: null })"
            />
          }
        </div>
        @if (watch.error(); as e) {
          <div class="problem" role="alert">{{ e.message }}</div>
        }
        @if (shown(); as w) {
          @if (w.numbers.length === 0) {
            <div class="empty">
              <h2>Nothing to watch yet</h2>
              <p>Once a number has sent, its deliveries, failures and opt-outs stand here.</p>
            </div>
          } @else {
            <table class="ledger">
              <thead>
                <tr>
                  <th>Number</th>
                  <th>Level</th>
                  <th class="right">Sent</th>
                  <th>Delivered</th>
                  <th>Filtered</th>
                  <th>Failed otherwise</th>
                  <th>Opt-outs per delivered</th>
                  <th class="right">Replies</th>
                  <th class="right">Median</th>
                </tr>
              </thead>
              <tbody>
                @for (n of w.numbers; track n.numberId) {
                  <tr
                    class="go"
                    [class.chosen]="n.numberId === number()"
                    (click)="set({ number: n.numberId === number() ? null : n.numberId })"
                  >
                    <td>
                      <button type="button" matButton class="plain mono">{{ n.e164 | phone }}</button>
                      <div class="small">{{ n.label }}</div>
                    </td>
                    <td
                      [class]="n.level === 'quiet' ? 'soft' : n.level === 'watch' ? 'hold' : 'stop'"
                      [title]="n.because"
                    >
                      {{ n.level }}
                      <div class="small">{{ n.because }}</div>
                    </td>
                    <td class="right">
                      {{ n.sent | count }}
                      @if (n.pending > 0) {
                        <div class="small soft">{{ n.pending | count }} pending</div>
                      }
                    </td>
                    <td class="rate">{{ n.delivered | rate }}</td>
                    <td class="rate">{{ n.filtered | rate }}</td>
                    <td class="rate">{{ n.failed | rate }}</td>
                    <td class="rate">{{ n.optOuts | rate }}</td>
                    <td class="right">{{ n.replies | count }}</td>
                    <td class="right">{{ n.medianSeconds === null ? '–' : n.medianSeconds + ' s' }}</td>
                  </tr>
                }
              </tbody>
            </table>
            <h2>
              By day
              @if (number()) {
                <span class="soft">{{ numberName() }}</span>
              }
            </h2>
            @if (w.days.length > 0) {
              <div
                echarts
                [options]="chart()"
                class="chart"
                role="img"
                [attr.aria-label]="'Texts by day: ' + w.days.length + ' days with texts'"
              ></div>
            } @else {
              <p class="soft">Nothing was sent in this time.</p>
            }
            <div class="columns">
              <div>
                <h2>Failures by reason</h2>
                <table class="ledger">
                  <thead>
                    <tr>
                      <th>Reason</th>
                      <th>Of all final receipts</th>
                    </tr>
                  </thead>
                  <tbody>
                    @for (r of w.reasons; track r.key) {
                      <tr>
                        <td>{{ r.key }}</td>
                        <td class="rate">{{ r.rate | rate }}</td>
                      </tr>
                    } @empty {
                      <tr>
                        <td colspan="2" class="soft">No failures.</td>
                      </tr>
                    }
                  </tbody>
                </table>
              </div>
              <div>
                <h2>By carrier</h2>
                <table class="ledger">
                  <thead>
                    <tr>
                      <th>Carrier</th>
                      <th>Delivered</th>
                      <th>Filtered</th>
                    </tr>
                  </thead>
                  <tbody>
                    @for (c of w.carriers; track c.carrier) {
                      <tr>
                        <td>{{ c.carrier }}</td>
                        <td class="rate">{{ c.delivered | rate }}</td>
                        <td class="rate">{{ c.filtered | rate }}</td>
                      </tr>
                    } @empty {
                      <tr>
                        <td colspan="3" class="soft">No receipts yet.</td>
                      </tr>
                    }
                  </tbody>
                </table>
              </div>
            </div>
            <p class="soft small">
              Rates are over final receipts only, with 95% Wilson intervals; what the gate held or stopped is in none of
              them. An opt-out is booked on the number that wrote to the person last.
            </p>
          }
        } @else if (!watch.error()) {
          <p class="soft">Counting…</p>
        }
      </div>
    </div>
  `,
  styles: `
    td {
      height: auto !important;
      padding-block: 6px !important;
    }
    td.rate {
      font-size: 13px;
    }
    h2 {
      margin: 20px 0 6px;
    }
    .chart {
      height: 220px;
    }
  `,
})
export class WatchPage {
  readonly number = input<string>();
  readonly days = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly theme = inject(Theme);
  private readonly session = inject(SessionFacade);
  protected readonly span = computed(() => Number(this.days() ?? 90) || 90);
  protected readonly spanValues = computed(() =>
    SPANS.map((d) => ({ value: String(d), label: `${d} days`, on: this.span() === d })),
  );
  protected readonly watch = liveResource(
    ['watch', 'consent', 'numbers'],
    () =>
      this.session.businessId()
        ? { businessId: this.session.businessId(), numberId: this.number(), days: this.span() }
        : undefined,
    ({ businessId, ...query }) => this.api.call(getWatch, { params: { businessId }, query }),
  );
  private last: ReturnType<typeof this.watch.value> = undefined;
  protected readonly shown = computed(
    () => (this.last = (this.watch.hasValue() ? this.watch.value() : undefined) ?? this.last),
  );
  protected readonly numberName = computed(() => {
    const n = this.shown()?.numbers.find((x) => x.numberId === this.number());
    return n ? n.label || n.e164 : '';
  });
  protected readonly chart = computed<EChartsCoreOption>(() => {
    this.theme.dark();
    const days = everyDay(this.shown()?.days ?? []);
    const font = 'Source Sans 3';
    const css = getComputedStyle(document.documentElement);
    const color = (name: string): string => css.getPropertyValue(name).trim();
    const bar = (name: string, key: 'delivered' | 'filtered' | 'failed', c: string): object => ({
      name,
      type: 'bar',
      stack: 'texts',
      barMaxWidth: 22,
      itemStyle: { color: c },
      data: days.map((d) => d[key]),
    });
    return {
      animation: false,
      textStyle: { fontFamily: font, color: color('--ink') },
      grid: { left: 44, right: 44, top: 34, bottom: 24 },
      legend: {
        top: 0,
        left: 0,
        itemWidth: 12,
        itemHeight: 10,
        textStyle: { fontFamily: font, color: color('--ink-soft') },
      },
      tooltip: {
        trigger: 'axis',
        renderMode: 'richText',
        backgroundColor: color('--surface'),
        borderColor: color('--hairline'),
        textStyle: { color: color('--ink') },
      },
      xAxis: {
        type: 'category',
        data: days.map((d) => DateTime.fromISO(d.day).toFormat('d LLL', { locale: 'en-US' })),
        axisLabel: { fontFamily: font, color: color('--ink-soft') },
        axisLine: { lineStyle: { color: color('--ink-soft') } },
        axisTick: { show: false },
      },
      yAxis: [
        {
          type: 'value',
          axisLabel: { fontFamily: font, color: color('--ink-soft') },
          splitLine: { lineStyle: { color: color('--hairline') } },
        },
        {
          type: 'value',
          name: 'opt-outs',
          minInterval: 1,
          axisLabel: { fontFamily: font, color: color('--ink-soft') },
          splitLine: { show: false },
          nameTextStyle: { fontFamily: font, color: color('--ink-soft') },
        },
      ],
      series: [
        bar('delivered', 'delivered', color('--pass')),
        bar('filtered', 'filtered', color('--hold')),
        bar('failed otherwise', 'failed', color('--stop')),
        {
          name: 'opt-outs',
          type: 'line',
          yAxisIndex: 1,
          symbol: 'diamond',
          showSymbol: false,
          symbolSize: 7,
          lineStyle: { width: 1.4, type: 'dashed' },
          itemStyle: { color: color('--note') },
          data: days.map((d) => d.optOuts),
        },
      ],
    };
  });

  protected set(queryParams: Record<string, string | number | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }
}
