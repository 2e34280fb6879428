import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CoveredPerson, CoverageRow } from '@long-gate/contracts';
import { formatPhone, postLabel, REASONS, type CoveredPurpose, type ReasonCode } from '@long-gate/core';
import { Docket } from '../../parts/docket/docket';
import { CountPipe } from '../../parts/format';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ConsentTabs } from './consent-tabs';
import { CoverageStore, idOf } from './coverage.store';

type Kept = CoverageRow['promotional']['kept'][number];
/** One count, as a row. */
interface Count {
  key: string;
  what: string;
  more: string;
  /** What would lift it, where nothing here does. */
  lift: string;
  count: number;
  face: 'pass' | 'hold' | 'stop';
  way: Way | undefined;
}
interface Way {
  words: string;
  /** After the business's own address. */
  to: readonly string[];
  query?: Record<string, string>;
}
const INVITE: Way = { words: 'Invite them by e-mail', to: ['consent', 'invitations'] };
const ANOTHER = (cause: string): Way => ({
  words: 'Ask for another number',
  to: ['contacts', 'unreached'],
  query: { cause },
});
/** What can be done about what keeps people, where something can. */
const WAYS: Partial<Record<ReasonCode, Way>> = {
  'never-looked-up': { words: 'Look them up', to: ['contacts'], query: { textable: 'unknown' } },
  'lookup-unknown': { words: 'Look them up again', to: ['contacts'], query: { textable: 'unknown' } },
  'not-textable': ANOTHER('not-textable'),
  'out-of-service': ANOTHER('out-of-service'),
  'faults-in-review': { words: 'Look at the numbers', to: ['contacts', 'unreached'] },
  'wish-in-review': { words: 'Read the replies', to: ['consent', 'replies'] },
  suppressed: { words: 'See the lists', to: ['consent', 'suppression'] },
  'do-not-call': { words: 'See the lists', to: ['consent', 'suppression'] },
  'consent-none': INVITE,
  'consent-lapsed': INVITE,
  'consent-expired': INVITE,
  'consent-declined': INVITE,
  'consent-voided': INVITE,
  'consent-unproven': { words: 'File the form they signed', to: ['consent', 'claims'] },
};

