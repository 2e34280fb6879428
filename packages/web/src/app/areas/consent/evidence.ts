import { ChangeDetectionStrategy, Component, computed, effect, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { answerEvidence, type EvidencePack, type EvidenceRequest } from '@long-gate/contracts';
import { dayIn, formatPhone } from '@long-gate/core';
import { ChoiceFacet } from '../../parts/choice-facet';
import { Docket } from '../../parts/docket/docket';
import { LostDocket } from '../../parts/docket/lost-docket';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, CountPipe, dayInWords, DayPipe, MomentPipe, PhonePipe } from '../../parts/format';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { zoneOf } from '../../state/zone';
import { ConsentTabs } from './consent-tabs';
import { EvidenceStore } from './evidence.store';

const PACK_WORDS: Record<EvidencePack['state'], string> = {
  making: 'being made',
  ready: 'ready',
  failed: 'could not be made: the ledger does not hold',
  gone: 'not kept any more',
};
/** Whose proof it is and who wants it, in a line. */
export const askerOf = (x: EvidenceRequest): string =>
  x.who ? `${x.who} (${x.asker})` : x.asker === 'our own file' ? 'For our own file' : 'The person';
const aboutWhom = (x: EvidenceRequest): string =>
  x.name ||
  (x.e164s.length === 1 ? shownNumber(x.e164s[0] ?? '') : `${x.e164s.length.toLocaleString('en-US')} numbers`);
const shownNumber = (e164: string): string => (e164.startsWith('+') ? formatPhone(e164) : 'somebody who was erased');

