import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { listDispatches, type DispatchView } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { CountPipe, MomentPipe } from '../../parts/format';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { PageTitle } from '../../parts/page-title';
import { SessionFacade } from '../../state/session.facade';

@Component({
  selector: 'lg-dispatch-list',
  imports: [MatButtonModule, PageTitle, RouterLink, MomentPipe, CountPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="dispatches" />
          @if (session.mayEdit()) {
            <a matButton="filled" routerLink="new">Write a dispatch</a>
          }
        </div>
        @if (rows.error(); as e) {
          <div class="problem" role="alert">{{ e.message }}</div>
        }
        @if (rows.total() === 0) {
          <div class="empty">
            <h2>No dispatches yet</h2>
            <p>
              One message to one audience. Before anything leaves, the gate preview shows who passes, who is held and
              until when, and who is stopped and by what.
            </p>
            @if (session.mayEdit()) {
              <a matButton="filled" routerLink="new">Write a dispatch</a>
            }
          </div>
        } @else {
          <table class="ledger">
            <thead>
              <tr>
                <th>Title</th>
                <th>State</th>
                <th>Sent</th>
                <th>Purpose</th>
                <th class="right">Delivered</th>
                <th class="right">On its way</th>
                <th class="right">Failed</th>
                <th class="right">Held</th>
                <th class="right">Stopped</th>
              </tr>
            </thead>
            <tbody>
              @for (d of rows.rows(); track d.id) {
                <tr class="go" [routerLink]="[d.id]">
                  <td>
                    <a class="strong" [routerLink]="[d.id]">{{ d.title }}</a>
                  </td>
                  <td [class.hold]="d.state === 'sending'">{{ d.state }}</td>
                  <td class="soft">{{ d.sentAt ? (d.sentAt | moment) : '–' }}</td>
                  <td>{{ d.purpose ?? 'not named' }}</td>
                  <td class="right">{{ n(d, 'delivered') | count }}</td>
                  <td class="right">{{ n(d, 'sent', 'leaving', 'unsure', 'waiting', 'judging') | count }}</td>
                  <td class="right">{{ n(d, 'failed') | count }}</td>
                  <td class="right" [class.hold]="n(d, 'held') > 0">{{ n(d, 'held') | count }}</td>
                  <td class="right">{{ n(d, 'stopped') | count }}</td>
                </tr>
              }
            </tbody>
          </table>
          @if (!rows.ended() && rows.total() !== null) {
            <p><button type="button" matButton="outlined" (click)="rows.more()">Show more</button></p>
          }
        }
      </div>
    </div>
  `,
})
export class DispatchListPage {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionFacade);
  protected readonly rows = new PagedRows(
    computed(() => this.session.businessId() || undefined),
    (businessId, cursor, limit) => this.api.call(listDispatches, { params: { businessId }, query: { cursor, limit } }),
    50,
  );

  constructor() {
    onTopics(['dispatch'], () => this.rows.refresh());
  }

  protected n(d: DispatchView, ...states: string[]): number {
    return states.reduce((sum, s) => sum + (d.counts[s] ?? 0), 0);
  }
}
