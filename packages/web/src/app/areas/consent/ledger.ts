import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { SEARCH_MOST, type ConsentEventView } from '@long-gate/contracts';
import {
  CONSENT_EVENT_KINDS,
  CONSENT_ROUTES,
  evidenceLabel,
  formatPhone,
  parsePhone,
  PURPOSES,
  versionInWords,
} from '@long-gate/core';
import { ChoiceFacet } from '../../parts/choice-facet';
import { Docket } from '../../parts/docket/docket';
import { LostDocket } from '../../parts/docket/lost-docket';
import { DateField } from '../../parts/form/date-field';
import { counted, CountPipe, MomentPipe, PhonePipe } from '../../parts/format';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ConsentTabs } from './consent-tabs';
import { LedgerStore } from './ledger.store';

function toneOf(e: ConsentEventView): string {
  if (e.kind === 'revoked' || e.kind === 'voided') return 'stop';
  return e.kind === 'claimed' || e.awaitsConfirmation || e.kind === 'expired' ? 'hold' : '';
}

/** The append-only record of consent events, and its proof chain. */
@Component({
  selector: 'lg-ledger',
  imports: [
    Cell,
    ChoiceFacet,
    DateField,
    Docket,
    LostDocket,
    List,
    Table,
    MatInputModule,
    MatButtonModule,
    RouterLink,
    ConsentTabs,
    PhonePipe,
    MomentPipe,
    CountPipe,
  ],
  providers: [LedgerStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="consent" [store]="store">
      <ng-container actions>
        <a matButton="outlined" [href]="store.heads()" download>Signed heads</a>
        <a matButton="outlined" [href]="store.file()" download>Export JSON lines</a>
        <a matButton="outlined" [href]="store.events()" download>Export CSV</a>
        <button type="button" matButton="filled" [disabled]="store.acting.busy()" (click)="store.verify()">
          {{ store.acting.busy() ? 'Verifying…' : 'Verify the chain' }}
        </button>
      </ng-container>
      <lg-consent-tabs tabs />
      @if (store.verdict(); as v) {
        <div above class="step" role="status" [class.pass]="v.ok">
          <span class="strong">{{ v.ok ? 'Unbroken.' : 'Broken.' }}</span> {{ v.message }}
          {{
            v.projection.ok
              ? 'The state of now follows from it.'
              : (v.projection.differing | count) + ' numbers show another state than the ledger gives.'
          }}
          @if (v.ok) {
            <div class="small mono hash">head {{ v.head }}</div>
          }
        </div>
      }
      <ng-container nothing>
        <h2>The ledger is empty</h2>
        <p>It fills by itself when people agree, leave and come back. Make an opt-in page to begin.</p>
        <a matButton="filled" routerLink="pages">Make an opt-in page</a>
      </ng-container>
      <ng-container facets>
        <lg-choice-facet
          label="Event"
          name="Kind of event"
          [values]="kinds"
          [chosen]="store.address().kind"
          (picked)="store.set({ kind: $event })"
        />
        <lg-choice-facet
          label="How"
          name="How it came"
          [values]="ways"
          [chosen]="store.address().how"
          (picked)="store.set({ how: $event })"
        />
        <lg-choice-facet
          label="Purpose"
          [values]="purposes"
          [chosen]="store.address().purpose"
          (picked)="store.set({ purpose: $event })"
        />
        <lg-choice-facet
          label="Source"
          name="Page, keyword, form or list it came by"
          [values]="store.sources()"
          [chosen]="store.address().source"
          (picked)="store.set({ source: $event })"
        />
        <lg-choice-facet
          label="Words"
          name="Words they were shown"
          [values]="store.words()"
          [chosen]="store.address().words"
          (picked)="store.set({ words: $event })"
        />
        <lg-choice-facet
          label="List"
          name="People on a list or with a tag"
          [values]="store.lists()"
          [chosen]="store.address().list"
          (picked)="store.set({ list: $event })"
        />
        <span class="days">
          <span>Days</span>
          <lg-date-field
            narrowing
            name="First day"
            empty="first"
            [value]="store.address().from ?? ''"
            (changed)="store.set({ from: $event || null })"
          />
          <lg-date-field
            narrowing
            name="Last day"
            empty="last"
            [value]="store.address().to ?? ''"
            (changed)="store.set({ to: $event || null })"
          />
        </span>
        <span class="grow"></span>
        <mat-form-field
          ><input
            matInput
            data-filter
            type="search"
            placeholder="part of a name or number"
            aria-label="Events of whom"
            [attr.maxlength]="longest"
            [value]="looked()"
            (change)="look($event)"
        /></mat-form-field>
      </ng-container>
      @if (wrong()) {
        <p class="error" role="alert">{{ wrong() }}</p>
      }
      <lg-table
        name="ledger"
        label="Ledger"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        [order]="store.order()"
        (ordered)="store.sort($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="happened" [of]="store.rows()" let-e>
          <button type="button" matButton class="plain soft" (click)="store.choose(e.id); $event.stopPropagation()">
            {{ e.happenedAt | moment }}
          </button>
        </ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'No event matches.' }}</ng-container>
        <ng-container foot>
          {{ store.loading() ? 'Reading…' : howMany() }}
          @if (store.filtered()) {
            <button type="button" matButton class="plain" (click)="store.clear()">Show all</button>
          }
        </ng-container>
      </lg-table>
      @if (store.chosen(); as e) {
        <lg-docket docket [kind]="'Consent event ' + (e.seq | count)" [name]="e.kind" (closed)="store.choose(null)">
          <p>
            <span class="mono">{{ e.e164 | phone }}</span> ·
            <a routerLink="evidence/ask" [queryParams]="{ e164: e.e164 }">Evidence pack</a>
          </p>
          @if (e.contactId) {
            <p>
              <a [routerLink]="['/b', store.session.businessId(), 'contacts']" [queryParams]="{ open: e.contactId }">{{
                e.contactName || 'To the contact'
              }}</a>
            </p>
          }
          <hr class="rule" />
          <dl class="facts">
            <dt>Purposes</dt>
            <dd>{{ e.purposes.join(', ') }}</dd>
            <dt>Happened</dt>
            <dd>{{ e.happenedAt | moment: 'zone' }}</dd>
            <dt>Recorded</dt>
            <dd>{{ e.recordedAt | moment: 'zone' }}</dd>
            <dt>How</dt>
            <dd>{{ e.how }}</dd>
            <dt>Recorded by</dt>
            <dd>{{ store.basis()?.recordedBy ?? e.recordedBy }}</dd>
            @if (store.basis()?.programme; as k) {
              <dt>Keyword</dt>
              <dd>
                <a
                  [routerLink]="['/b', store.session.businessId(), 'consent', 'keywords']"
                  [queryParams]="{ open: k.id }"
                  >{{ k.title }}</a
                >
              </dd>
            }
            @if (store.basis()?.form; as f) {
              <dt>Filed form</dt>
              <dd>
                <a
                  [routerLink]="['/b', store.session.businessId(), 'consent', 'forms']"
                  [queryParams]="{ open: f.id }"
                  >{{ f.title }}</a
                >
              </dd>
            }
            @if (store.basis()?.optOutList; as l) {
              <dt>List of opt-outs</dt>
              <dd>
                <a
                  [routerLink]="['/b', store.session.businessId(), 'consent', 'sources', 'opt-outs']"
                  [queryParams]="{ open: l.id }"
                  >{{ l.title }}</a
                >
              </dd>
            }
            @if (store.basis()?.intake; as i) {
              <dt>Intake</dt>
              <dd>{{ i.title }}</dd>
            }
            @if (e.evidence['cites']; as cited) {
              <dt>Cites</dt>
              <dd>
                <button type="button" matButton class="plain" (click)="store.choose(cited)">an earlier event</button>
              </dd>
            }
            @if (store.basis()?.document; as d) {
              <dt>Document</dt>
              <dd>
                <a [href]="store.document(e.id)" download>{{ d.name }}</a>
              </dd>
            }
            @for (kv of pairs(e); track kv[0]) {
              <dt>{{ label(kv[0]) }}</dt>
              <dd>{{ kv[1] }}</dd>
            }
          </dl>
          @if (store.basis()?.texts; as texts) {
            @if (texts.length > 0) {
              <hr class="rule" />
              <h3>What was texted</h3>
              @for (x of texts; track x.id) {
                <p class="texted">
                  {{ x.text }}
                  <span class="soft small"
                    >{{ x.direction === 'in' ? 'they' : 'we' }}, {{ x.at | moment: 'zone' }}</span
                  >
                </p>
              }
              <p class="small">
                <a [routerLink]="['/b', store.session.businessId(), 'inbox']" [queryParams]="{ open: e.e164 }"
                  >The whole conversation</a
                >
              </p>
            }
          }
          @if (store.basis()?.letter; as l) {
            <hr class="rule" />
            <h3>The letter whose link they opened</h3>
            <p class="small soft">
              to {{ l.to }}, by {{ l.by }}, {{ l.at | moment: 'zone' }}
              @if (l.subject) {
                <br />“{{ l.subject }}”
              }
            </p>
            <p class="letter">{{ l.text || 'Its words were not kept at that time.' }}</p>
          }
          @if (e.disclosure) {
            <hr class="rule" />
            <h3>The words they saw</h3>
            <p>{{ e.disclosure }}</p>
            <p class="soft small">
              {{ version(e) }}
              @if (e.evidence['pageSha256']; as digest) {
                · <a [href]="store.page(digest)" download>the page as it was</a>
              }
            </p>
          }
          <hr class="rule" />
          <h3>Proof</h3>
          <p class="mono small wrap">{{ e.hash }}</p>
          <p class="soft small">
            follows <span class="mono wrap">{{ e.prevHash }}</span>
          </p>
        </lg-docket>
      } @else if (store.lost(); as why) {
        <lg-lost-docket docket kind="Consent event" [why]="why" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .wrap {
      overflow-wrap: anywhere;
    }
    h3 {
      margin-bottom: 4px;
    }
    .letter {
      white-space: pre-line;
    }
    .texted span {
      display: block;
    }
    .days {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      align-items: baseline;
    }
    .days > span {
      color: var(--ink-soft);
      margin-right: 4px;
    }
    .days lg-date-field {
      width: 194px;
    }
  `,
})
export class LedgerPage {
  /** No more is asked for, and so no more can be typed. */
  protected readonly longest = SEARCH_MOST;
  protected readonly store = inject(LedgerStore);
  protected readonly oldest = computed(() => this.store.order()?.down === false);
  protected readonly howMany = computed(() => {
    const count = this.store.count();
    const unknown = this.store.counting() ? 'Counting…' : 'Events';
    const events = count ? (count.more ? 'At least ' : '') + counted(count.total, 'event') : unknown;
    return `${events}, ${this.oldest() ? 'oldest' : 'newest'} first`;
  });
  protected readonly kinds = CONSENT_EVENT_KINDS.map((value) => ({ value, label: value }));
  protected readonly ways = CONSENT_ROUTES.map((value) => ({ value, label: value }));
  protected readonly purposes = PURPOSES.map((value) => ({ value, label: value }));
  protected readonly wrong = signal('');
  /** What is looked for: a number as it is written, or words. */
  protected readonly looked = computed(() => {
    const { e164, q } = this.store.address();
    return e164 ? formatPhone(e164) : (q ?? '');
  });
  protected readonly id = (e: ConsentEventView): string => e.id;
  protected readonly columns: readonly Column<ConsentEventView>[] = [
    { id: 'happened', head: 'Happened', sorts: true, width: 150 },
    { id: 'number', head: 'Number', width: 150, text: (e) => formatPhone(e.e164), face: 'mono' },
    { id: 'contact', head: 'Contact', least: 90, leaves: 3, text: (e) => e.contactName || '–' },
    {
      id: 'event',
      head: 'Event',
      width: 160,
      text: (e) => `${e.kind}${e.awaitsConfirmation ? ', YES asked' : ''}`,
      face: (e) => `strong ${toneOf(e)}`,
    },
    {
      id: 'purposes',
      head: 'Purposes',
      least: 110,
      leaves: 2,
      text: (e) => (e.purposes.length === 3 ? 'all' : e.purposes.join(', ')),
    },
    { id: 'how', head: 'How', width: 150, leaves: 1, text: (e) => e.how, face: 'soft' },
    { id: 'by', head: 'Recorded by', width: 130, asked: true, text: (e) => e.recordedBy, face: 'soft' },
  ];

  /** Ids of what stands beside them by name or word for word. */
  private told(key: string, value: string): boolean {
    const basis = this.store.basis();
    return (
      !!basis &&
      ((key === 'programme' && !!basis.programme) ||
        (key === 'form' && !!basis.form) ||
        (key === 'document' && basis.document?.name === value) ||
        (key === 'optOutList' && !!basis.optOutList) ||
        (key === 'intake' && !!basis.intake) ||
        key === 'cites' ||
        ((key === 'invitation' || key === 'numberRequest') && !!basis.letter) ||
        ((key === 'message' || key === 'answers') && basis.texts.length > 0))
    );
  }
  protected readonly label = evidenceLabel;
  protected version(e: ConsentEventView): string {
    return versionInWords(e.disclosureVersion, this.store.sourceNames());
  }
  protected pairs(e: ConsentEventView): [string, string][] {
    return Object.entries(e.evidence).filter(([k, v]) => v !== '' && !this.told(k, v));
  }
  /** A whole number is looked for as it is, also where its owner is a contact no more; else names and parts of numbers. */
  protected look(event: Event): void {
    const raw = (event.target as HTMLInputElement).value.trim();
    const p = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
    const short = raw !== '' && raw.length < 3;
    this.wrong.set(short ? 'Three letters or digits at least.' : '');
    if (!short) this.store.set({ e164: p.ok ? p.e164 : null, q: p.ok ? null : raw || null });
  }
}
