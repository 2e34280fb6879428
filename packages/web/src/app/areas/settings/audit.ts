import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { AuditEntry } from '@long-gate/contracts';
import { CountPipe, MomentPipe } from '../../parts/format';
import { differencesOf } from '../../parts/history';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { AuditStore } from './audit.store';

/** Who did what, when, before and after. Nothing here is ever changed or deleted. */
@Component({
  selector: 'lg-audit-settings',
  imports: [Cell, Table, MatButtonModule, MomentPipe, CountPipe],
  providers: [AuditStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="soft">{{ store.total() | count }} entries, newest first. Nothing here is ever changed or deleted.</p>
    @if (store.problem(); as p) {
      <div class="problem" role="alert">
        {{ p.message }} <button type="button" matButton class="plain" (click)="store.again()">Try again</button>
      </div>
    }
    <lg-table label="Changes" [rows]="store.rows()" [columns]="columns" [key]="id">
      <ng-template lgCell="when" [of]="store.rows()" let-e>{{ e.at | moment }}</ng-template>
      <ng-template lgCell="what" [of]="store.rows()" let-e>
        {{ e.action }} <span class="soft small">{{ e.objectKind }}</span>
      </ng-template>
      <ng-template lgCell="changed" [of]="store.rows()" let-e>
        @for (d of differences(e); track d.what) {
          <div>
            <span class="soft">{{ d.what }}</span>
            @if (d.before) {
              <del class="stop">{{ d.before }}</del>
            }
            {{ d.after }}
          </div>
        }
      </ng-template>
      <ng-container none>{{ store.loading() ? 'Reading…' : 'Nothing yet.' }}</ng-container>
    </lg-table>
    @if (!store.ended() && store.total()) {
      <p><button type="button" matButton="outlined" (click)="store.more()">Show more</button></p>
    }
  `,
  styles: `
    del {
      margin: 0 4px;
    }
  `,
})
export class AuditSettings {
  protected readonly store = inject(AuditStore);
  protected readonly id = (e: AuditEntry): string => e.id;
  protected readonly columns: readonly Column<AuditEntry>[] = [
    { id: 'when', head: 'When', face: 'soft nowrap' },
    { id: 'who', head: 'Who', face: 'nowrap', text: (e) => e.actor },
    { id: 'what', head: 'What', face: 'strong' },
    { id: 'changed', head: 'Changed', face: 'small anywhere' },
  ];

  protected differences(e: AuditEntry) {
    return differencesOf(e).slice(0, 6);
  }
}
