import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import {
  cancelDispatch,
  listLists,
  listMessages,
  listNumbers,
  type DispatchView,
  type MessageView,
} from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Api } from '../../api/api';
import { Facet } from '../../parts/facet';
import { Confirm } from '../../parts/confirm';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { History } from '../../parts/history';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { PageTitle } from '../../parts/page-title';
import { Say } from '../../parts/say';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

const GROUPS: { key: string; label: string; states: string[]; tone: string }[] = [
  { key: 'delivered', label: 'delivered', states: ['delivered'], tone: 'pass' },
  { key: 'moving', label: 'on its way', states: ['judging', 'waiting', 'leaving', 'unsure', 'sent'], tone: '' },
  { key: 'failed', label: 'failed', states: ['failed'], tone: 'stop' },
  { key: 'held', label: 'held', states: ['held'], tone: 'hold' },
  { key: 'stopped', label: 'stopped', states: ['stopped'], tone: 'stop' },
  { key: 'cancelled', label: 'let go', states: ['cancelled'], tone: '' },
];

/** What became of every text of a dispatch, as receipts come in. */
@Component({
  selector: 'lg-results',
  imports: [Facet, MatButtonModule, PageTitle, RouterLink, History, MomentPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="dispatch:" [of]="dispatch().title" />
          <span class="soft" role="status">{{ dispatch().state }}</span>
          @if (dispatch().state === 'sending' && session.mayEdit()) {
            <button type="button" matButton="outlined" class="danger" (click)="cancel()">
              Stop what has not left…
            </button>
          }
        </div>
        <div class="facets tight" role="group" aria-label="What became of them">
          <lg-facet name="State" [values]="states()" (picked)="pick($event || null)" />
        </div>
        <table class="ledger">
          <thead>
            <tr>
              <th>Contact</th>
              <th>Number</th>
              <th>State</th>
              <th>Why</th>
              <th>Carrier</th>
              <th>Left</th>
              <th>Final</th>
            </tr>
          </thead>
          <tbody>
            @for (m of rows.rows(); track m.id) {
              <tr>
                <td class="strong cut">{{ m.name || 'no name' }}</td>
                <td class="mono">{{ m.e164 | phone }}</td>
                <td [class]="tone(m)">{{ m.state }}</td>
                <td class="soft">
                  {{ m.failure || (m.post ? 'post ' + m.post + ': ' + m.why : '')
                  }}{{ m.state === 'held' && m.holdUntil ? ', until ' + (m.holdUntil | moment: 'short') : '' }}
                </td>
                <td class="soft">{{ m.carrier }}</td>
                <td class="soft when">{{ m.sentAt | moment: 'short' }}</td>
                <td class="soft when">{{ m.finalAt | moment: 'short' }}</td>
              </tr>
            } @empty {
              <tr>
                <td colspan="7" class="soft">{{ rows.loading() ? 'Reading…' : 'None.' }}</td>
              </tr>
            }
          </tbody>
        </table>
        @if (!rows.ended()) {
          <p>
            <button type="button" matButton="outlined" [disabled]="rows.loading()" (click)="rows.more()">
              Show more
            </button>
          </p>
        }
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
    td.when {
      white-space: nowrap;
      font-size: 13px;
    }
  `,
})
export class Results {
  readonly dispatch = input.required<DispatchView>();
  /** Which group is shown, from the address. */
  readonly state = input<string>();
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  private readonly id = computed(() => this.dispatch().id);
  private readonly params = computed(
    () => ({ id: this.id(), state: GROUPS.find((g) => g.key === this.state())?.states.join(',') }),
    { equal: (a, b) => a.id === b.id && a.state === b.state },
  );
  protected readonly rows = new PagedRows(
    this.params,
    ({ id, state }, cursor, limit) =>
      this.api.call(listMessages, {
        params: { businessId: this.session.businessId(), id },
        query: { state, cursor, limit },
      }),
    50,
  );
  protected readonly groups = computed(() =>
    GROUPS.map((g) => ({ ...g, n: g.states.reduce((n, s) => n + (this.dispatch().counts[s] ?? 0), 0) })).filter(
      (g) => g.n > 0,
    ),
  );
  protected readonly states = computed(() => [
    { value: '', label: 'all', n: this.total(), on: !this.state() },
    ...this.groups().map((g) => ({ value: g.key, label: g.label, n: g.n, on: this.state() === g.key, tone: g.tone })),
  ]);
  protected readonly total = computed(() => Object.values(this.dispatch().counts).reduce((a, b) => a + b, 0));
  private readonly lists = liveResource(
    [],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listLists, { params: { businessId } }),
  );
  private readonly numbers = liveResource(
    [],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listNumbers, { params: { businessId } }),
  );
  protected readonly audience = computed(() => {
    const name = (id: string): string => this.lists.value()?.items.find((l) => l.id === id)?.name ?? '…';
    const a = this.dispatch().audience;
    return `${a.include.map(name).join(' or ')}${a.exclude.length > 0 ? `, but nobody in ${a.exclude.map(name).join(' or ')}` : ''}`;
  });
  protected readonly from = computed(() => {
    const n = this.numbers.value()?.items.find((x) => x.id === this.dispatch().numberId);
    return n ? `${formatPhone(n.e164)} ${n.label}` : '';
  });

  constructor() {
    onTopics(['dispatch'], () => this.rows.refresh());
  }

  protected tone(m: MessageView): string {
    return GROUPS.find((g) => g.states.includes(m.state))?.tone ?? '';
  }
  protected pick(state: string | null): void {
    void this.router.navigate([], { queryParams: { state }, replaceUrl: true });
  }
  protected async cancel(): Promise<void> {
    if (
      !(await this.confirm.ask({
        title: 'Stop what has not left?',
        line: 'Texts that left cannot be called back; everyone waiting or held is let go. This cannot be undone.',
        yes: 'Stop it',
        no: 'Go on sending',
      }))
    )
      return;
    await this.api
      .call(cancelDispatch, { params: { businessId: this.session.businessId(), id: this.id() } })
      .catch((e: unknown) => this.say.problem(e));
  }
}
