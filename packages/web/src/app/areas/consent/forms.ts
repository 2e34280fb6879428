import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import type { FiledForm } from '@long-gate/contracts';
import { Docket } from '../../parts/docket/docket';
import { LostDocket } from '../../parts/docket/lost-docket';
import { CountPipe, dayInWords, DayPipe, MomentPipe } from '../../parts/format';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ConsentTabs } from './consent-tabs';
import { FormsStore } from './forms.store';

/** Forms that people signed, filed as the proof of what they agreed to. */
@Component({
  selector: 'lg-forms',
  imports: [
    Cell,
    ConsentTabs,
    CountPipe,
    DayPipe,
    Docket,
    LostDocket,
    List,
    MatButtonModule,
    MomentPipe,
    RouterLink,
    Table,
  ],
  providers: [FormsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="filed forms" [store]="store" [filters]="false">
      <ng-container actions>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="file">File a form</a>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No form was filed yet</h2>
        <p>
          Where people signed on paper, file the form: for one person in their docket, for many from a lot of claims,
          from the list of contacts or from a count of the gate. With its day and the words they were shown a claim
          becomes proof.
        </p>
      </ng-container>
      <lg-table
        name="forms"
        label="Filed forms"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="name" [of]="store.rows()" let-f>
          <button type="button" matButton class="plain strong" (click)="store.choose(f.id); $event.stopPropagation()">
            {{ f.name }}
          </button>
        </ng-template>
        <ng-template lgCell="filed" [of]="store.rows()" let-f>{{ f.filedAt | moment }}</ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen(); as f) {
        <lg-docket
          docket
          kind="Filed form"
          [name]="f.name"
          history="form"
          [object]="f.id"
          (closed)="store.choose(null)"
        >
          <dl class="facts">
            <dt>Proof of</dt>
            <dd>
              {{ f.people | count }} {{ f.people === 1 ? 'person' : 'people' }}{{ f.done ? '' : ', not all yet' }}
            </dd>
            @if (f.leftOut > 0) {
              <dt>Left as they are</dt>
              <dd class="hold">{{ f.leftOut | count }}: they left, dispute it, or have another number now</dd>
            }
            <dt>For</dt>
            <dd>{{ f.purposes.join(' and ') }} texts</dd>
            <dt>Signed on</dt>
            <dd>{{ f.signedOn | day }}</dd>
            <dt>Filed</dt>
            <dd>{{ f.filedAt | moment }}, {{ f.filedBy }}</dd>
            <dt>Document</dt>
            <dd>
              <a [href]="store.document(f.id)" download>{{ f.name }}</a>, {{ f.size | count }} bytes
            </dd>
            <dt>SHA-256</dt>
            <dd class="mono digest">{{ f.sha256 }}</dd>
          </dl>
          <h3>The words they were shown</h3>
          <p class="words">{{ f.disclosure }}</p>
          <p>
            <a [routerLink]="['/b', store.session.businessId(), 'consent']" [queryParams]="{ how: 'paper form' }"
              >Paper forms in the ledger</a
            >
          </p>
        </lg-docket>
      } @else if (store.lost(); as why) {
        <lg-lost-docket docket kind="Filed form" [why]="why" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .digest {
      overflow-wrap: anywhere;
    }
    .words {
      white-space: pre-wrap;
    }
    h3 {
      margin: 12px 0 4px;
    }
  `,
})
export class FormsPage {
  protected readonly store = inject(FormsStore);
  protected readonly id = (f: FiledForm): string => f.id;
  protected readonly columns: readonly Column<FiledForm>[] = [
    { id: 'name', head: 'Form', least: 200, share: 1.4 },
    { id: 'signed', head: 'Signed on', width: 110, text: (f) => dayInWords(f.signedOn) },
    { id: 'for', head: 'For', least: 130, leaves: 2, text: (f) => f.purposes.join(', ') },
    {
      id: 'people',
      head: 'Proof of',
      width: 100,
      right: true,
      text: (f) => `${f.people.toLocaleString('en-US')}${f.done ? '' : ' so far'}`,
    },
    {
      id: 'left',
      head: 'Left as they are',
      width: 120,
      right: true,
      leaves: 1,
      text: (f) => (f.leftOut > 0 ? f.leftOut.toLocaleString('en-US') : ''),
      face: 'hold',
    },
    { id: 'by', head: 'Filed by', least: 110, leaves: 3, text: (f) => f.filedBy, face: 'soft' },
    { id: 'filed', head: 'Filed', width: 150, face: 'soft' },
  ];
}
