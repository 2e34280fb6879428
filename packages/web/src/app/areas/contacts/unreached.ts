import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { Unreached } from '@long-gate/contracts';
import { CAUSE_WORDS, formatPhone, MENDS, type Mend } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { CountPipe, MomentPipe } from '../../parts/format';
import { List } from '../../parts/list/list';
import { SelectionBar } from '../../parts/list/selection-bar';
import { LookUp } from '../../parts/look-up';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { askNumbers } from './ask-number';
import { ContactDocket } from './contact-docket';
import { causeOf, FACET_WORDS } from './contact-words';
import { ContactsTabs } from './contacts-tabs';
import { NumberRequests } from './number-requests';
import { UnreachedStore, unreachedId } from './unreached.store';

const agreed = (n: Unreached): string =>
  [n.informational === 'granted' ? 'informational' : '', n.promotional === 'granted' ? 'promotional' : '']
    .filter(Boolean)
    .join(', ') || 'nothing';

/** All numbers that texts do not reach, by cause, with who is affected and what can help each. */
@Component({
  selector: 'lg-unreached',
  imports: [
    Cell,
    ContactDocket,
    ContactsTabs,
    CountPipe,
    List,
    MatButtonModule,
    MomentPipe,
    NumberRequests,
    SelectionBar,
    Table,
  ],
  providers: [UnreachedStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="contacts: not reached" [store]="store" [filters]="false">
      <ng-container actions>
        <a matButton="outlined" [href]="store.file()" download>Export CSV</a>
        @if (store.session.mayEdit()) {
          <button
            type="button"
            matButton="outlined"
            [attr.aria-pressed]="store.choosing()"
            (click)="store.setChoosing(!store.choosing())"
          >
            Choose…
          </button>
        }
      </ng-container>
      <lg-contacts-tabs tabs />
      <ng-container nothing>
        <h2>Texts reach every number, as far as is known</h2>
        <p>
          Numbers come here from lookups that say that no texts reach them, and from texts that could not be delivered.
        </p>
      </ng-container>
      <div class="causes" role="group" aria-label="Causes">
        @for (c of store.causes(); track c.cause) {
          <button
            type="button"
            matButton
            class="plain cause"
            [class.here]="c.cause === store.cause()"
            [attr.aria-pressed]="c.cause === store.cause()"
            (click)="store.pickCause(c.cause)"
          >
            <span class="strong">{{ called(c.cause) }}</span>
            <span class="n">{{ c.numbers | count }}</span>
            <span class="soft small"
              >{{ c.informational | count }} had agreed to informational texts, {{ c.promotional | count }} to
              promotional</span
            >
          </button>
        }
      </div>
      <p class="means">
        {{ words() }} <span class="soft">{{ mendWords() }}</span>
      </p>
      @if (carriers()) {
        <p class="soft small">{{ carriers() }}</p>
      }
      <lg-selection-bar what="numbers" [store]="store">
        @if (may('another number')) {
          <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="askNumbers()">
            Ask for another number…
          </button>
        }
        @if (may('new lookup')) {
          <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="lookUp()">
            Look up again…
          </button>
        }
        @if (may('try again') && store.session.isAdministrator()) {
          <button type="button" matButton="outlined" [disabled]="!anyHeld()" (click)="store.tryAgain()">
            Try again
          </button>
        }
        @if (may('e-mail')) {
          <a matButton="outlined" [href]="mailTo()">Write an e-mail</a>
        }
        @if (may('take off') && store.session.isAdministrator()) {
          <button
            type="button"
            matButton="outlined"
            class="danger"
            [disabled]="store.acting.busy()"
            (click)="takeOff()"
          >
            Delete the contacts…
          </button>
        }
      </lg-selection-bar>
      <lg-table
        name="unreached"
        label="Numbers that texts do not reach"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        (near)="store.more()"
        [picking]="store.choosing()"
        [picked]="store.picked()"
        (pickedChange)="store.pick($event)"
        [called]="nameOf"
      >
        <ng-template lgCell="name" [of]="store.rows()" let-n>
          <button type="button" matButton class="plain strong" (click)="store.choose(id(n)); $event.stopPropagation()">
            {{ nameOf(n) }}
          </button>
        </ng-template>
        <ng-template lgCell="last" [of]="store.rows()" let-n>{{ n.lastAt | moment: 'short' }}</ng-template>
        <ng-template lgCell="first" [of]="store.rows()" let-n>{{ n.firstAt | moment: 'short' }}</ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'No number stands under this cause.' }}</ng-container>
        <ng-container foot>{{ store.total() | count }} numbers</ng-container>
      </lg-table>
      @for (o of outcomes(); track o.field) {
        <section class="outcome">
          <h2>{{ o.field }}, where texts reach and where they do not</h2>
          <lg-table [label]="o.field" [rows]="o.rows" [columns]="outcomeColumns" [key]="valueOf" />
        </section>
      }
      <lg-number-requests />
      @if (openContact(); as id) {
        <lg-contact-docket docket [contactId]="id" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .causes {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
      border: 1px solid var(--hairline);
      background: var(--surface);
      margin-bottom: 12px;
    }
    .cause {
      display: block;
      height: auto;
      padding: 10px 12px;
      text-align: left;
      white-space: normal;
      border-right: 1px solid var(--hairline);
      border-bottom: 3px solid transparent;
    }
    .cause.here {
      border-bottom-color: var(--primary);
    }
    .cause span {
      display: block;
    }
    .cause .n {
      font-size: 20px;
      line-height: 28px;
      font-variant-numeric: tabular-nums;
    }
    .means {
      margin: 0 0 4px;
      max-width: 90ch;
    }
    lg-table {
      margin-top: 8px;
    }
    lg-table[virtual] {
      min-height: 330px;
    }
    .outcome {
      max-width: 620px;
      margin-top: 20px;
    }
    h2 {
      margin: 0 0 4px;
    }
  `,
})
export class UnreachedPage {
  protected readonly store = inject(UnreachedStore);
  private readonly confirm = inject(Confirm);
  private readonly dialog = inject(MatDialog);
  private readonly lookups = inject(LookUp);
  protected readonly id = unreachedId;
  protected readonly called = causeOf;
  protected readonly nameOf = (n: Unreached): string => n.name || 'no name';
  protected readonly words = computed(() => CAUSE_WORDS[this.store.cause()]);
  protected readonly mendWords = computed(() => {
    const mends = MENDS[this.store.cause()];
    return mends.length === 1
      ? 'All that can be done here is to delete the contact.'
      : `What can help: ${mends.join(', ')}.`;
  });
  protected readonly carriers = computed(() => {
    const of = this.store.causes().find((c) => c.cause === this.store.cause())?.carriers ?? [];
    return of
      .map((c) => `${c.carrier || 'carrier not known'} (${c.source}) ${c.n.toLocaleString('en-US')}`)
      .join(' · ');
  });
  protected readonly anyHeld = computed(() => this.store.chosen().some((n) => n.faultsInReview));
  protected readonly mailTo = computed(() => {
    const to = [...new Set(this.store.chosen().flatMap((n) => (n.email ? [n.email] : [])))];
    return to.length === 1 ? `mailto:${to[0]}` : `mailto:?bcc=${to.join(',')}`;
  });
  protected readonly openContact = computed(() => this.store.open()?.split('~')[0] ?? null);
  protected readonly outcomes = computed(() =>
    (this.store.summary.hasValue() ? (this.store.summary.value()?.outcomes ?? []) : []).map((o) => {
      const [reached, unreached] = [sum(o.values, (v) => v.reached), sum(o.values, (v) => v.unreached)];
      return {
        field: o.field,
        rows: o.values.map((v) => ({
          value: v.value,
          reached: share(v.reached, reached),
          unreached: share(v.unreached, unreached),
        })),
      };
    }),
  );
  protected readonly valueOf = (v: { value: string }): string => v.value;
  protected readonly outcomeColumns: readonly Column<{ value: string; reached: string; unreached: string }>[] = [
    { id: 'value', head: 'It says', text: (v) => v.value },
    { id: 'reached', head: 'Texts reach them', right: true, text: (v) => v.reached },
    { id: 'unreached', head: 'Texts do not', right: true, text: (v) => v.unreached },
  ];
  protected readonly columns: readonly Column<Unreached>[] = [
    { id: 'name', head: 'Contact', least: 110, share: 1.2 },
    { id: 'number', head: 'Number', width: 140, text: (n) => formatPhone(n.e164), face: 'mono' },
    { id: 'said', head: 'What was said', least: 110, share: 1.2, text: saidOf },
    { id: 'carrier', head: 'Carrier', least: 110, leaves: 2, text: (n) => n.carrier },
    { id: 'first', head: 'First', width: 100, leaves: 1 },
    { id: 'last', head: 'Last', width: 100 },
    { id: 'times', head: 'Times', width: 60, right: true, text: (n) => n.times.toLocaleString('en-US') },
    { id: 'agreed', head: 'Had agreed to', least: 110, leaves: 3, text: agreed, face: 'soft' },
    { id: 'email', head: 'E-mail', least: 120, leaves: 1, text: (n) => n.email, face: 'soft' },
  ];

  protected may(mend: Mend): boolean {
    return MENDS[this.store.cause()].includes(mend);
  }
  protected async lookUp(): Promise<void> {
    if (await this.lookups.ask(this.store.acting, this.store.lookups())) this.store.setChoosing(false);
  }
  protected async askNumbers(): Promise<void> {
    if (await askNumbers(this.dialog, { e164s: this.store.chosen().map((n) => n.e164) })) this.store.setChoosing(false);
  }
  protected async takeOff(): Promise<void> {
    const n = new Set(this.store.chosen().map((x) => x.contactId)).size;
    const many = n === 1 ? 'this contact' : `${n} contacts`;
    const yes = await this.confirm.ask({
      title: `Delete ${many}?`,
      line: 'No cost. They go with all their numbers, also such as texts reach, and cannot be brought back but by a new intake. The ledger keeps what they agreed to and refused.',
      yes: `Delete ${many}`,
    });
    if (yes) await this.store.takeOff();
  }
}

function saidOf(n: Unreached): string {
  if (n.source === 'lookup')
    return n.lineType === 'none' ? 'no such line' : (FACET_WORDS['line']?.[n.detail] ?? n.detail);
  return n.detail || 'could not be delivered';
}
const sum = <T>(of: readonly T[], count: (x: T) => number): number => of.reduce((n, x) => n + count(x), 0);
const share = (n: number, of: number): string =>
  of === 0 ? 'none' : `${n.toLocaleString('en-US')} of ${of.toLocaleString('en-US')} (${((100 * n) / of).toFixed(0)}%)`;
