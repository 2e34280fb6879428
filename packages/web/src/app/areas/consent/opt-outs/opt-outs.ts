import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import type { OptOutList } from '@long-gate/contracts';
import type { OptOutOrigin } from '@long-gate/core';
import { Docket } from '../../../parts/docket/docket';
import { LostDocket } from '../../../parts/docket/lost-docket';
import { CountedPipe, CountPipe, DayPipe, MomentPipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { RefusedLines } from '../../../parts/refused-lines';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { OptOutsStore } from './opt-outs.store';

export const ORIGIN_WORDS: Record<OptOutOrigin, string> = {
  carrier: 'a carrier',
  'earlier provider': 'an earlier provider',
  'own records': 'our own records',
};

/** Lists of people who had opted out before they were written to from here. */
@Component({
  selector: 'lg-opt-outs',
  imports: [
    Cell,
    ConsentTabs,
    CountedPipe,
    CountPipe,
    DayPipe,
    Docket,
    LostDocket,
    List,
    MatButtonModule,
    MomentPipe,
    RefusedLines,
    RouterLink,
    Table,
  ],
  providers: [OptOutsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="opt-outs from elsewhere" [store]="store" [filters]="false">
      <ng-container actions>
        <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'consent', 'sources']"
          >Ways in and out</a
        >
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="bring">Bring in opt-outs</a>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No list of opt-outs was brought in yet</h2>
        <p>
          Whoever opted out at your carrier, at an earlier provider, or by your own records has opted out here too. Each
          line of the list becomes a no in the ledger, for every number of yours and every text; only its person comes
          back.
        </p>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="bring">Bring in opt-outs</a>
        }
      </ng-container>
      <lg-table
        name="opt-out-lists"
        label="Lists of opt-outs"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="name" [of]="store.rows()" let-x>
          <button type="button" matButton class="plain strong" (click)="store.choose(x.id); $event.stopPropagation()">
            {{ x.name }}
          </button>
        </ng-template>
        <ng-template lgCell="dated" [of]="store.rows()" let-x>{{ x.datedOn | day }}</ng-template>
        <ng-template lgCell="brought" [of]="store.rows()" let-x>{{ x.broughtAt | moment }}</ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen(); as x) {
        <lg-docket
          docket
          kind="List of opt-outs"
          [name]="x.name"
          history="opt-out list"
          [object]="x.id"
          (closed)="store.choose(null)"
        >
          @if (!x.done) {
            <div class="step">
              <span class="strong">It is being recorded.</span> Each counts from the moment its line is reached.
            </div>
          }
          <dl class="facts">
            <dt>Opted out</dt>
            <dd>
              {{ x.people | counted: 'person' : 'people' }}{{ x.done ? '' : ' so far' }}
              @if (x.agreedSince > 0) {
                <span class="soft">; {{ x.agreedSince | count }} of them agreed after that and stay in</span>
              }
            </dd>
            <dt>Out already</dt>
            <dd>{{ x.already | count }}</dd>
            <dt>Kept by</dt>
            <dd>{{ words[x.origin] }}</dd>
            <dt>From</dt>
            <dd>{{ x.source }}</dd>
            <dt>Of the day</dt>
            <dd>{{ x.datedOn | day }}</dd>
            <dt>Brought in</dt>
            <dd>{{ x.broughtAt | moment }}, {{ x.broughtBy }}</dd>
            <dt>File</dt>
            <dd>
              <a [href]="store.document(x.id)" download>{{ x.name }}</a>, {{ x.lines | counted: 'line' }}
            </dd>
            <dt>SHA-256</dt>
            <dd class="mono digest">{{ x.sha256 }}</dd>
          </dl>
          @if (x.refused > 0) {
            <h3>{{ x.refused | counted: 'line' }} of the file {{ x.refused === 1 ? 'is' : 'are' }} no number</h3>
            <lg-refused-lines [all]="x.refused" [first]="x.refusals" />
          }
          <p class="more">
            <a
              [routerLink]="['/b', store.session.businessId(), 'consent']"
              [queryParams]="{ kind: 'revoked', how: x.origin === 'carrier' ? 'carrier' : 'imported record' }"
              >Such opt-outs in the ledger</a
            >
          </p>
        </lg-docket>
      } @else if (store.lost(); as why) {
        <lg-lost-docket docket kind="List of opt-outs" [why]="why" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .facts {
      margin-top: 12px;
    }
    .digest {
      overflow-wrap: anywhere;
    }
    h3 {
      margin: 14px 0 4px;
    }
    .more {
      margin-top: 12px;
    }
  `,
})
export class OptOutsPage {
  protected readonly store = inject(OptOutsStore);
  protected readonly words = ORIGIN_WORDS;
  protected readonly id = (x: OptOutList): string => x.id;
  protected readonly columns: readonly Column<OptOutList>[] = [
    { id: 'name', head: 'List', least: 140, share: 1.3 },
    { id: 'origin', head: 'Kept by', least: 140, leaves: 2, text: (x) => ORIGIN_WORDS[x.origin] },
    { id: 'dated', head: 'Of the day', width: 110 },
    {
      id: 'people',
      head: 'Opted out',
      width: 110,
      right: true,
      text: (x) => `${x.people.toLocaleString('en-US')}${x.done ? '' : ' so far'}`,
    },
    {
      id: 'already',
      head: 'Out already',
      width: 110,
      right: true,
      leaves: 3,
      text: (x) => x.already.toLocaleString('en-US'),
      face: 'soft',
    },
    { id: 'by', head: 'Brought in by', least: 120, leaves: 1, text: (x) => x.broughtBy, face: 'soft' },
    { id: 'brought', head: 'Brought in', width: 150, leaves: 4, face: 'soft' },
  ];
}
