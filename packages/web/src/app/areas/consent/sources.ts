import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CameBy, Refused, SourcePerson } from '@long-gate/contracts';
import { describeRate, formatPhone, wilson } from '@long-gate/core';
import { Chart, csvOf, type Series } from '../../parts/chart/chart';
import { Docket } from '../../parts/docket/docket';
import { Facet, type FacetValue } from '../../parts/facet';
import { CountPipe, MomentPipe } from '../../parts/format';
import { handOutFile } from '../../parts/hand-out';
import { List } from '../../parts/list/list';
import { Spark } from '../../parts/spark';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ConsentTabs } from './consent-tabs';
import { COUNTS, idOf, SourcesStore, SPANS, type Count } from './sources.store';

const WAY_WORDS: Record<CameBy['way'], string> = {
  'web page': 'Opt-in page',
  'preference page': 'Personal page',
  keyword: 'Keyword',
  'phone call': 'Phone call',
  'in person': 'In person',
  'paper form': 'Paper form',
  'imported record': 'Record brought in',
  reply: 'Reply',
  'e-mail': 'E-mail',
  API: 'API',
  carrier: 'Carrier',
  'reassigned numbers': 'Reassigned numbers',
  clock: 'Time limit',
};
/** Where leaving has words of its own. */
const LEFT_WORDS: Partial<Record<Refused['how'], string>> = {
  keyword: 'STOP or another word of its kind',
  reply: 'In their own words',
};
const COUNT_WORDS: Record<Count, string> = {
  asked: 'asked or agreed',
  agreed: 'agreed, and it counts',
  unconfirmed: 'never said YES',
  stayed: 'stayed a month',
  soon: 'left within a month',
  later: 'left later',
  ended: 'ended otherwise',
};

