import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { listAudit, type AuditEntry } from '@long-gate/contracts';
import { Api } from '../api/api';
import { liveResource } from '../state/live-resource';
import { SessionFacade } from '../state/session.facade';
import { MomentPipe } from './format';

interface Difference {
  what: string;
  before: string;
  after: string;
}

/** Who did what to one object, when, before and after. */
@Component({
  selector: 'lg-history',
  imports: [MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <hr class="rule" />
    <h3>History</h3>
    @for (entry of entries.value()?.items ?? []; track entry.id) {
      <details>
        <summary>
          <span class="soft">{{ entry.at | moment: 'short' }}</span><span>{{ entry.action }}</span>
        </summary>
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
      </details>
    } @empty {
      <p class="soft small">{{ entries.isLoading() ? 'Reading…' : 'Nothing on record.' }}</p>
    }
  `,
  styles: `
    details {
      padding: 3px 0;
    }
    summary {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 10px;
      cursor: pointer;
      list-style: none;
      font-size: 13px;
    }
    summary::-webkit-details-marker {
      display: none;
    }
    summary:hover {
      color: var(--primary);
    }
    .diff {
      margin: 2px 0 2px 102px;
      overflow-wrap: anywhere;
    }
    details > .soft {
      margin-left: 102px;
    }
    del {
      color: var(--stop);
      margin-right: 6px;
    }
    ins {
      text-decoration: none;
    }
    h3 {
      margin-bottom: 4px;
    }
  `,
})
export class History {
  readonly kind = input.required<string>();
  readonly object = input.required<string>();
  private readonly api = inject(Api);
  private readonly session = inject(SessionFacade);
  protected readonly entries = liveResource(
    ['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'inbox', 'settings'],
    () => ({ businessId: this.session.businessId(), objectKind: this.kind(), objectId: this.object() }),
    ({ businessId, ...query }) => this.api.call(listAudit, { params: { businessId }, query: { ...query, limit: 40 } }),
  );

  protected differences(entry: AuditEntry): Difference[] {
    return differencesOf(entry);
  }
}

/** Member by member what changed between before and after. */
export function differencesOf(entry: Pick<AuditEntry, 'before' | 'after'>): Difference[] {
  const before = flat(entry.before);
  const after = flat(entry.after);
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .filter((k) => before[k] !== after[k] && (after[k] ?? '') !== '')
    .map((k) => ({ what: k, before: before[k] ?? '', after: after[k] ?? '' }));
}

function flat(value: unknown): Record<string, string> {
  if (value === null || typeof value !== 'object') return {};
  return Object.fromEntries(
    Object.entries(value).map(([k, v]) => [k, v === null ? '' : typeof v === 'object' ? JSON.stringify(v) : String(v)]),
  );
}
