import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ContactDocket } from './contact-docket';
import { ContactsTabs } from './contacts-tabs';
import { DuplicatesStore, type Duplicate } from './duplicates.store';

/** Contacts that may be one person: they have one e-mail between them. Merging is done in the docket of one of them. */
@Component({
  selector: 'lg-duplicates',
  imports: [Cell, ContactDocket, ContactsTabs, List, MatButtonModule, MomentPipe, PhonePipe, Table],
  providers: [DuplicatesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="contacts: duplicates" [store]="store" [filters]="false">
      <lg-contacts-tabs tabs />
      <ng-container nothing>
        <h2>Nobody is here twice, as far as is known</h2>
        <p>
          A number belongs to one contact only. Contacts that share an e-mail come here: open one, see what merging
          makes of the two, and merge them; it can be taken back.
        </p>
      </ng-container>
      <p class="soft">Open one to see what merging makes of them. Merging can be taken back.</p>
      <lg-table
        name="duplicates"
        label="Contacts that share an e-mail"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        (near)="store.more()"
      >
        <ng-template lgCell="contacts" [of]="store.rows()" let-d>
          @for (c of d.contacts; track c.id) {
            <button type="button" matButton class="plain strong one" (click)="store.choose(c.id)">
              {{ c.name || 'no name' }}
            </button>
            <span class="soft small mono">{{ c.e164 | phone }}</span>
            <span class="soft small between">since {{ c.createdAt | moment: 'short' }}</span>
          }
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.open(); as id) {
        <lg-contact-docket docket [contactId]="id" (closed)="store.choose(null)" (moved)="store.choose($event)" />
      }
    </lg-list>
  `,
  styles: `
    .one {
      margin-right: 6px;
    }
    .between {
      margin: 0 18px 0 6px;
    }
  `,
})
export class DuplicatesPage {
  protected readonly store = inject(DuplicatesStore);
  protected readonly id = (d: Duplicate): string => d.email;
  protected readonly columns: readonly Column<Duplicate>[] = [
    { id: 'email', head: 'E-mail', least: 180, text: (d) => d.email },
    { id: 'contacts', head: 'Contacts', least: 320, share: 3 },
  ];
}