/** By which ways people agree, who of them stays, and who refuses. */
@Component({
  selector: 'lg-sources',
  imports: [
    Cell,
    Chart,
    ConsentTabs,
    CountPipe,
    Docket,
    Facet,
    List,
    MatButtonModule,
    MomentPipe,
    RouterLink,
    Spark,
    Table,
  ],
  providers: [SourcesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="ways in and out" [store]="store">
      <ng-container actions>
        <button type="button" matButton="outlined" [disabled]="store.all().length === 0" (click)="exported()">
          Export CSV
        </button>
        <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'consent', 'sources', 'opt-outs']"
          >Opt-outs from elsewhere</a
        >
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container facets>
        <lg-facet label="For" [values]="purposes()" (picked)="store.set({ purpose: $event, of: null })" />
        <lg-facet label="Last" [values]="spans()" (picked)="store.set({ weeks: $event })" />
      </ng-container>
      <lg-table
        name="sources"
        label="Ways in"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="open($event)"
      >
        <ng-template lgCell="way" [of]="store.all()" let-x>
          <button type="button" matButton class="plain strong name" (click)="open(id(x)); $event.stopPropagation()">
            {{ name(x) }}
          </button>
        </ng-template>
        <ng-template lgCell="weeks" [of]="store.all()" let-x>
          <lg-spark [values]="x.byWeek" [label]="(x.agreed | count) + ' agreed in ' + x.byWeek.length + ' weeks'" />
        </ng-template>
        <ng-container none>{{ store.here() ? 'Nobody was asked in this time.' : 'Reading…' }}</ng-container>
      </lg-table>
      <p class="soft small">
        Each time somebody was asked counts in the week it began, from Monday (UTC). Who stayed a month is said only of
        weeks that are over for a month and the three days in which a YES may come, and of nobody whose consent ended
        otherwise; ranges are 95% Wilson intervals. Claims brought in without proof are no way in.
      </p>
      @if (store.refusals().length > 0) {
        <section class="refuse">
          <h2>Who refuses</h2>
          <lg-chart label="Refusals by week" stepName="Week from" [steps]="steps()" [series]="series()" />
          <lg-table label="How people refuse" [rows]="store.refusals()" [columns]="ways" [key]="how">
            <ng-template lgCell="n" [of]="store.refusals()" let-x>
              <a
                [routerLink]="['/b', store.session.businessId(), 'consent']"
                [queryParams]="{
                  kind: 'revoked,declined',
                  how: x.how,
                  purpose: store.purpose(),
                  from: store.answer()?.from,
                }"
                >{{ x.n | count }}</a
              >
            </ng-template>
          </lg-table>
          <p class="soft small">
            Who stops twice counts once. What nobody said, an expiry or a number that changed hands, is no refusal. The
            counts open the events in the ledger.
          </p>
        </section>
      }
      @if (store.chosen(); as x) {
        <lg-docket docket kind="Way in" [name]="name(x)" (closed)="store.choose(null)">
          <section>
            <lg-table
              label="What became of them"
              [rows]="counts(x)"
              [columns]="countColumns"
              [key]="countKey"
              opening
              [open]="store.of()"
              (opened)="store.set({ of: $event })"
            >
              <ng-template lgCell="what" [of]="counts(x)" let-c>
                <button
                  type="button"
                  matButton
                  class="plain"
                  (click)="store.set({ of: c.key }); $event.stopPropagation()"
                >
                  {{ c.what }}
                </button>
              </ng-template>
            </lg-table>
          </section>
          <section>
            @if (store.of(); as of) {
              @if (store.people(); as people) {
                <h3>{{ words[of] }}</h3>
                <lg-table
                  name="source-people"
                  label="People behind the count"
                  [rows]="people.items"
                  [columns]="who"
                  [key]="person"
                >
                  <ng-template lgCell="name" [of]="people.items" let-y>
                    @if (y.contactId) {
                      <a
                        [routerLink]="['/b', store.session.businessId(), 'contacts']"
                        [queryParams]="{ open: y.contactId }"
                        >{{ y.name || 'no name' }}</a
                      >
                    } @else {
                      <span class="soft">no contact any more</span>
                    }
                  </ng-template>
                  <ng-template lgCell="at" [of]="people.items" let-y>{{ y.at | moment: 'day' }}</ng-template>
                  <ng-template lgCell="ended" [of]="people.items" let-y>{{
                    y.endedAt ? (y.endedAt | moment: 'day') : ''
                  }}</ng-template>
                  <ng-container none>Nobody.</ng-container>
                </lg-table>
                @if (people.next) {
                  <p class="soft small">The last {{ people.items.length | count }} are shown.</p>
                }
              } @else {
                <p class="soft small">Reading…</p>
              }
            } @else {
              <p class="soft small">Choose a count to see who is in it.</p>
            }
          </section>
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    .name {
      height: auto;
      text-align: left;
      white-space: normal;
    }
    .refuse {
      margin-top: 22px;
    }
    h3 {
      margin: 12px 0 4px;
    }
    h3::first-letter {
      text-transform: uppercase;
    }
  `,
})
export class SourcesPage {
  protected readonly store = inject(SourcesStore);
  protected readonly id = idOf;
  protected readonly words = COUNT_WORDS;
  protected readonly purposes = computed((): FacetValue[] => [
    { value: 'promotional', label: 'Offers', on: this.store.purpose() === 'promotional' },
    { value: 'informational', label: 'Notices', on: this.store.purpose() === 'informational' },
  ]);
  protected readonly spans = computed((): FacetValue[] =>
    SPANS.map((x) => ({ value: String(x), label: `${x} weeks`, on: this.store.weeks() === x })),
  );
  protected name(x: CameBy): string {
    // A word that is no programme's is START: they came back.
    if (x.via === '' && (x.way === 'keyword' || x.way === 'reply')) return 'Came back by START';
    const what = x.name || (x.way === 'imported record' || x.way === 'paper form' ? '' : x.via);
    return what ? `${WAY_WORDS[x.way]}: ${what}` : WAY_WORDS[x.way];
  }
  private readonly rate = (k: number, n: number): string => describeRate(wilson(k, n));
  protected readonly columns: readonly Column<CameBy>[] = [
    { id: 'way', head: 'Way in', least: 130, share: 1.2, by: (x) => this.name(x) },
    { id: 'asked', head: 'Asked', width: 76, right: true, leaves: 3, by: (x) => x.asked, text: (x) => said(x.asked) },
    {
      id: 'agreed',
      head: 'Agreed',
      least: 188,
      share: 1.4,
      by: (x) => x.agreed,
      text: (x) => this.rate(x.agreed, x.asked),
    },
    {
      id: 'stayed',
      head: 'Of them stayed a month',
      least: 206,
      share: 1.4,
      leaves: 2,
      by: (x) => (x.ripe === 0 ? -1 : x.stayed / x.ripe),
      text: (x) => (x.ripe === 0 ? 'too early to say' : this.rate(x.stayed, x.ripe)),
    },
    { id: 'weeks', head: 'Agreed, by week', width: 190, leaves: 1 },
  ];
  protected readonly how = (x: Refused): string => x.how;
  protected readonly ways: readonly Column<Refused>[] = [
    {
      id: 'how',
      head: 'How they said it',
      least: 140,
      by: (x) => x.how,
      text: (x) => LEFT_WORDS[x.how] ?? WAY_WORDS[x.how],
    },
    { id: 'n', head: 'Refusals', width: 90, right: true, by: (x) => x.n },
    ...(
      [
        ['never in', 'Had not agreed'],
        ['a month', 'Within a month'],
        ['a year', 'Within a year'],
        ['longer', 'Later'],
      ] as const
    ).map(([key, head]): Column<Refused> => ({
      id: key,
      head,
      width: 120,
      right: true,
      by: (x) => x.stayed[key],
      text: (x) => said(x.stayed[key]),
    })),
  ];
  /** The Mondays of the weeks shown. */
  protected readonly steps = computed((): string[] => {
    const a = this.store.answer();
    if (!a) return [];
    const first = Date.parse(`${a.from}T00:00:00Z`);
    return Array.from({ length: a.weeks }, (_, i) => new Date(first + i * 7 * 86_400_000).toISOString().slice(0, 10));
  });
  protected readonly series = computed((): Series[] => {
    const per = (of: readonly { byWeek: readonly number[] }[]): number[] =>
      this.steps().map((_, i) => of.reduce((n, x) => n + (x.byWeek[i] ?? 0), 0));
    return [
      { name: 'refused', kind: 'bar', tone: 'stop', values: per(this.store.refusals()) },
      { name: 'agreed', kind: 'line', tone: 'pass', values: per(this.store.all()) },
    ];
  });
  protected counts(x: CameBy): { key: Count; what: string; n: number }[] {
    const n: Record<Count, number> = { ...x, unconfirmed: x.asked - x.agreed };
    return COUNTS.map((key) => ({ key, what: COUNT_WORDS[key], n: n[key] }));
  }
  protected readonly countKey = (c: { key: Count }): string => c.key;
  protected readonly countColumns: readonly Column<{ key: Count; what: string; n: number }>[] = [
    { id: 'what', head: 'What became of them', least: 180 },
    { id: 'n', head: 'Times', width: 80, right: true, text: (c) => said(c.n) },
  ];
  protected readonly who: readonly Column<SourcePerson>[] = [
    { id: 'name', head: 'Contact', least: 90 },
    { id: 'e164', head: 'Number', width: 130, text: (y) => formatPhone(y.e164), face: 'mono' },
    { id: 'at', head: 'Asked', width: 96 },
    { id: 'ended', head: 'Ended', width: 104, leaves: 1 },
  ];
  protected readonly person = (y: SourcePerson): string => `${y.e164} ${y.at}`;
  protected open(id: string): void {
    this.store.set({ of: null, open: id });
  }
  protected exported(): void {
    const rows = this.store.all();
    const column = (name: string, of: (x: CameBy) => number): Series => ({
      name,
      kind: 'bar',
      tone: 'note',
      values: rows.map(of),
    });
    const text = csvOf(
      'way in',
      rows.map((x) => this.name(x)),
      [
        column('asked', (x) => x.asked),
        column('agreed', (x) => x.agreed),
        column('of weeks a month over: agreed', (x) => x.ripe),
        column('of them stayed a month', (x) => x.stayed),
        column('left within a month', (x) => x.soon),
        column('left later', (x) => x.later),
        column('ended otherwise', (x) => x.ended),
      ],
    );
    handOutFile(new Blob([text], { type: 'text/csv;charset=utf-8' }), `ways-in-${this.store.purpose()}.csv`);
  }
}

const said = (n: number): string => n.toLocaleString('en-US');
