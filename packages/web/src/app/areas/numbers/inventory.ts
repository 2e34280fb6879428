import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { bulkNumbers, exportNumbers, getDossier, listNumbers, type NumberView } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { Facet } from '../../parts/facet';
import { Confirm } from '../../parts/confirm';
import { DocketKeys } from '../../parts/docket-keys';
import { CountPipe, MomentPipe, MoneyPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { PageTitle } from '../../parts/page-title';
import { SavedViews } from '../../parts/saved-views';
import { Say } from '../../parts/say';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { NumberDocket } from './number-docket';
import { NumbersTabs } from './numbers-tabs';

type FacetKey = 'may' | 'kind' | 'source' | 'state';
/** What each facet reads of a number; several values of one facet are alternatives, facets narrow one another. */
const READS: Readonly<Record<FacetKey, { label: string; of: (n: NumberView) => string }>> = {
  may: { label: 'May send', of: (n) => (n.deciding === null && n.state === 'active' ? 'yes' : 'not yet') },
  kind: { label: 'Kind', of: (n) => n.kind },
  source: { label: 'Came by', of: (n) => n.source },
  state: { label: 'State', of: (n) => n.state },
};
const FACETS = Object.keys(READS) as FacetKey[];

/** Every number of the business, and whether it may send. */
@Component({
  selector: 'lg-inventory',
  imports: [
    Facet,
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    SavedViews,
    RouterLink,
    GateStrip,
    NumberDocket,
    DocketKeys,
    PhonePipe,
    MoneyPipe,
    MomentPipe,
    CountPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="choose($event)">
      <div class="work">
        <div class="head">
          <lg-page-title what="numbers" />
          <a matButton="outlined" [href]="file()" download>Export</a>
          @if (session.isAdministrator()) {
            <a matButton="filled" routerLink="acquire">Get a number</a>
          }
        </div>
        <lg-numbers-tabs />
        @if (numbers.error()) {
          <div class="problem" role="alert">
            {{ numbers.error()?.message }}
            <button type="button" matButton class="plain" (click)="numbers.reload()">Try again</button>
          </div>
        } @else if (all().length === 0 && numbers.hasValue()) {
          <div class="empty">
            <h2>No numbers yet</h2>
            <p>
              A number is what people see when you text them. Search the exchange by area code; the cost is shown before
              anything is bought. A number people know already can come with you.
            </p>
            <a matButton="filled" routerLink="acquire">Get a number</a>
            <a matButton="outlined" routerLink="route">A number you have</a>
          </div>
        } @else {
          @if (order()) {
            <p class="order">
              <span class="strong">Your order:</span> {{ orderWords() }}
              <button type="button" matButton class="plain" (click)="set({ order: null })">show all numbers</button>
            </p>
          }
          <div class="facets tight" role="group" aria-label="Filter">
            @for (f of facets(); track f.key) {
              @if (f.values.length > 1 || f.chosen.length > 0) {
                <lg-facet [label]="f.label" [values]="f.values" (picked)="toggle(f.key, $event)" />
              }
            }
            <span class="grow"></span>
            <mat-form-field
              ><input
                matInput
                data-filter
                type="search"
                placeholder="number, label or campaign"
                aria-label="Filter numbers"
                [value]="q() ?? ''"
                (input)="search($event)"
            /></mat-form-field>
          </div>
          <lg-saved-views area="numbers" [query]="query()" (chosen)="apply($event)" />
          @if (picked().length > 0) {
            <div class="bulk" role="group" aria-label="With the chosen numbers">
              <span class="strong">{{ picked().length | count }} chosen</span>
              <mat-form-field
                ><input
                  matInput
                  aria-label="Label for the chosen numbers"
                  placeholder="a label for them"
                  maxlength="60"
                  [value]="label()"
                  (input)="label.set($any($event.target).value)"
              /></mat-form-field>
              <button type="button" matButton="outlined" [disabled]="busy() || !label()" (click)="bulkLabel()">
                Label
              </button>
              <mat-form-field
                ><select matNativeControl aria-label="Campaign for the chosen numbers" (change)="bulkTie($event)">
                  <option value="">tie to a campaign…</option>
                  @for (c of campaigns(); track c.id) {
                    <option [value]="c.id">{{ c.name }}</option>
                  }
                </select></mat-form-field
              >
              <button type="button" matButton class="plain" (click)="picked.set([])">none</button>
            </div>
          }
          <table class="ledger">
            <thead>
              <tr>
                @if (session.isAdministrator()) {
                  <th class="pick">
                    <mat-checkbox
                      [aria-label]="'Choose all ' + shown().length + ' that match'"
                      [checked]="shown().length > 0 && picked().length === shown().length"
                      (change)="pickAll($event.checked)"
                    />
                  </th>
                }
                <th>Number</th>
                <th>Label</th>
                <th>Kind, and what it can</th>
                <th>Came by, state</th>
                <th>May it send?</th>
                <th>Campaign</th>
                <th class="right">Throughput</th>
                <th class="right">Monthly</th>
                <th>Last used</th>
              </tr>
            </thead>
            <tbody>
              @for (n of shown(); track n.id) {
                <tr class="go" [class.chosen]="n.id === open()" (click)="choose(n.id)">
                  @if (session.isAdministrator()) {
                    <td class="pick">
                      <mat-checkbox
                        [aria-label]="'Choose ' + (n.e164 | phone)"
                        [checked]="picked().includes(n.id)"
                        (click)="$event.stopPropagation()"
                        (change)="pick(n.id)"
                      />
                    </td>
                  }
                  <td class="mono">
                    <button type="button" matButton class="plain mono" (click)="choose(n.id); $event.stopPropagation()">
                      {{ n.e164 | phone }}
                    </button>
                  </td>
                  <td>
                    <span class="strong">{{ n.label || '–' }}</span>
                    @if (n.defaultFor.length > 0) {
                      <span class="soft small"> default: {{ n.defaultFor.join(', ') }}</span>
                    }
                  </td>
                  <td>
                    {{ n.kind }}
                    <div class="soft small">{{ n.capabilities.join(', ') }}</div>
                  </td>
                  <td class="soft">
                    {{ n.source
                    }}{{ n.state === 'active' ? '' : ', ' + (n.state === 'failed' ? 'order failed' : n.state) }}
                    {{ n.activeAt ?? n.orderedAt | moment: 'day' }}
                  </td>
                  <td><lg-gate-strip [answers]="n.answers" /></td>
                  <td [class]="n.state === 'released' ? 'soft' : n.deciding?.result">{{ campaignOf(n) }}</td>
                  <td class="right soft">{{ n.throughput || '–' }}</td>
                  <td class="right">{{ n.monthly | money }}</td>
                  <td class="soft">{{ n.lastUsedAt | moment: 'day' }}</td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="10" class="soft">
                    @if (numbers.hasValue()) {
                      No number matches.
                      <button type="button" matButton class="plain" (click)="apply('')">Show all</button>
                    } @else {
                      Reading…
                    }
                  </td>
                </tr>
              }
            </tbody>
          </table>
        }
      </div>
      @if (chosen(); as n) {
        <lg-number-docket class="docket" [number]="n" (closed)="choose(null)" />
      }
    </div>
  `,
  styles: `
    td .small {
      line-height: 1.2;
      padding-bottom: 4px;
    }
    .pick {
      width: 28px;
    }
    .order {
      margin-bottom: 10px;
    }
    .bulk {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      padding: 8px 0;
    }
    .bulk .text {
      width: 190px;
    }
  `,
})
export class Inventory {
  readonly open = input<string>();
  readonly may = input<string>();
  readonly kind = input<string>();
  readonly source = input<string>();
  readonly state = input<string>();
  readonly q = input<string>();
  readonly order = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly busy = signal(false);
  protected readonly label = signal('');
  protected readonly picked = signal<readonly string[]>([]);
  protected readonly numbers = liveResource(
    ['numbers', 'registration', 'settings'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listNumbers, { params: { businessId } }),
  );
  private readonly dossier = liveResource(
    ['registration'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(getDossier, { params: { businessId } }),
  );
  protected readonly campaigns = computed(() =>
    (this.dossier.hasValue() ? (this.dossier.value()?.campaigns ?? []) : []).filter((c) => c.state === 'registered'),
  );
  protected readonly all = computed(() => (this.numbers.hasValue() ? (this.numbers.value()?.items ?? []) : []));
  private readonly chosenOf = computed((): Record<FacetKey, string[]> => {
    const list = (text: string | undefined): string[] => (text ?? '').split('~').filter((v) => v !== '');
    return { may: list(this.may()), kind: list(this.kind()), source: list(this.source()), state: list(this.state()) };
  });
  /** Numbers that match everything but, where one is named, that facet: its own counts are over these. */
  private matching(except?: FacetKey): NumberView[] {
    const words = (this.q() ?? '').trim().toLowerCase();
    const digits = words.replace(/\D/g, '');
    const chosen = this.chosenOf();
    return this.all().filter(
      (n) =>
        (this.order() === undefined || n.orderId === this.order()) &&
        FACETS.every((f) => f === except || chosen[f].length === 0 || chosen[f].includes(READS[f].of(n))) &&
        (words === '' ||
          (digits !== '' && n.e164.includes(digits)) ||
          `${n.e164} ${n.label} ${n.campaignName ?? ''}`.toLowerCase().includes(words)),
    );
  }
  protected readonly facets = computed(() =>
    FACETS.map((key) => {
      const counts = new Map<string, number>();
      for (const n of this.matching(key)) counts.set(READS[key].of(n), (counts.get(READS[key].of(n)) ?? 0) + 1);
      const chosen = this.chosenOf()[key];
      for (const v of chosen) if (!counts.has(v)) counts.set(v, 0);
      return {
        key,
        label: READS[key].label,
        chosen,
        values: [...counts].map(([value, n]) => ({ value, n, on: chosen.includes(value) })),
      };
    }),
  );
  protected readonly shown = computed(() => this.matching());
  protected readonly ids = computed(() => this.shown().map((n) => n.id));
  protected readonly chosen = computed(() => this.all().find((n) => n.id === this.open()) ?? null);
  /** The filters as a query, for a saved view. */
  protected readonly query = computed(() => {
    const out = new URLSearchParams();
    for (const f of FACETS) if (this.chosenOf()[f].length > 0) out.set(f, this.chosenOf()[f].join('~'));
    if (this.q()) out.set('q', this.q() as string);
    return out.toString();
  });
  protected readonly orderWords = computed(() => {
    const mine = this.all().filter((n) => n.orderId === this.order());
    const n = (state: string): number => mine.filter((x) => x.state === state).length;
    const parts = [
      `${n('active')} of ${mine.length} active`,
      ...(n('ordered') > 0 ? [`${n('ordered')} still being put into service`] : []),
      ...(n('failed') > 0 ? [`${n('failed')} failed and refunded`] : []),
    ];
    return `${parts.join(', ')}.`;
  });

  protected campaignOf(n: NumberView): string {
    if (n.state === 'ordered') return 'provisioning…';
    if (n.state === 'failed' || n.state === 'released') return n.note;
    if (n.kind === 'sender ID') return n.nextStep.action === 'none' ? 'by country' : n.nextStep.title;
    if (!n.campaignName) return 'not tied yet';
    return n.deciding ? `${n.campaignName}: ${n.deciding.why}` : n.campaignName;
  }

  protected choose(id: string | null): void {
    this.set({ open: id });
  }
  protected toggle(f: FacetKey, value: string): void {
    const now = this.chosenOf()[f];
    const next = now.includes(value) ? now.filter((v) => v !== value) : [...now, value];
    this.set({ [f]: next.join('~') || null });
  }
  protected search(event: Event): void {
    this.set({ q: (event.target as HTMLInputElement).value || null });
  }
  protected apply(query: string): void {
    const p = new URLSearchParams(query);
    this.set({ ...Object.fromEntries(FACETS.map((f) => [f, p.get(f)])), q: p.get('q'), order: null });
  }
  protected set(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: 'q' in queryParams });
  }

  protected pick(id: string): void {
    this.picked.update((p) => (p.includes(id) ? p.filter((x) => x !== id) : [...p, id]));
  }
  protected pickAll(on: boolean): void {
    this.picked.set(on ? this.ids() : []);
  }
  protected file(): string {
    return this.api.address(exportNumbers, { params: { businessId: this.session.businessId() } });
  }

  protected async bulkLabel(): Promise<void> {
    await this.bulk({ label: this.label() });
    this.label.set('');
  }
  protected async bulkTie(event: Event): Promise<void> {
    const select = event.target as HTMLSelectElement;
    const campaign = this.campaigns().find((c) => c.id === select.value);
    select.value = '';
    if (
      campaign &&
      (await this.confirm.ask({
        title: `Tie ${this.picked().length} numbers to ${campaign.name}?`,
        line: 'No cost now or monthly. The networks confirm in about a day; until then nothing is sent from them. A number is in one campaign at a time.',
        yes: 'Tie them',
      }))
    )
      await this.bulk({ campaignId: campaign.id });
  }

  private async bulk(part: { label?: string; campaignId?: string }): Promise<void> {
    this.busy.set(true);
    try {
      const done = await this.api.call(bulkNumbers, {
        params: { businessId: this.session.businessId() },
        body: { ids: [...this.picked()], ...part },
      });
      this.picked.set([]);
      this.numbers.reload();
      const [no] = done.refused;
      if (no) this.say.problem(new Error(`${done.changed} changed. ${no.e164}: ${no.why}`));
      else this.say.done(`${done.changed} ${done.changed === 1 ? 'number' : 'numbers'} changed.`);
    } catch (error) {
      this.say.problem(error);
    } finally {
      this.busy.set(false);
    }
  }
}
