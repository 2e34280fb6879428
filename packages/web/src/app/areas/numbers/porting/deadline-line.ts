import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { PortView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { DateTime } from 'luxon';
import { SessionFacade } from '../../../state/session.facade';
import { zoneOf } from '../../../state/zone';

const DAYS = 21;

export interface Deadline {
  /** `2027-03-24` */
  day: string;
  port: string;
  what: string;
  tone: 'stop' | 'hold' | 'pass';
}

/** The days on which something falls due for requests under way: landing, the last change, a PIN or a letter that ends. */
export function deadlinesOf(ports: readonly PortView[], zone: string): Deadline[] {
  const under = ports.filter((p) => !['done', 'cancelled', 'returned'].includes(p.state));
  return under
    .flatMap((p): Deadline[] => {
      const which = `${formatPhone(p.numbers[0]?.e164 ?? '')}${p.numbers.length > 1 ? ` and ${p.numbers.length - 1} more` : ''}`;
      const link = p.letter.state === 'link out' ? p.letter.linkExpiresAt : null;
      return [
        { day: p.focOn, port: p.id, what: `${which} lands`, tone: 'pass' },
        { day: p.lastDayToChange, port: p.id, what: `last day to change ${which}`, tone: 'hold' },
        { day: p.facts.pinExpires, port: p.id, what: `PIN of ${which} ends`, tone: 'stop' },
        {
          day: link === null ? '' : (DateTime.fromMillis(link, { zone }).toISODate() ?? ''),
          port: p.id,
          what: `signing link of ${which} ends`,
          tone: 'hold',
        },
      ];
    })
    .filter((d) => d.day !== '')
    .sort((a, b) => a.day.localeCompare(b.day));
}

/** Three weeks as a line of days, and what falls due on each for ports under way. */
@Component({
  selector: 'lg-deadline-line',
  imports: [MatButtonModule, MatTooltipModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (due().length > 0) {
      <ol aria-label="What falls due in the next three weeks">
        @for (d of days(); track d.iso) {
          <li [class.rest]="d.rest" [class.today]="$first">
            <span class="small soft">{{ d.words }}</span>
            @for (x of d.due; track x.what) {
              <button
                type="button"
                matButton
                class="plain"
                [class]="x.tone"
                [matTooltip]="x.what"
                [attr.aria-label]="x.what + ', ' + d.iso"
                (click)="opened.emit(x.port)"
              >
                {{ marks[x.tone] }}
              </button>
            }
          </li>
        }
      </ol>
      <p class="small soft">
        <span class="pass">{{ marks.pass }}</span> lands <span class="hold">{{ marks.hold }}</span> last day to change,
        link ends <span class="stop">{{ marks.stop }}</span> PIN ends. Next: {{ due()[0]!.what }}, {{ next() }}.
      </p>
    }
  `,
  styles: `
    ol {
      display: grid;
      grid-template-columns: repeat(21, minmax(0, 1fr));
      margin-top: 12px;
      border-bottom: 2px solid var(--ink-soft);
    }
    li {
      display: flex;
      flex-direction: column;
      align-items: center;
      gap: 2px;
      min-height: 44px;
      padding: 2px 0;
      border-left: 1px solid var(--hairline);
    }
    .rest {
      background: var(--primary-wash);
    }
    .today span {
      color: var(--ink);
      font-weight: 600;
    }
    p {
      margin: 4px 0 10px;
    }
    p span + span {
      margin-left: 12px;
    }
    @media (max-width: 900px) {
      ol {
        display: none;
      }
    }
  `,
})
export class DeadlineLine {
  readonly ports = input.required<readonly PortView[]>();
  readonly opened = output<string>();
  private readonly session = inject(SessionFacade);
  protected readonly marks = { pass: '▲', hold: '◆', stop: '■' } as const;
  private readonly zone = computed(() => zoneOf(this.session.business()));
  private readonly today = computed(
    () => DateTime.fromMillis(this.session.now(), { zone: this.zone() }).toISODate() ?? '',
  );
  /** What falls due within the days that are drawn. */
  protected readonly due = computed(() => {
    const last = DateTime.fromISO(this.today()).plus({ days: DAYS }).toISODate() ?? '';
    return deadlinesOf(this.ports(), this.zone()).filter((d) => d.day >= this.today() && d.day < last);
  });
  protected readonly days = computed(() =>
    Array.from({ length: DAYS }, (_, i) => {
      const at = DateTime.fromISO(this.today()).plus({ days: i });
      const iso = at.toISODate() ?? '';
      return {
        iso,
        words: i === 0 ? 'today' : at.toFormat(at.day === 1 ? 'd LLL' : 'ccc d', { locale: 'en-US' }),
        rest: at.weekday > 5,
        due: this.due().filter((d) => d.day === iso),
      };
    }),
  );
  protected readonly next = computed(() =>
    DateTime.fromISO(this.due()[0]?.day ?? '').toFormat('ccc d LLL', { locale: 'en-US' }),
  );
}