/** Of all contacts and of each list: how many may be texted for what, and what keeps the rest. */
@Component({
  selector: 'lg-coverage',
  imports: [Cell, ConsentTabs, CountPipe, Docket, List, MatButtonModule, RouterLink, Table],
  providers: [CoverageStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="coverage" [store]="store" [filters]="false">
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No contacts yet</h2>
        <p>Bring contacts in; here you see of each list how many may be texted for what, and what keeps the rest.</p>
      </ng-container>
      <lg-table
        name="coverage"
        label="Coverage"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="open($event)"
      >
        <ng-template lgCell="name" [of]="store.all()" let-x>
          <button type="button" matButton class="plain strong" (click)="open(id(x)); $event.stopPropagation()">
            {{ name(x) }}
          </button>
        </ng-template>
        <ng-template lgCell="informational" [of]="store.all()" let-x>
          <span class="bar" aria-hidden="true"><span [style.width.%]="share(x, 'informational')"></span></span>
          <span class="mono">{{ x.informational.may | count }}</span>
        </ng-template>
        <ng-template lgCell="promotional" [of]="store.all()" let-x>
          <span class="bar" aria-hidden="true"><span [style.width.%]="share(x, 'promotional')"></span></span>
          <span class="mono">{{ x.promotional.may | count }}</span>
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      <p class="soft small">
        As the posts of the gate that ask about a person would say now; hours, your number and the words come on top.
        Each contact is counted once, where the gate would decide.
      </p>
      @if (store.chosen(); as x) {
        <lg-docket docket kind="Coverage" [name]="name(x)" (closed)="store.choose(null)">
          @for (p of purposes; track p.key) {
            <section>
              <h3>{{ p.name }}</h3>
              <lg-table
                [label]="p.name"
                [rows]="counts(x, p.key)"
                [columns]="countColumns"
                [key]="countKey"
                opening
                [open]="lookedAt()"
                (opened)="look($event)"
              >
                <ng-template lgCell="what" [of]="counts(x, p.key)" let-c>
                  <button type="button" matButton class="plain what" (click)="look(c.key); $event.stopPropagation()">
                    {{ c.what }}
                  </button>
                  <span class="soft small more">{{ c.more }}</span>
                </ng-template>
                <ng-template lgCell="way" [of]="counts(x, p.key)" let-c>
                  @if (c.way; as w) {
                    <a
                      class="small"
                      [routerLink]="there(w)"
                      [queryParams]="w.query ?? {}"
                      (click)="$event.stopPropagation()"
                      >{{ w.words }}</a
                    >
                  } @else {
                    <span class="soft small">{{ c.lift }}</span>
                  }
                </ng-template>
              </lg-table>
            </section>
          }
          <section>
            @if (store.people(); as people) {
              <h3>{{ people.total | count }} {{ behind() }}</h3>
              <lg-table
                name="covered"
                label="People behind the count"
                [rows]="people.items"
                [columns]="who"
                [key]="person"
              >
                <ng-template lgCell="name" [of]="people.items" let-y>
                  <a
                    [routerLink]="['/b', store.session.businessId(), 'contacts']"
                    [queryParams]="{ open: y.contactId }"
                    >{{ y.name || 'no name' }}</a
                  >
                </ng-template>
              </lg-table>
              @if (people.total > people.items.length) {
                <p class="soft small">The first {{ people.items.length | count }} are shown.</p>
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
    .bar {
      display: inline-block;
      width: 90px;
      height: 10px;
      margin-right: 8px;
      border: 1px solid var(--hairline);
      vertical-align: baseline;
    }
    .bar > span {
      display: block;
      height: 100%;
      background: var(--pass);
    }
    h3 {
      margin: 16px 0 4px;
    }
    .more {
      display: block;
    }
    .what {
      height: auto;
      text-align: left;
      white-space: normal;
    }
  `,
})
export class CoveragePage {
  protected readonly store = inject(CoverageStore);
  protected readonly id = idOf;
  protected readonly purposes: readonly { key: CoveredPurpose; name: string }[] = [
    { key: 'informational', name: 'Notices' },
    { key: 'promotional', name: 'Offers' },
  ];
  protected readonly columns: readonly Column<CoverageRow>[] = [
    { id: 'name', head: 'Whom', least: 150, share: 1.2, by: (x) => this.name(x) },
    {
      id: 'people',
      head: 'Contacts',
      width: 90,
      right: true,
      by: (x) => x.people,
      text: (x) => x.people.toLocaleString('en-US'),
    },
    { id: 'informational', head: 'May get notices', width: 180, by: (x) => x.informational.may },
    { id: 'promotional', head: 'May get offers', width: 180, by: (x) => x.promotional.may },
    {
      id: 'most',
      head: 'What keeps most from offers',
      least: 170,
      leaves: 1,
      text: (x) => {
        const most = [...x.promotional.kept].sort((a, b) => b.count - a.count)[0];
        return most ? `${this.why(most)}: ${most.count.toLocaleString('en-US')}` : '';
      },
    },
  ];
  protected readonly who: readonly Column<CoveredPerson>[] = [
    { id: 'name', head: 'Contact', least: 110 },
    { id: 'e164', head: 'Number', width: 136, text: (y) => formatPhone(y.e164), face: 'mono' },
    { id: 'email', head: 'E-mail', least: 100, leaves: 1, text: (y) => y.email },
  ];
  protected readonly person = (y: CoveredPerson): string => y.contactId;
  protected name(x: CoverageRow): string {
    return x.kind === 'all' ? 'All contacts' : `${x.name}${x.kind === 'tag' ? ' (tag)' : ''}`;
  }
  protected share(x: CoverageRow, purpose: CoveredPurpose): number {
    return x.people === 0 ? 0 : (x[purpose].may / x.people) * 100;
  }
  private words(reason: string): { why: string; lift: string } | undefined {
    return (REASONS as Record<string, { why: string; lift: string }>)[reason];
  }
  protected why(k: Kept): string {
    return this.words(k.reason)?.why ?? k.reason;
  }
  /** The counts of a purpose as rows: who may be texted, then what keeps the rest. */
  protected counts(x: CoverageRow, purpose: CoveredPurpose): Count[] {
    return [
      {
        key: `${purpose} `,
        what: 'may be texted',
        more: '',
        lift: '',
        count: x[purpose].may,
        face: 'pass',
        way: undefined,
      },
      ...x[purpose].kept.map((k) => ({
        key: `${purpose} ${k.reason}`,
        what: this.why(k),
        more: `${k.result} at post ${k.post}, ${postLabel(k.post)}`,
        lift: this.words(k.reason)?.lift ?? '',
        count: k.count,
        face: k.result,
        way: WAYS[k.reason as ReasonCode],
      })),
    ];
  }
  protected readonly countKey = (c: Count): string => c.key;
  protected readonly countColumns: readonly Column<Count>[] = [
    { id: 'what', head: 'Who', least: 130, share: 1.6 },
    {
      id: 'count',
      head: 'Contacts',
      width: 76,
      right: true,
      text: (c) => c.count.toLocaleString('en-US'),
      face: (c) => c.face,
    },
    { id: 'way', head: 'What helps', width: 124 },
  ];
  protected there(w: Way): string[] {
    return ['/b', this.store.session.businessId(), ...w.to];
  }
  protected open(id: string): void {
    this.store.set({ of: null, why: null, open: id });
  }
  protected look(key: string): void {
    const [of = '', why = ''] = key.split(' ');
    this.store.set({ of, why: why || null });
  }
  protected readonly lookedAt = computed(() => {
    const { of, why } = this.store.address();
    return of ? `${of} ${why ?? ''}` : null;
  });
  protected behind(): string {
    const { of, why } = this.store.address();
    const what = of === 'promotional' ? 'offers' : 'notices';
    return why ? `kept from ${what}: ${this.words(why)?.why ?? why}` : `may get ${what}`;
  }
}
