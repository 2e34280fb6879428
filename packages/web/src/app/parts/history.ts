import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import type { AuditEntry } from '@long-gate/contracts';
import { zoneOf } from '../state/zone';
import { momentIn, MomentPipe } from './format';
import { nameInWords, valueInWords } from './value-in-words';
import { HistoryStore } from './history.store';
import { Unfold } from './unfold';

interface Difference {
  what: string;
  before: string;
  after: string;
}

/** Who did what to one object and to what belongs to its history, when, before and after. */
@Component({
  selector: 'lg-history',
  imports: [MomentPipe, Unfold],
  providers: [HistoryStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <hr class="rule" />
    <h2>History</h2>
    @for (entry of store.entries(); track entry.id) {
      <lg-unfold>
        <span line class="entry"
          ><span class="soft">{{ entry.at | moment: 'short' }}</span
          ><span
            >{{ entry.action }}
            @if (entry.objectId !== object() && entry.objectName) {
              <span class="soft">{{ entry.objectName }}</span>
            }
          </span></span
        >
        <div class="small soft">by {{ entry.actor }}</div>
        @for (d of differences(entry); track d.what) {
          <div class="small diff">
            <span class="soft">{{ d.what }}</span>
            @if (d.before) {
              <del>{{ d.before }}</del>
            }
            <ins>{{ d.after }}</ins>
          </div>
        }
      </lg-unfold>
    } @empty {
      <p class="soft small">{{ store.loading() ? 'Reading…' : 'Nothing on record.' }}</p>
    }
  `,
  styles: `
    .entry {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 10px;
    }
    .diff {
      margin: 2px 0;
      overflow-wrap: anywhere;
    }
    del {
      color: var(--stop);
      margin-right: 6px;
    }
    ins {
      text-decoration: none;
    }
    h2 {
      margin-bottom: 4px;
      font: 600 14px/1.45 var(--sans);
    }
  `,
})
export class History {
  readonly kind = input.required<string>();
  readonly object = input.required<string>();
  protected readonly store = inject(HistoryStore);

  constructor() {
    effect(() => {
      this.store.of(this.kind(), this.object());
    });
  }

  protected differences(entry: AuditEntry): Difference[] {
    return differencesOf(entry, zoneOf(this.store.session.business()));
  }
}

/** Member by member what changed between before and after. @param zone in which moments are written. */
export function differencesOf(entry: Pick<AuditEntry, 'before' | 'after'>, zone: string): Difference[] {
  const before = flat(entry.before, zone);
  const after = flat(entry.after, zone);
  return Object.keys(after)
    .filter((k) => (before[k] ?? '') !== after[k])
    .map((k) => ({ what: nameInWords(k), before: before[k] ?? '', after: after[k] || '(nothing)' }));
}

function flat(value: unknown, zone: string): Record<string, string> {
  if (value === null || typeof value !== 'object') return {};
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, written(v, zone)]));
}

/** A moment of the trail, as it was recorded. */
const MOMENT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}(?:\.\d+)?Z$/;
function written(value: unknown, zone: string): string {
  return valueInWords(value, {
    text: (words) => (MOMENT.test(words) ? momentIn(Date.parse(words), zone, 'zone') : words),
  });
}
