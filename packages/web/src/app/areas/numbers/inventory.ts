import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { listNumbers, type NumberView } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { DocketKeys } from '../../parts/docket-keys';
import { CountPipe, MomentPipe, MoneyPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { PageTitle } from '../../parts/page-title';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { NumbersTabs } from './numbers-tabs';
import { NumberDocket } from './number-docket';

const MAY: Record<string, (n: NumberView) => boolean> = {
  yes: (n) => n.deciding === null,
  'not yet': (n) => n.deciding !== null,
};

/** Every number of the business, and whether it may send. */
@Component({
  selector: 'lg-inventory',
  imports: [
    PageTitle,
    NumbersTabs,
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
          @if (session.isAdministrator()) {
            <a class="do main" routerLink="acquire">Get a number</a>
          }
        </div>
        <lg-numbers-tabs />
        @if (numbers.error()) {
          <div class="problem" role="alert">
            {{ numbers.error()?.message }}
            <button type="button" class="plain" (click)="numbers.reload()">Try again</button>
          </div>
        } @else if (all().length === 0 && numbers.hasValue()) {
          <div class="empty">
            <h2>No numbers yet</h2>
            <p>
              A number is what people see when you text them. Search the exchange by area code; the cost is shown before
              anything is bought.
            </p>
            <a class="do main" routerLink="acquire">Get a number</a>
          </div>
        } @else {
          <div class="facets" role="group" aria-label="Filter">
            <div class="facet">
              <span>May send</span>
              @for (f of facets(); track f.key) {
                <button type="button" [attr.aria-pressed]="(may() ?? 'any') === f.key" (click)="filter(f.key)">
                  {{ f.key }} {{ f.n | count }}
                </button>
              }
            </div>
            <span class="grow"></span><span class="soft small">/ to filter</span>
            <input
              class="text"
              data-filter
              type="search"
              placeholder="number, label or campaign"
              aria-label="Filter numbers"
              [value]="q() ?? ''"
              (input)="search($event)"
            />
          </div>
          <table class="ledger">
            <thead>
              <tr>
                <th>Number</th>
                <th>Label</th>
                <th>Kind</th>
                <th>Came by</th>
                <th>May it send?</th>
                <th>Campaign</th>
                <th class="right">Monthly</th>
              </tr>
            </thead>
            <tbody>
              @for (n of shown(); track n.id) {
                <tr class="go" [class.chosen]="n.id === open()" (click)="choose(n.id)">
                  <td class="mono">
                    <button type="button" class="plain mono" (click)="choose(n.id); $event.stopPropagation()">
                      {{ n.e164 | phone }}
                    </button>
                  </td>
                  <td class="strong">{{ n.label || '–' }}</td>
                  <td>{{ n.kind === 'local' ? 'Local' : n.kind }}</td>
                  <td class="soft">
                    {{ n.state === 'ordered' ? 'Ordered' : n.state === 'failed' ? 'Order failed' : 'Bought' }}
                    {{ n.activeAt ?? n.orderedAt | moment: 'day' }}
                  </td>
                  <td><lg-gate-strip [answers]="n.answers" /></td>
                  <td [class]="n.deciding?.result">{{ campaignOf(n) }}</td>
                  <td class="right">{{ n.monthly | money }}</td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="7" class="soft">
                    @if (numbers.hasValue()) {
                      No number matches. <button type="button" class="plain" (click)="filter('any')">Show all</button>
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
})
export class Inventory {
  readonly open = input<string>();
  readonly may = input<string>();
  readonly q = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  protected readonly numbers = liveResource(
    ['numbers', 'registration', 'settings'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listNumbers, { params: { businessId } }),
  );
  protected readonly all = computed(() => (this.numbers.hasValue() ? (this.numbers.value()?.items ?? []) : []));
  protected readonly facets = computed(() => [
    { key: 'any', n: this.all().length },
    ...Object.entries(MAY).map(([key, test]) => ({ key, n: this.all().filter(test).length })),
  ]);
  protected readonly shown = computed(() => {
    const words = (this.q() ?? '').trim().toLowerCase();
    const digits = words.replace(/\D/g, '');
    const test = MAY[this.may() ?? ''] ?? ((): boolean => true);
    return this.all().filter(
      (n) =>
        test(n) &&
        (words === '' ||
          (digits !== '' && n.e164.includes(digits)) ||
          `${n.label} ${n.campaignName ?? ''}`.toLowerCase().includes(words)),
    );
  });
  protected readonly ids = computed(() => this.shown().map((n) => n.id));
  protected readonly chosen = computed(() => this.all().find((n) => n.id === this.open()) ?? null);

  protected campaignOf(n: NumberView): string {
    if (n.state === 'ordered') return 'provisioning…';
    if (n.state === 'failed') return n.note;
    if (!n.campaignName) return 'not tied yet';
    return n.deciding ? `${n.campaignName}: ${n.deciding.why}` : n.campaignName;
  }

  protected choose(id: string | null): void {
    this.set({ open: id });
  }
  protected filter(key: string): void {
    this.set({ may: key === 'any' ? null : key, ...(key === 'any' ? { q: null } : {}) });
  }
  protected search(event: Event): void {
    this.set({ q: (event.target as HTMLInputElement).value || null });
  }
  private set(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }
}
