import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { closeCountry, listCountries, openCountry, type CountryView } from '@long-gate/contracts';
import { Api } from '../../../api/api';
import { Facet } from '../../../parts/facet';
import { Acting } from '../../../parts/acting';
import { Confirm } from '../../../parts/confirm';
import { DocketKeys } from '../../../parts/docket-keys';
import { CountPipe, MomentPipe } from '../../../parts/format';
import { History } from '../../../parts/history';
import { PageTitle } from '../../../parts/page-title';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';

const TONE: Record<CountryView['state'], string> = {
  open: 'pass',
  'in review': 'hold',
  refused: 'stop',
  'registration needed': 'note',
  closed: 'soft',
};
const SHOWN: Record<string, (c: CountryView) => boolean> = {
  open: (c) => c.state === 'open',
  'not open': (c) => c.state !== 'open',
  'with contacts': (c) => c.contacts > 0,
};

/** Countries, opened one by one after their rules were read. */
@Component({
  selector: 'lg-countries',
  imports: [
    Facet,
    MatCheckboxModule,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    DocketKeys,
    History,
    CountPipe,
    MomentPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="choose($event)">
      <div class="work">
        <div class="head"><lg-page-title what="countries" /></div>
        <lg-numbers-tabs />
        @if (countries.error()) {
          <div class="problem" role="alert">
            {{ countries.error()?.message }}
            <button type="button" matButton class="plain" (click)="countries.reload()">Try again</button>
          </div>
        }
        @if (heldBack(); as n) {
          <p class="hold held">
            {{ n | count }} contact {{ n === 1 ? 'number lives' : 'numbers live' }} in a country that is not open; texts
            to them stop at post 2.
          </p>
        }
        <div class="facets tight" role="group" aria-label="Filter">
          <lg-facet label="Countries" [values]="facets()" (picked)="filter($event)" />
        </div>
        <table class="ledger">
          <thead>
            <tr>
              <th>Country</th>
              <th>State</th>
              <th class="right">Contacts there</th>
              <th>What can text there</th>
              <th>Sender IDs</th>
              <th>Replies</th>
            </tr>
          </thead>
          <tbody>
            @for (c of shown(); track c.code) {
              <tr class="go" [class.chosen]="c.code === open()" (click)="choose(c.code)">
                <td>
                  <button
                    type="button"
                    matButton
                    class="plain strong"
                    (click)="choose(c.code); $event.stopPropagation()"
                  >
                    {{ c.name }}
                  </button>
                </td>
                <td [class]="tone[c.state]">{{ c.state }}</td>
                <td class="right">{{ c.contacts | count }}</td>
                <td class="soft">{{ c.kinds.join(', ') }}</td>
                <td>{{ c.senderId }}</td>
                <td>{{ c.twoWay ? 'arrive' : 'cannot arrive' }}</td>
              </tr>
            } @empty {
              <tr>
                <td colspan="6" class="soft">{{ countries.hasValue() ? 'None here.' : 'Reading…' }}</td>
              </tr>
            }
          </tbody>
        </table>
      </div>
      @if (chosen(); as c) {
        <aside class="docket">
          <div class="kind">
            <span>Country</span><button type="button" matButton class="plain" (click)="choose(null)">Close</button>
          </div>
          <h2>{{ c.name }}</h2>
          <p [class]="tone[c.state]">{{ c.state }}{{ c.note ? ': ' + c.note : '' }}</p>
          <div
            class="step"
            [class.pass]="c.state === 'open'"
            [class.hold]="c.state !== 'open' && c.state !== 'refused'"
          >
            @switch (c.state) {
              @case ('open') {
                <span class="strong">Open.</span> Texts may go there from what can text there.
              }
              @case ('in review') {
                <span class="strong">Wait for the registry.</span> Admission takes some days.
              }
              @case ('refused') {
                <span class="strong">Mend and ask again.</span> {{ c.note }}
              }
              @default {
                <span class="strong">Read the rules, then open it.</span>
                {{
                  c.registration
                    ? 'The business itself has to be admitted first; that takes some days.'
                    : 'It is open at once.'
                }}
              }
            }
            @if (c.contacts > 0 && c.state !== 'open') {
              <div>{{ c.contacts | count }} of your contact numbers are held back at post 2 until then.</div>
            }
          </div>
          <h3>Its rules</h3>
          <dl class="facts">
            <dt>Works from</dt>
            <dd>{{ c.kinds.join(', ') }}</dd>
            <dt>Admission</dt>
            <dd>{{ c.registration ? 'the business has to register' : 'none needed' }}</dd>
            <dt>Sender IDs</dt>
            <dd>{{ c.senderId }}</dd>
            <dt>Replies</dt>
            <dd>{{ c.twoWay ? 'arrive' : 'cannot arrive: one-way' }}</dd>
            <dt>Hours</dt>
            <dd>{{ c.hours }}, local time</dd>
            <dt>Opting out</dt>
            <dd>{{ c.optOut }}</dd>
            <dt>Source</dt>
            <dd>{{ c.source }}, checked {{ c.checked }}</dd>
          </dl>
          <p class="soft small">The product’s knowledge, not legal advice.</p>
          @if (session.isAdministrator()) {
            @if (c.state === 'open') {
              <button type="button" matButton="outlined" class="danger" [disabled]="busy()" (click)="close(c)">
                Close it…
              </button>
            } @else if (c.state !== 'in review') {
              <mat-checkbox class="check" [checked]="read()" (change)="read.set($event.checked)"
                >I have read the rules of {{ c.name }}</mat-checkbox
              >
              <button type="button" matButton="filled" [disabled]="busy() || !read()" (click)="openIt(c)">
                {{ c.registration ? 'Ask for admission' : 'Open ' + c.name }}
              </button>
              <p class="soft small">No cost now or monthly; it can be closed at any time.</p>
            }
          }
          @if (c.changedAt) {
            <p class="soft small">Changed {{ c.changedAt | moment }}.</p>
          }
          <lg-history kind="country" [object]="c.code" />
        </aside>
      }
    </div>
  `,
  styles: `
    .held {
      margin-bottom: 10px;
    }
    .check {
      margin: 12px 0;
    }
    h3 {
      margin: 12px 0 6px;
    }
  `,
})
export class CountriesPage {
  readonly open = input<string>();
  readonly show = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  protected readonly tone = TONE;
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly read = linkedSignal({ source: () => this.open(), computation: () => false });
  protected readonly countries = liveResource(
    ['numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listCountries, { params: { businessId } }),
  );
  protected readonly all = computed(() => (this.countries.hasValue() ? (this.countries.value()?.items ?? []) : []));
  protected readonly facets = computed(() =>
    Object.entries({ any: () => true, ...SHOWN }).map(([value, test]) => ({
      value,
      n: this.all().filter(test).length,
      on: (this.show() ?? 'any') === value,
    })),
  );
  protected readonly shown = computed(() => this.all().filter(SHOWN[this.show() ?? ''] ?? ((): boolean => true)));
  protected readonly ids = computed(() => this.shown().map((c) => c.code));
  protected readonly chosen = computed(() => this.all().find((c) => c.code === this.open()) ?? null);
  protected readonly heldBack = computed(() =>
    this.all()
      .filter((c) => c.state !== 'open')
      .reduce((n, c) => n + c.contacts, 0),
  );

  protected choose(code: string | null): void {
    void this.router.navigate([], { queryParams: { open: code }, queryParamsHandling: 'merge' });
  }
  protected filter(key: string): void {
    void this.router.navigate([], { queryParams: { show: key === 'any' ? null : key }, queryParamsHandling: 'merge' });
  }

  protected async openIt(c: CountryView): Promise<void> {
    await this.act(
      () => this.api.call(openCountry, { params: this.path(c), body: { read: true } }),
      c.registration ? `${c.name}: admission is asked for.` : `${c.name} is open.`,
    );
  }
  protected async close(c: CountryView): Promise<void> {
    if (
      await this.confirm.ask({
        title: `Close ${c.name}?`,
        line: `At once nothing is sent there any more: ${c.contacts.toLocaleString('en-US')} contact numbers live there. No cost; it can be opened again.`,
        yes: `Close ${c.name}`,
      })
    )
      await this.act(() => this.api.call(closeCountry, { params: this.path(c) }), `${c.name} is closed.`);
  }

  private path(c: CountryView): { businessId: string; code: string } {
    return { businessId: this.session.businessId(), code: c.code };
  }
  private async act(work: () => Promise<unknown>, done: string): Promise<void> {
    await this.acting.run(work, done);
    this.countries.reload();
  }
}
