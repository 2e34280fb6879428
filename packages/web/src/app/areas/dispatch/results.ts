import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { TEXT_OUTCOMES, type DispatchView, type MessageView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { Facet } from '../../parts/facet';
import { MomentPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { DispatchStore } from './dispatch.store';
import { ResultsStore, TONES } from './results.store';

const outcomeOf = (state: string) => TEXT_OUTCOMES.find((o) => o.states.some((s) => s === state));

/** What became of every text of a dispatch, as receipts come in. */
@Component({
  selector: 'lg-results',
  imports: [Cell, Facet, Table, MatButtonModule, PageTitle, RouterLink, History, MomentPipe],
  providers: [ResultsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="dispatch:" [of]="dispatch().title" />
          <span class="soft" role="status">{{ dispatch().state }}</span>
          @if (session.mayEdit()) {
            <button type="button" matButton="outlined" (click)="followUp()">Write a follow-up</button>
            @if (dispatch().state !== 'sending') {
              <button type="button" matButton="outlined" (click)="dispatches.archive(dispatch().archivedAt === null)">
                {{ dispatch().archivedAt === null ? 'Archive' : 'Out of the archive' }}
              </button>
            }
          }
          @if (dispatch().state === 'sending' && session.mayEdit()) {
            <button type="button" matButton="outlined" class="danger" (click)="cancel()">
              Stop what has not left…
            </button>
          }
        </div>
        <div class="facets tight" role="group" aria-label="What became of them">
          <lg-facet name="State" [values]="states()" (picked)="store.set({ state: $event || null })" />
          <a matButton="outlined" [href]="store.file()" download>Export CSV</a>
        </div>
        @if (store.problem(); as p) {
          <div class="problem" role="alert">
            {{ p.message }} <button type="button" matButton class="plain" (click)="store.again()">Try again</button>
          </div>
        }
        <lg-table
          name="results"
          label="Texts of this dispatch"
          virtual
          [rows]="store.rows()"
          [columns]="columns"
          [key]="key"
          (near)="store.more()"
        >
          <ng-template lgCell="why" [of]="store.rows()" let-m
            >{{ m.failure || (m.post ? 'post ' + m.post + ': ' + m.why : '')
            }}{{ m.state === 'held' && m.holdUntil ? ', until ' + (m.holdUntil | moment: 'short') : '' }}</ng-template
          >
          <ng-template lgCell="left" [of]="store.rows()" let-m>{{ m.sentAt | moment: 'short' }}</ng-template>
          <ng-template lgCell="final" [of]="store.rows()" let-m>{{ m.finalAt | moment: 'short' }}</ng-template>
          <ng-container none>{{ store.loading() ? 'Reading…' : 'None.' }}</ng-container>
        </lg-table>
      </div>
      <aside class="docket">
        <div class="kind"><span>Dispatch</span></div>
        <h2>{{ dispatch().title }}</h2>
        <div class="step" [class.pass]="dispatch().state === 'done'" [class.hold]="dispatch().state !== 'done'">
          @switch (dispatch().state) {
            @case ('sending') {
              <span class="strong">Sending.</span> Texts leave at the permitted pace; those held follow by themselves
              until {{ dispatch().endsAt | moment: 'zone' }}.
            }
            @case ('cancelled') {
              <span class="strong">Cancelled.</span> What had not left was let go.
            }
            @default {
              <span class="strong">Done.</span> Receipts may still come in.
            }
          }
        </div>
        <p class="text">{{ dispatch().text }}</p>
        <dl class="facts">
          <dt>To</dt>
          <dd>everyone in {{ audience() }}</dd>
          <dt>Purpose</dt>
          <dd>{{ dispatch().purpose }}</dd>
          <dt>From</dt>
          <dd>{{ from() }}</dd>
          <dt>Sent</dt>
          <dd>{{ dispatch().sentAt | moment: 'zone' }}</dd>
          @if (dispatch().category) {
            <dt>Category</dt>
            <dd>{{ dispatch().category }}</dd>
          }
          @if (dispatch().effort) {
            <dt>Part of</dt>
            <dd>{{ dispatch().effort }}</dd>
          }
          <dt>Written by</dt>
          <dd>{{ dispatch().createdBy }}</dd>
        </dl>
        <p>
          <a [routerLink]="['/b', session.businessId(), 'watch']" [queryParams]="{ number: dispatch().numberId }"
            >Watch this number</a
          >
        </p>
        <lg-history kind="dispatch" [object]="dispatch().id" />
      </aside>
    </div>
  `,
  styles: `
    .work {
      display: flex;
      flex-direction: column;
    }
    .text {
      margin: 12px 0;
      padding: 8px 10px;
      background: var(--canvas);
      border: 1px solid var(--hairline);
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    dl {
      margin-bottom: 10px;
    }
  `,
})
export class Results {
  readonly dispatch = input.required<DispatchView>();
  protected readonly store = inject(ResultsStore);
  protected readonly dispatches = inject(DispatchStore);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly key = (m: MessageView): string => m.id;
  protected readonly columns: readonly Column<MessageView>[] = [
    { id: 'contact', head: 'Contact', least: 120, text: (m) => m.name || 'no name', face: 'strong' },
    { id: 'number', head: 'Number', width: 150, text: (m) => formatPhone(m.e164), face: 'mono' },
    {
      id: 'state',
      head: 'State',
      width: 90,
      text: (m) => m.state,
      face: (m) => TONES[outcomeOf(m.state)?.key ?? 'cancelled'],
    },
    { id: 'why', head: 'Why', least: 140, share: 2, face: 'soft' },
    { id: 'carrier', head: 'Carrier', width: 130, leaves: 1, text: (m) => m.carrier, face: 'soft' },
    { id: 'left', head: 'Left', width: 110, leaves: 3, face: 'soft' },
    { id: 'final', head: 'Final', width: 110, leaves: 2, face: 'soft' },
  ];
  protected readonly states = computed(() => {
    const { counts } = this.dispatch();
    const now = this.store.address().state;
    const groups = TEXT_OUTCOMES.map((o) => ({ ...o, n: [...o.states].reduce((n, s) => n + (counts[s] ?? 0), 0) }));
    const all = Object.values(counts).reduce((a, b) => a + b, 0);
    return [
      { value: '', label: 'all', n: all, on: !now },
      ...groups
        .filter((g) => g.n > 0)
        .map((g) => ({ value: g.key, label: g.label, n: g.n, on: now === g.key, tone: TONES[g.key] })),
    ];
  });
  protected readonly audience = computed(() => {
    const { include, exclude } = this.dispatch().audience;
    const named = (ids: readonly string[]): string => ids.map((id) => this.store.listName(id)).join(' or ');
    return `${named(include)}${exclude.length > 0 ? `, but nobody in ${named(exclude)}` : ''}`;
  });
  protected readonly from = computed(() => this.store.numberName(this.dispatch().numberId));

  constructor() {
    this.store.about(computed(() => this.dispatch().id));
  }

  /** The same words to the same audience, as a draft of its own. */
  protected async followUp(): Promise<void> {
    const id = await this.dispatches.copy();
    if (id) void this.router.navigate(['/b', this.session.businessId(), 'dispatch', id]);
  }

  protected async cancel(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Stop what has not left?',
      line: 'Texts that left cannot be called back; everyone waiting or held is let go. This cannot be undone.',
      yes: 'Stop it',
      no: 'Go on sending',
    });
    if (yes) await this.dispatches.cancel();
  }
}