/** Who asks for proof of consent, and the evidence packs that answer them. */
@Component({
  selector: 'lg-evidence',
  imports: [
    Cell,
    ChoiceFacet,
    ConsentTabs,
    CountedPipe,
    CountPipe,
    DayPipe,
    Docket,
    LostDocket,
    Faults,
    Form,
    List,
    MatButtonModule,
    MomentPipe,
    PhonePipe,
    RouterLink,
    Table,
    TextField,
  ],
  providers: [EvidenceStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="evidence" [store]="store">
      <ng-container actions>
        <a matButton="outlined" routerLink="../as-of">Ask the gate as of a day</a>
        <a matButton="filled" routerLink="ask">Make an evidence pack</a>
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>Nobody has asked for proof yet</h2>
        <p>
          When a carrier, an authority or a lawyer asks who agreed, note it here with its deadline. One archive answers
          for all the numbers: what was agreed, in which words, every text and the gate’s answer to it, with a page that
          checks it without us.
        </p>
        <a matButton="filled" routerLink="ask">Make an evidence pack</a>
      </ng-container>
      <ng-container facets>
        <lg-choice-facet
          label="State"
          name="State of the request"
          [values]="states"
          [chosen]="store.address().state"
          (picked)="store.set({ state: $event })"
        />
      </ng-container>
      <lg-table
        name="evidence"
        label="Evidence"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="asker" [of]="store.rows()" let-x>
          <button type="button" matButton class="plain strong" (click)="store.choose(x.id); $event.stopPropagation()">
            {{ asker(x) }}
          </button>
        </ng-template>
        <ng-template lgCell="asked" [of]="store.rows()" let-x>{{ x.askedAt | moment }}</ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'No request matches.' }}</ng-container>
      </lg-table>
      @if (store.chosen(); as x) {
        <lg-docket
          docket
          kind="Evidence"
          [name]="asker(x)"
          history="evidence request"
          [object]="x.id"
          (closed)="store.choose(null)"
        >
          @if (x.packs[0]; as k) {
            <div class="step" [class.pass]="x.answeredAt !== null">
              @if (x.answeredAt; as at) {
                <span class="strong">Answered.</span> {{ at | moment }}, {{ x.answeredBy }}: {{ x.answer }}
              } @else if (k.state === 'ready') {
                <span class="strong">Hand it over.</span> Then note how, so that it is off the list.
              } @else if (k.state === 'making') {
                <span class="strong">The pack is being made.</span> It takes some seconds.
              } @else if (k.state === 'failed') {
                <span class="strong">No proof can be made.</span> The ledger does not hold:
                <a [routerLink]="['/b', store.session.businessId(), 'consent']">verify the chain</a>.
              } @else {
                <span class="strong">Make it anew.</span> Packs are kept for thirty days.
              }
            </div>
            @if (k.state === 'ready') {
              <p>
                <a matButton="filled" [href]="store.archive(k.id)" download>Save the archive</a>
              </p>
            }
          }
          <dl class="facts">
            @if (x.dueOn) {
              <dt>Due</dt>
              <dd>{{ x.dueOn | day }}</dd>
            }
            @if (x.reference) {
              <dt>Their reference</dt>
              <dd>{{ x.reference }}</dd>
            }
            @if (x.question) {
              <dt>Asked</dt>
              <dd>{{ x.question }}</dd>
            }
            <dt>Noted</dt>
            <dd>{{ x.askedAt | moment }}, {{ x.askedBy }}</dd>
          </dl>
          <h3>{{ x.e164s.length | counted: 'number' }}</h3>
          <ul class="numbers">
            @for (e164 of first(x); track e164) {
              <li>
                @if (e164.startsWith('+')) {
                  <a
                    class="mono"
                    [routerLink]="['/b', store.session.businessId(), 'consent']"
                    [queryParams]="{ e164 }"
                    >{{ e164 | phone }}</a
                  >
                } @else {
                  <span class="soft">somebody who was erased</span>
                }
              </li>
            }
            @if (x.e164s.length > 8) {
              <li class="soft">and {{ x.e164s.length - 8 | count }} more</li>
            }
          </ul>
          @if (x.answeredAt === null && x.packs[0]?.state === 'ready' && store.session.mayEdit()) {
            <form [lgForm]="form" (sent)="answer(x)">
              <lg-text-field
                [control]="form.controls.answer"
                label="How it was handed over"
                hint="to whom, and by which way"
                name="answer"
                [lines]="2"
              />
              <lg-faults [form]="form" />
              <button type="submit" matButton="outlined" [disabled]="form.busy()">Note it as answered</button>
            </form>
          }
          <h3>Packs</h3>
          @for (k of x.packs; track k.id) {
            <div class="pack">
              <p>
                @if (k.state === 'ready') {
                  <a [href]="store.archive(k.id)" download>{{ k.madeAt | moment }}</a>
                } @else {
                  {{ k.madeAt | moment }}
                }
                <span class="soft by">{{ k.madeBy }}, {{ words[k.state] }}</span>
              </p>
              @if (k.state === 'ready') {
                <p class="soft small">
                  {{ k.events | counted: 'event' }}, {{ k.texts | counted: 'text' }}, {{ k.size | count }} bytes; kept
                  until {{ k.keptUntil | moment: 'day' }}
                </p>
                <p class="mono small wrap">{{ k.sha256 }}</p>
              }
            </div>
          }
          <p>
            <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="store.again(x.id)">
              Make it anew
            </button>
          </p>
          <p class="soft small">
            Each pack is signed by our key. Whoever checks one asks for its fingerprint by another way than the pack:
            <span class="mono">{{ store.fingerprint() }}</span>
          </p>
        </lg-docket>
      } @else if (store.lost(); as why) {
        <lg-lost-docket docket kind="Evidence" [why]="why" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .by {
      margin-left: 6px;
    }
    .facts {
      margin-top: 12px;
    }
    .wrap {
      overflow-wrap: anywhere;
    }
    h3 {
      margin: 12px 0 4px;
    }
    .numbers {
      margin: 0 0 12px;
      padding: 0;
      list-style: none;
    }
    .pack + .pack {
      border-top: 1px solid var(--hairline);
      padding-top: 6px;
    }
  `,
})
export class EvidencePage {
  protected readonly store = inject(EvidenceStore);
  protected readonly words = PACK_WORDS;
  protected readonly asker = askerOf;
  protected readonly id = (x: EvidenceRequest): string => x.id;
  protected readonly first = (x: EvidenceRequest): string[] => x.e164s.slice(0, 8);
  protected readonly states = [
    { value: 'open', label: 'open' },
    { value: 'answered', label: 'answered' },
  ];
  protected readonly form = new CheckedForm({ answer: text() }, answerEvidence.body);
  private readonly today = computed(() => dayIn(this.store.session.now(), zoneOf(this.store.session.business())));
  protected readonly columns: readonly Column<EvidenceRequest>[] = [
    { id: 'asker', head: 'Who asks', least: 160, share: 1.4 },
    { id: 'about', head: 'About', least: 130, text: aboutWhom },
    { id: 'reference', head: 'Reference', least: 110, leaves: 3, text: (x) => x.reference, face: 'soft' },
    {
      id: 'due',
      head: 'Due',
      width: 110,
      text: (x) => (x.dueOn ? dayInWords(x.dueOn) : ''),
      face: (x) => (x.answeredAt === null && x.dueOn !== null && x.dueOn < this.today() ? 'stop strong' : ''),
    },
    {
      id: 'pack',
      head: 'Pack',
      least: 120,
      leaves: 1,
      text: (x) => PACK_WORDS[x.packs[0]?.state ?? 'gone'],
      face: (x) => (x.packs[0]?.state === 'failed' ? 'stop' : 'soft'),
    },
    {
      id: 'answered',
      head: 'Answered',
      width: 120,
      text: (x) => (x.answeredAt === null ? 'open' : 'answered'),
      face: (x) => (x.answeredAt === null ? 'hold' : 'soft'),
    },
    { id: 'asked', head: 'Noted', width: 150, leaves: 2, face: 'soft' },
  ];

  constructor() {
    effect(() => {
      this.store.open();
      this.form.group.reset();
    });
  }

  protected async answer(x: EvidenceRequest): Promise<void> {
    const done = await this.form.send(({ answer }) => this.store.answer(x, answer));
    if (done) this.store.acting.done('Noted as answered.');
  }
}
