import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DateTime } from 'luxon';
import { SessionFacade } from '../../state/session.facade';
import { zoneOf } from '../../state/zone';

const MINUTE_MS = 60_000;
const HOUR_MS = 3_600_000;
const CELL = 11;
const HEIGHT = 26;

/** In how many of the coming hours how much of an audience may be texted: a bar for each hour, days marked below. */
@Component({
  selector: 'lg-hour-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      role="img"
      [attr.viewBox]="'0 0 ' + width() + ' 42'"
      [attr.width]="width()"
      height="42"
      [attr.aria-label]="words()"
    >
      @for (h of bars(); track h.x) {
        <rect class="whole" [attr.x]="h.x" y="0" width="10" [attr.height]="full" />
        <rect class="open" [attr.x]="h.x" [attr.y]="full - h.height" width="10" [attr.height]="h.height">
          <title>{{ h.words }}</title>
        </rect>
      }
      @for (d of days(); track d.x) {
        <line [attr.x1]="d.x - 0.5" y1="0" [attr.x2]="d.x - 0.5" y2="42" />
        <text [attr.x]="d.x + 3" y="39">{{ d.name }}</text>
      }
    </svg>
    <p class="soft small">{{ words() }}</p>
  `,
  styles: `
    :host {
      display: block;
      margin: 8px 0;
    }
    svg {
      display: block;
      max-width: 100%;
    }
    .whole {
      fill: var(--hairline);
      opacity: 0.5;
    }
    .open {
      fill: var(--pass);
    }
    line {
      stroke: var(--ink-soft);
    }
    text {
      font: 11px var(--sans);
      fill: var(--ink-soft);
    }
  `,
})
export class HourStrip {
  /** How many may be texted in each hour, the one that runs first. */
  readonly hours = input.required<readonly number[]>();
  /** When the first of them runs: as it was worked out, or a time that was chosen. */
  readonly from = input.required<number>();
  /** How many there are at most. */
  readonly most = input.required<number>();
  private readonly session = inject(SessionFacade);
  protected readonly full = HEIGHT;
  protected readonly width = computed(() => this.hours().length * CELL);
  private readonly zone = computed(() => zoneOf(this.session.business()));
  private startOf(hour: number): DateTime {
    return DateTime.fromMillis((Math.floor(this.from() / HOUR_MS) + hour) * HOUR_MS, { zone: this.zone() });
  }
  protected readonly bars = computed(() =>
    this.hours().map((n, i) => ({
      x: i * CELL,
      height: n === 0 ? 0 : Math.max(1, Math.round((HEIGHT * n) / Math.max(1, this.most()))),
      words: `${this.startOf(i).toFormat('ccc HH:mm', { locale: 'en-US' })}: ${n.toLocaleString('en-US')}`,
    })),
  );
  protected readonly days = computed(() =>
    this.hours()
      .flatMap((_, i) => {
        const at = this.startOf(i);
        return i === 0 || at.hour === 0 ? [{ x: i * CELL, name: at.toFormat('ccc d LLL', { locale: 'en-US' }) }] : [];
      })
      // The first day's name gives way where the next begins at once.
      .filter((d, i, all) => i > 0 || (all[1]?.x ?? Infinity) > 70),
  );
  protected readonly words = computed(() => {
    const hours = this.hours();
    const most = Math.max(0, ...hours);
    if (most === 0) return 'In the next two days no hour is permitted for anybody of them.';
    const when = (i: number): string => this.startOf(i).toFormat('ccc HH:mm ZZZZ', { locale: 'en-US' });
    const first = hours.indexOf(most);
    let end = first;
    while (end < hours.length && hours[end] === most) end++;
    // The clock on this page may lag a little behind the server's.
    const then = this.from() > this.session.now() + MINUTE_MS ? 'then' : 'now';
    const n = (hours[0] ?? 0).toLocaleString('en-US');
    const until = end < hours.length ? ` to ${when(end)}` : ' on';
    return first === 0
      ? `By their hours ${n} may be texted ${then}, and it is not more at any hour of the next two days.`
      : `By their hours ${n} may be texted ${then}, most of them, ${most.toLocaleString('en-US')}, from ${when(first)}${until}.`;
  });
}
