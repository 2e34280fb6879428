import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { OptInPage } from '@long-gate/contracts';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ConsentTabs } from './consent-tabs';
import { PageDocket } from './page-docket';
import { NEW, PagesStore } from './pages.store';

/** Public opt-in pages: what they say, which number confirms, and their address. */
@Component({
  selector: 'lg-pages',
  imports: [Cell, List, Table, MatButtonModule, ConsentTabs, PageDocket],
  providers: [PagesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="opt-in pages" [store]="store" [filters]="false">
      <ng-container actions>
        @if (store.session.isAdministrator()) {
          <button type="button" matButton="filled" (click)="store.choose(making)">Make a page</button>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No opt-in page yet</h2>
        <p>
          A page of your own where people enter their number and choose, unticked, what they want. Every opt-in is kept
          with the exact words they saw.
        </p>
      </ng-container>
      <lg-table
        name="pages"
        label="Opt-in pages"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        [opening]="store.session.isAdministrator()"
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="title" [of]="store.all()" let-p>
          @if (store.session.isAdministrator()) {
            <button type="button" matButton class="plain strong" (click)="store.choose(p.id); $event.stopPropagation()">
              {{ p.title }}
            </button>
          } @else {
            <span class="strong">{{ p.title }}</span>
          }
        </ng-template>
        <ng-template lgCell="address" [of]="store.all()" let-p>
          <a [href]="'/join/' + p.slug" target="_blank" rel="noopener" (click)="$event.stopPropagation()"
            >/join/{{ p.slug }}</a
          >
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.session.isAdministrator() && (store.chosen() !== null || store.open() === making)) {
        <lg-page-docket docket [page]="store.chosen()" />
      }
    </lg-list>
  `,
})
export class PagesPage {
  protected readonly store = inject(PagesStore);
  protected readonly making = NEW;
  protected readonly id = (p: OptInPage): string => p.id;
  protected readonly columns: readonly Column<OptInPage>[] = [
    { id: 'title', head: 'Page', least: 140, share: 1.4, by: (p) => p.title },
    { id: 'address', head: 'Address', least: 120, by: (p) => p.slug },
    {
      id: 'kinds',
      head: 'Kinds of text',
      least: 150,
      leaves: 1,
      text: (p) => p.purposes.map((x) => x.purpose).join(', '),
    },
    {
      id: 'optIns',
      head: 'Opt-ins',
      width: 90,
      right: true,
      by: (p) => p.optIns,
      text: (p) => p.optIns.toLocaleString('en-US'),
    },
    { id: 'version', head: 'Version', width: 90, right: true, asked: true, text: (p) => String(p.pageVersion) },
    {
      id: 'state',
      head: 'State',
      width: 120,
      by: (p) => String(p.published),
      text: (p) => (p.published ? 'published' : 'not published'),
      face: (p) => (p.published ? '' : 'hold'),
    },
  ];
}
