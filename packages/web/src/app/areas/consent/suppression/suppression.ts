import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import type { SuppressionList } from '@long-gate/contracts';
import { keepsOff, type SuppressionKind } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { Docket } from '../../../parts/docket/docket';
import { CountedPipe, CountPipe, dayInWords, DayPipe, MomentPipe, PhonePipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { RefusedLines } from '../../../parts/refused-lines';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { SuppressionStore } from './suppression.store';

export const KIND_WORDS: Record<SuppressionKind, string> = {
  national: 'national do-not-call registry',
  state: 'a state’s do-not-call registry',
  carrier: 'a carrier’s list',
  own: 'our own list',
};

/** Lists of numbers not to be texted: how old each is, whom it keeps off and why. */
@Component({
  selector: 'lg-suppression',
  imports: [
    ConsentTabs,
    CountedPipe,
    CountPipe,
    DayPipe,
    Docket,
    List,
    MatButtonModule,
    MomentPipe,
    PhonePipe,
    RefusedLines,
    RouterLink,
    Table,
  ],
  providers: [SuppressionStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="suppression lists" [store]="store" [filters]="false">
      <ng-container actions>
        <a matButton="outlined" routerLink="relationships">Purchases and inquiries</a>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="bring">Bring in a list</a>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No list keeps anybody off yet</h2>
        <p>
          The national do-not-call registry and those of states keep offers off whoever did not agree to them in
          writing; a carrier’s list, and your own, keep everything off. Each is a file with a number on every line, of
          any size.
        </p>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="bring">Bring in a list</a>
        }
      </ng-container>
      <lg-table
        name="suppression"
        label="Suppression lists"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen(); as l) {
        <lg-docket
          docket
          kind="Suppression list"
          [name]="l.name"
          history="suppression list"
          [object]="l.id"
          (closed)="store.choose(null)"
        >
          @if (l.reading; as r) {
            <div class="step">
              <span class="strong">A file of it was not read to its end.</span> {{ r.lines | counted: 'line' }} came,
              and keep off already. Choose the file again, or leave it.
            </div>
          } @else if (l.stale) {
            <div class="step">
              <span class="strong">Bring in a newer file.</span> It is {{ l.daysOld | counted: 'day' }} old; a registry
              may be 31 days old when offers are sent.
            </div>
          }
          @if (store.session.isAdministrator()) {
            <p class="ends">
              <a matButton="filled" routerLink="bring" [queryParams]="{ open: l.id }">{{
                l.reading ? 'Choose the file again' : 'Bring in a newer file'
              }}</a>
              @if (l.reading) {
                <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="leave(l)">
                  Leave it
                </button>
              }
            </p>
          }
          <dl class="facts">
            <dt>What it is</dt>
            <dd>{{ kinds[l.kind] }}</dd>
            <dt>Keeps off</dt>
            <dd>{{ keeps(l) }}</dd>
            @if (l.state === 'stands') {
              <dt>From</dt>
              <dd>{{ l.source }}</dd>
              <dt>Of the day</dt>
              <dd [class.hold]="l.stale">{{ l.datedOn | day }}, {{ l.daysOld | counted: 'day' }} ago</dd>
              <dt>Numbers</dt>
              <dd>{{ l.numbers | count }}</dd>
              <dt>Brought in</dt>
              <dd>{{ l.broughtAt ?? l.addedAt | moment }}, {{ l.addedBy }}</dd>
            }
          </dl>
          @if (l.refused > 0) {
            <h3>{{ l.refused | counted: 'line' }} of the file {{ l.refused === 1 ? 'is' : 'are' }} no number</h3>
            <lg-refused-lines [all]="l.refused" [first]="l.refusals" />
          }
          @if (store.people(); as p) {
            <h3>
              {{ p.total | counted: 'contact' }} of ours {{ p.total === 1 ? 'is' : 'are' }} on it
              @if (p.total > 0) {
                <a class="file" [href]="store.peopleFile(l.id)" download>Export CSV</a>
              }
            </h3>
            <ul class="plain-list">
              @for (x of p.items; track x.e164) {
                <li>
                  <a
                    [routerLink]="['/b', store.session.businessId(), 'contacts']"
                    [queryParams]="{ open: x.contactId }"
                    >{{ x.name || (x.e164 | phone) }}</a
                  >
                  <span class="mono soft small number">{{ x.e164 | phone }}</span>
                  <span class="soft small why"
                    >{{ x.kept.length === 3 ? 'kept off everything' : x.exception }}
                    @if (x.exceptionEndsAt; as at) {
                      <span class="strong">Until {{ at | moment: 'day' }}.</span>
                    }
                  </span>
                </li>
              }
              @if (p.total > p.items.length) {
                <li class="soft">
                  and {{ p.total - p.items.length | count }} more, in the file
                  @if (store.morePeople()) {
                    <button type="button" matButton class="plain" (click)="store.showMore()">Show more</button>
                  }
                </li>
              }
            </ul>
          }
          @if (store.session.isAdministrator() && l.state === 'stands') {
            <p>
              <button type="button" matButton class="plain stop" [disabled]="store.acting.busy()" (click)="drop(l)">
                Take the list away…
              </button>
            </p>
          }
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    h3 {
      margin: 14px 0 4px;
    }
    .plain-list {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    .plain-list li {
      padding: 4px 0;
      border-bottom: 1px solid var(--hairline);
    }
    .number {
      margin: 0 6px;
    }
    .why {
      display: block;
    }
    .file {
      font-weight: 400;
      margin-left: 8px;
    }
    .ends {
      display: flex;
      gap: 8px;
      margin: 10px 0;
    }
  `,
})
export class SuppressionPage {
  protected readonly store = inject(SuppressionStore);
  private readonly confirm = inject(Confirm);
  protected readonly kinds = KIND_WORDS;
  protected readonly id = (l: SuppressionList): string => l.id;
  protected readonly keeps = (l: SuppressionList): string =>
    keepsOff(l.kind) === 'all' ? 'every text' : 'offers, from whoever did not agree to them in writing';
  protected readonly columns: readonly Column<SuppressionList>[] = [
    { id: 'name', head: 'List', least: 150, share: 1.3, text: (l) => l.name, face: 'strong' },
    { id: 'kind', head: 'What it is', least: 160, leaves: 2, text: (l) => KIND_WORDS[l.kind] },
    {
      id: 'numbers',
      head: 'Numbers',
      width: 100,
      right: true,
      text: (l) => (l.state === 'stands' ? l.numbers.toLocaleString('en-US') : 'being read'),
    },
    { id: 'dated', head: 'Of the day', width: 110, text: (l) => dayInWords(l.datedOn) },
    {
      id: 'age',
      head: 'Age',
      width: 120,
      leaves: 1,
      text: (l) => `${l.daysOld} day${l.daysOld === 1 ? '' : 's'}${l.stale ? ', too old' : ''}`,
      face: (l) => (l.stale ? 'hold strong' : 'soft'),
    },
    { id: 'source', head: 'From', least: 120, leaves: 3, text: (l) => l.source, face: 'soft' },
  ];

  protected async leave(l: SuppressionList): Promise<void> {
    if ((await this.store.discard(l.id)) && l.state === 'reading') this.store.choose(null);
  }

  protected async drop(l: SuppressionList): Promise<void> {
    const n = (this.store.people()?.total ?? 0).toLocaleString('en-US');
    const yes = await this.confirm.ask({
      title: `Take “${l.name}” away`,
      line: `${n} of your contacts are on it. Whom no other list keeps off can be texted again as soon as it is gone; to undo it, bring the file in again.`,
      yes: 'Take it away',
    });
    if (yes && (await this.store.drop(l))) this.store.choose(null);
  }
}
