import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import type { Recipient } from '@long-gate/contracts';
import { formatPhone, postLabel, type ReasonCode, type Remedy } from '@long-gate/core';
import { Facet, type FacetValue } from '../../parts/facet';
import { CountPipe, MomentPipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { LookUp, REASSIGNED } from '../../parts/look-up';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { AskPeople } from './ask-people';
import { PeopleBehindStore, type CountOf, type ReasonCount } from './people-behind.store';

const RESULT = { pass: 'pass', hold: 'held', stop: 'stopped' };

/** Who is behind a count of the gate: all of them, by reason, to be exported, looked up, or asked. */
@Component({
  selector: 'lg-people-behind',
  imports: [AskPeople, Cell, CountPipe, Facet, GateStrip, MatButtonModule, MomentPipe, RouterLink, Table],
  providers: [PeopleBehindStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="who">
      <h2>{{ head() }}</h2>
      <button
        type="button"
        matButton="outlined"
        [disabled]="store.acting.busy()"
        (click)="store.export(store.reason())"
      >
        Export CSV
      </button>
      <button type="button" matButton class="plain" (click)="closed.emit()">Close</button>
    </div>
    @if (store.reasons().length > 1) {
      <lg-facet name="Reasons" [values]="values()" (picked)="pick($event)" />
    }
    @for (r of remedied(); track r.reason) {
      <p class="remedy">
        <span
          ><span class="strong">{{ r.n | count }}</span> {{ r.why }}. What lifts it: {{ r.lift }}.</span
        >
        @for (remedy of r.remedies; track remedy) {
          @switch (remedy) {
            @case ('look up') {
              <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="lookUp(r.reason)">
                Look these up…
              </button>
            }
            @case ('query') {
              <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="query(r.reason)">
                Ask whether these changed hands…
              </button>
            }
            @case ('file a form') {
              <a
                matButton="outlined"
                [routerLink]="['/b', store.session.businessId(), 'consent', 'forms', 'file']"
                [queryParams]="{ dispatch: dispatchId(), post: count().post, result: count().result, reason: r.reason }"
                >File a form…</a
              >
            }
            @case ('ask') {
              <button
                type="button"
                matButton="outlined"
                [attr.aria-expanded]="store.asking() === r.reason"
                (click)="store.asking.set(store.asking() === r.reason ? null : r.reason)"
              >
                Ask these…
              </button>
            }
          }
        }
      </p>
      @if (store.asking() === r.reason) {
        <lg-ask-people [store]="store" [of]="r" (closed)="store.asking.set(null)" />
      }
    }
    @if (store.problem(); as e) {
      <p class="stop" role="alert">{{ e.message }}</p>
    }
    <div class="rows">
      <lg-table
        name="preview"
        label="Who they are"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="key"
        (near)="store.more()"
      >
        <ng-template lgCell="contact" [of]="store.rows()" let-r>
          <a
            class="strong"
            [routerLink]="['/b', store.session.businessId(), 'contacts']"
            [queryParams]="{ open: r.contactId }"
            >{{ r.name || 'no name' }}</a
          >
        </ng-template>
        <ng-template lgCell="gate" [of]="store.rows()" let-r><lg-gate-strip [answers]="r.answers" /></ng-template>
        <ng-template lgCell="lift" [of]="store.rows()" let-r>{{
          r.until ? (r.until | moment: 'zone') : r.lift
        }}</ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'Nobody now.' }}</ng-container>
      </lg-table>
    </div>
  `,
  styles: `
    .who {
      display: flex;
      gap: 14px;
      align-items: baseline;
      border-top: 1px solid var(--hairline);
      padding-top: 10px;
      margin-top: 4px;
      flex-wrap: wrap;
    }
    .remedy {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 12px;
      align-items: center;
      margin: 6px 0;
    }
    .rows {
      display: flex;
      flex-direction: column;
      height: min(420px, 60vh);
    }
  `,
})
export class PeopleBehind {
  readonly count = input.required<CountOf>();
  readonly dispatchId = input.required<string>();
  /** How many the drawing shows. */
  readonly booked = input.required<number>();
  readonly closed = output();
  protected readonly store = inject(PeopleBehindStore);
  private readonly lookups = inject(LookUp);
  protected readonly key = (r: Recipient): string => r.e164;
  protected readonly columns: readonly Column<Recipient>[] = [
    { id: 'contact', head: 'Contact', least: 120 },
    { id: 'number', head: 'Number', width: 150, text: (r) => formatPhone(r.e164), face: 'mono' },
    { id: 'gate', head: 'Their gate', width: 108 },
    { id: 'why', head: 'Why', least: 140, text: (r) => r.why, face: (r) => r.result },
    { id: 'lift', head: 'What would lift it', least: 140 },
    { id: 'file', head: 'On file', least: 120, leaves: 1, text: (r) => r.onFile, face: 'soft' },
  ];
  private readonly which = computed(() => `${this.count().post} ${this.count().result}`);
  protected readonly head = computed(() => {
    const { post, result } = this.count();
    const where = result === 'pass' ? 'All posts' : `Post ${post}, ${postLabel(post)}`;
    return `${where}: ${this.booked().toLocaleString('en-US')} ${RESULT[result]}`;
  });
  protected readonly values = computed((): FacetValue[] => {
    const now = this.store.reason();
    const all = this.store.reasons().reduce((n, r) => n + r.n, 0);
    return [
      { value: 'all', n: all, on: now === null },
      ...this.store.reasons().map((r) => ({ value: r.reason, label: r.why, n: r.n, on: r.reason === now })),
    ];
  });
  /** Consent is an administrator's to change; who may only look can do nothing. */
  private may(remedy: Remedy): boolean {
    const { session } = this.store;
    return remedy === 'file a form' ? session.isAdministrator() : session.mayEdit();
  }
  /** What can be done here, reason by reason. */
  protected readonly remedied = computed((): readonly ReasonCount[] => {
    const now = this.store.reason();
    const shown = this.store.reasons().filter((r) => now === null || r.reason === now);
    return shown
      .map((r) => ({ ...r, remedies: r.remedies.filter((x) => this.may(x)) }))
      .filter((r) => r.remedies.length > 0);
  });

  constructor() {
    this.store.about(computed(() => this.count()));
    // Another count has other reasons.
    effect(() => {
      this.which();
      untracked(() => {
        this.store.reason.set(null);
        this.store.asking.set(null);
      });
    });
  }

  protected pick(value: string): void {
    this.store.reason.set(value === 'all' ? null : (value as ReasonCode));
  }
  protected async query(reason: ReasonCode): Promise<void> {
    await this.lookups.ask(this.store.acting, this.store.queries(reason), REASSIGNED);
  }
  protected async lookUp(reason: ReasonCode): Promise<void> {
    await this.lookups.ask(this.store.acting, this.store.lookups(reason));
  }
}
