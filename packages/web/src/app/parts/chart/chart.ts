import {
  afterNextRender,
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { EChartsCoreOption } from 'echarts/core';
import { Theme } from '../../frame/theme';
import { Table } from '../table/table';
import type { Column } from '../table/column';
import { handOut, handOutFile } from '../hand-out';
import { Drawings, type Drawing } from './drawings';

/** One row of numbers over the same steps as all others. */
export interface Series {
  name: string;
  /** Stacked bars, or a dashed line on an axis of its own at the right. */
  kind: 'bar' | 'line';
  tone: 'pass' | 'hold' | 'stop' | 'note';
  values: readonly number[];
}
interface Step {
  step: string;
  at: number;
}

/** The same numbers as text, for a file: one line for each step. */
export function csvOf(stepName: string, steps: readonly string[], series: readonly Series[]): string {
  const cell = (v: string | number): string =>
    /[",\n]/.test(String(v)) ? `"${String(v).replaceAll('"', '""')}"` : String(v);
  const lines = [
    [stepName, ...series.map((s) => s.name)],
    ...steps.map((step, i) => [step, ...series.map((s) => s.values[i] ?? 0)]),
  ];
  return `${lines.map((l) => l.map(cell).join(',')).join('\r\n')}\r\n`;
}

/** A chart with our tokens, the same as a table for whoever does not see it, and as a file: PNG or CSV. */
@Component({
  selector: 'lg-chart',
  imports: [MatButtonModule, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div #place class="chart" role="img" [attr.aria-label]="label() + ': ' + inWords()"></div>
    <p class="small acts">
      <button type="button" matButton class="plain" [attr.aria-expanded]="asTable()" (click)="asTable.set(!asTable())">
        {{ asTable() ? 'Hide the numbers' : 'The numbers as a table' }}
      </button>
      <button type="button" matButton class="plain" [disabled]="!drawn()" (click)="picture()">Picture (PNG)</button>
      <button type="button" matButton class="plain" (click)="numbers()">Numbers (CSV)</button>
    </p>
    @if (asTable()) {
      <lg-table [label]="label()" [rows]="rows()" [columns]="columns()" [key]="key" />
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .chart {
      height: 220px;
    }
    .acts {
      display: flex;
      gap: 16px;
      margin: 2px 0 8px;
    }
  `,
})
export class Chart {
  readonly label = input.required<string>();
  /** What the steps are, such as days. */
  readonly stepName = input.required<string>();
  readonly steps = input.required<readonly string[]>();
  readonly series = input.required<readonly Series[]>();
  private readonly theme = inject(Theme);
  private readonly drawings = inject(Drawings);
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  protected readonly asTable = signal(false);
  protected readonly drawn = signal<Drawing | null>(null);
  protected readonly rows = computed((): Step[] => this.steps().map((step, at) => ({ step, at })));
  protected readonly key = (s: Step): string => String(s.at);
  protected readonly columns = computed((): Column<Step>[] => [
    { id: 'step', head: this.stepName(), text: (s) => s.step },
    ...this.series().map((x): Column<Step> => ({
      id: x.name,
      head: x.name,
      right: true,
      by: (s) => x.values[s.at] ?? 0,
      text: (s) => (x.values[s.at] ?? 0).toLocaleString('en-US'),
    })),
  ]);
  protected readonly inWords = computed(() =>
    this.series()
      .map((s) => `${s.values.reduce((a, b) => a + b, 0).toLocaleString('en-US')} ${s.name}`)
      .join(', '),
  );
  protected readonly options = computed((): EChartsCoreOption => {
    this.theme.dark();
    const css = getComputedStyle(document.documentElement);
    const color = (name: string): string => css.getPropertyValue(`--${name}`).trim();
    const fontFamily = 'Source Sans 3';
    const words = { fontFamily, color: color('ink-soft') };
    const lines = this.series().filter((s) => s.kind === 'line');
    return {
      animation: false,
      textStyle: { fontFamily, color: color('ink') },
      grid: { left: 44, right: lines.length > 0 ? 44 : 12, top: 34, bottom: 24 },
      legend: { top: 0, left: 0, itemWidth: 12, itemHeight: 10, textStyle: words },
      tooltip: {
        trigger: 'axis',
        renderMode: 'richText',
        backgroundColor: color('surface'),
        borderColor: color('hairline'),
        textStyle: { color: color('ink') },
      },
      xAxis: {
        type: 'category',
        data: [...this.steps()],
        axisLabel: words,
        axisLine: { lineStyle: { color: color('ink-soft') } },
        axisTick: { show: false },
      },
      yAxis: [
        { type: 'value', axisLabel: words, splitLine: { lineStyle: { color: color('hairline') } } },
        {
          type: 'value',
          show: lines.length > 0,
          name: lines[0]?.name ?? '',
          minInterval: 1,
          axisLabel: words,
          splitLine: { show: false },
          nameTextStyle: words,
        },
      ],
      series: this.series().map((s) =>
        s.kind === 'bar'
          ? {
              name: s.name,
              type: 'bar',
              stack: 'all',
              barMaxWidth: 22,
              itemStyle: { color: color(s.tone) },
              data: [...s.values],
            }
          : {
              name: s.name,
              type: 'line',
              yAxisIndex: 1,
              symbol: 'diamond',
              showSymbol: false,
              symbolSize: 7,
              lineStyle: { width: 1.4, type: 'dashed' },
              itemStyle: { color: color(s.tone) },
              data: [...s.values],
            },
      ),
    };
  });

  constructor() {
    const page = inject(DestroyRef);
    afterNextRender(() => void this.begin(page));
    afterRenderEffect(() => this.drawn()?.draw(this.options()));
  }

  private async begin(page: DestroyRef): Promise<void> {
    const name = this.label();
    const drawing = await this.drawings.take(name);
    if (page.destroyed) return this.drawings.leave(name, drawing);
    const place = this.place().nativeElement;
    place.append(drawing.place);
    const room = new ResizeObserver(() => requestAnimationFrame(() => drawing.takeRoom()));
    room.observe(place);
    page.onDestroy(() => {
      room.disconnect();
      this.drawings.leave(name, drawing);
    });
    this.drawn.set(drawing);
  }

  protected picture(): void {
    const surface = getComputedStyle(document.documentElement).getPropertyValue('--surface').trim();
    const url = this.drawn()?.picture(surface);
    if (url) handOut(url, `${this.fileName()}.png`);
  }
  protected numbers(): void {
    const file = new Blob([csvOf(this.stepName(), this.steps(), this.series())], { type: 'text/csv;charset=utf-8' });
    handOutFile(file, `${this.fileName()}.csv`);
  }
  private fileName(): string {
    return this.label()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-');
  }
}
