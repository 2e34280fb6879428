import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { listAudit, type AuditEntry } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { CountPipe, MomentPipe } from '../../parts/format';
import { differencesOf } from '../../parts/history';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { SessionFacade } from '../../state/session.facade';

/** Who did what, when, before and after. Nothing here is ever changed or deleted. */
@Component({
  selector: 'lg-audit-settings',
  imports: [MatButtonModule, MomentPipe, CountPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="soft">{{ rows.total() | count }} entries, newest first. Nothing here is ever changed or deleted.</p>
    <table class="ledger">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
          <th>Changed</th>
        </tr>
      </thead>
      <tbody>
        @for (e of rows.rows(); track e.id) {
          <tr>
            <td class="soft fixed">{{ e.at | moment }}</td>
            <td class="fixed">{{ e.actor }}</td>
            <td class="strong">
              {{ e.action }} <span class="soft small">{{ e.objectKind }}</span>
            </td>
            <td class="small">
              @for (d of differences(e); track d.what) {
                <div>
                  <span class="soft">{{ d.what }}</span>
                  @if (d.before) {
                    <del class="stop">{{ d.before }}</del>
                  }
                  {{ d.after }}
                </div>
              }
            </td>
          </tr>
        }
      </tbody>
    </table>
    @if (!rows.ended() && rows.total()) {
      <p><button type="button" matButton="outlined" (click)="rows.more()">Show more</button></p>
    }
  `,
  styles: `
    td {
      height: auto !important;
      padding-block: 6px !important;
      overflow-wrap: anywhere;
    }
    td.fixed {
      white-space: nowrap;
    }
    del {
      margin: 0 4px;
    }
  `,
})
export class AuditSettings {
  private readonly api = inject(Api);
  private readonly session = inject(SessionFacade);
  protected readonly rows = new PagedRows(
    computed(() => this.session.businessId() || undefined),
    (businessId, cursor, limit) => this.api.call(listAudit, { params: { businessId }, query: { cursor, limit } }),
    60,
  );

  constructor() {
    onTopics(['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'inbox', 'settings'], () =>
      this.rows.refresh(),
    );
  }

  protected differences(e: AuditEntry) {
    return differencesOf(e).slice(0, 6);
  }
}
