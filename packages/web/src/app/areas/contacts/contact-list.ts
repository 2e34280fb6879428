import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, input, resource } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { contactFacets, exportContacts, listContacts, listLists, type ContactRow } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { Facet } from '../../parts/facet';
import { DocketKeys } from '../../parts/docket-keys';
import { CountPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { PageTitle } from '../../parts/page-title';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { ContactDocket } from './contact-docket';
import { LookupBar } from './lookup-bar';

/** All contacts, filtered on the server and scrolled without end. */
@Component({
  selector: 'lg-contact-list',
  imports: [
    Facet,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    RouterLink,
    ScrollingModule,
    GateStrip,
    ContactDocket,
    DocketKeys,
    LookupBar,
    PhonePipe,
    CountPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="choose($event)">
      <div class="work">
        <div class="head">
          <lg-page-title what="contacts" />
          <a matButton="outlined" [href]="exportHref()" download>Export CSV</a>
          @if (session.mayEdit()) {
            <a matButton="filled" routerLink="intake">Bring contacts in</a>
          }
        </div>
        <lg-lookup-bar />
        <div class="facets tight" role="group" aria-label="Filter">
          @for (g of facets(); track g.key) {
            <lg-facet [label]="g.label" [values]="g.values" (picked)="toggle(g.key, $event)" />
          }
          <div class="facet">
            <span>List</span>
            <mat-form-field
              ><select
                matNativeControl
                class="small"
                aria-label="List or tag"
                [value]="list() ?? ''"
                (change)="set({ list: $any($event.target).value || null })"
              >
                <option value="">any</option>
                @for (l of lists.value()?.items ?? []; track l.id) {
                  <option [value]="l.id" [selected]="l.id === list()">{{ l.name }} ({{ l.count | count }})</option>
                }
              </select></mat-form-field
            >
          </div>
          @if (faults()) {
            <lg-facet
              label="Faults"
              [values]="[{ value: 'three', label: 'three in 30 days ×', on: true }]"
              (picked)="set({ faults: null })"
            />
          }
          <span class="grow"></span>
          <mat-form-field
            ><input
              matInput
              data-filter
              type="search"
              placeholder="name, number or e-mail"
              aria-label="Filter contacts"
              [value]="q() ?? ''"
              (input)="search($event)"
          /></mat-form-field>
        </div>
        @if (rows.error(); as e) {
          <div class="problem" role="alert">
            {{ e.message }} <button type="button" matButton class="plain" (click)="rows.refresh()">Try again</button>
          </div>
        }
        @if (total() === 0 && !filtered()) {
          <div class="empty">
            <h2>No contacts yet</h2>
            <p>
              Paste a list or drop a CSV. Every row is checked before anything is stored, and nobody is texted by
              bringing them in.
            </p>
            @if (session.mayEdit()) {
              <a matButton="filled" routerLink="intake">Bring contacts in</a>
            }
          </div>
        } @else {
          <div class="grid header">
            <span>Contact</span><span>Number</span><span>Their gate</span><span>Why</span><span>Line</span
            ><span>Informational</span><span>Promotional</span>
          </div>
          <cdk-virtual-scroll-viewport
            itemSize="36"
            class="list"
            (scrolledIndexChange)="near($event)"
            tabindex="0"
            aria-label="Contacts"
          >
            <div
              *cdkVirtualFor="let c of rows.rows(); trackBy: byId"
              class="grid go"
              [class.chosen]="c.id === open()"
              (click)="choose(c.id)"
            >
              <button
                type="button"
                matButton
                class="plain strong cut name"
                (click)="choose(c.id); $event.stopPropagation()"
              >
                {{ nameOf(c) }}
              </button>
              <span class="mono">{{ c.number.e164 | phone }}</span>
              <span><lg-gate-strip [answers]="c.verdict.answers" /></span>
              <span class="cut" [class]="c.verdict.result === 'pass' ? 'soft' : c.verdict.result">{{
                c.verdict.why
              }}</span>
              <span
                class="cut"
                [class.stop]="c.number.textable === 'no'"
                [class.hold]="c.number.textable === 'unknown'"
                >{{ lineOf(c) }}</span
              >
              <span class="soft">{{ c.number.consent.informational }}</span>
              <span class="soft">{{ c.number.consent.promotional }}</span>
            </div>
          </cdk-virtual-scroll-viewport>
          <p class="soft small">
            {{ total() === null ? 'Counting…' : (total() | count) + (filtered() ? ' match' : ' contacts') }}
            @if (filtered()) {
              <button type="button" matButton class="plain" (click)="clear()">Show all</button>
            }
          </p>
        }
      </div>
      @if (open(); as id) {
        <lg-contact-docket class="docket" [contactId]="id" (closed)="choose(null)" />
      }
    </div>
  `,
  styles: `
    .work {
      display: flex;
      flex-direction: column;
    }
    .list {
      flex: 1;
      min-height: 220px;
    }
    .grid {
      display: grid;
      grid-template-columns: minmax(120px, 1.3fr) 138px 96px minmax(110px, 1.2fr) minmax(90px, 1fr) 96px 84px;
      gap: 12px;
      align-items: center;
      height: 36px;
      border-bottom: 1px solid var(--hairline);
    }
    .grid.header {
      font-size: 13px;
      font-weight: 600;
      color: var(--ink-soft);
    }
    .grid.go {
      cursor: pointer;
    }
    .grid.go:hover {
      background: var(--primary-wash);
    }
    .grid.chosen {
      background: var(--primary-wash);
      box-shadow: inset 3px 0 0 var(--primary);
      padding-left: 10px;
    }
    .name {
      color: var(--ink);
      font-weight: 600;
    }
  `,
})
export class ContactListPage {
  readonly open = input<string>();
  readonly q = input<string>();
  readonly textable = input<string>();
  readonly list = input<string>();
  readonly informational = input<string>();
  readonly promotional = input<string>();
  readonly faults = input<'yes'>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  private readonly filter = computed(() => ({
    q: this.q(),
    textable: this.textable(),
    list: this.list(),
    informational: this.informational(),
    promotional: this.promotional(),
    faults: this.faults(),
  }));
  private readonly params = computed(
    () => (this.session.businessId() ? { businessId: this.session.businessId(), ...this.filter() } : undefined),
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  protected readonly rows = new PagedRows<{ businessId: string } & Record<string, string | undefined>, ContactRow>(
    this.params,
    ({ businessId, ...filter }, cursor, limit) =>
      this.api.call(listContacts, { params: { businessId }, query: { ...filter, cursor, limit } }),
  );
  private readonly counts = resource({
    params: () => this.params(),
    loader: ({ params: { businessId, ...filter } }) =>
      this.api.call(contactFacets, { params: { businessId }, query: filter }),
  });
  protected readonly lists = liveResource(
    ['contacts'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listLists, { params: { businessId } }),
  );
  private lastFacets: { key: string; label: string; values: { value: string; n: number; on: boolean }[] }[] = [];
  protected readonly facets = computed(() => {
    const c = this.counts.hasValue() ? this.counts.value() : undefined;
    if (!c) return this.lastFacets;
    const group = (key: 'textable' | 'informational' | 'promotional', label: string) => {
      const on = (this[key]() ?? '').split(',');
      return { key, label, values: Object.entries(c[key]).map(([value, n]) => ({ value, n, on: on.includes(value) })) };
    };
    return (this.lastFacets = [group('textable', 'Textable'), group('promotional', 'Promotional')]);
  });
  /** Said by the page where it is quickly counted, else by the facets, which may take longer. */
  protected readonly total = computed(
    () => this.rows.total() ?? (this.counts.hasValue() && !this.rows.loading() ? this.counts.value().total : null),
  );
  protected readonly filtered = computed(() => Object.values(this.filter()).some((v) => v));
  protected readonly ids = computed(() => this.rows.rows().map((c) => c.id));
  protected readonly exportHref = computed(() =>
    this.api.address(exportContacts, { params: { businessId: this.session.businessId() }, query: this.filter() }),
  );
  protected readonly byId = (_: number, c: ContactRow): string => c.id;

  constructor() {
    onTopics(['contacts', 'consent'], () => {
      this.rows.refresh();
      this.counts.reload();
    });
  }

  protected nameOf(c: ContactRow): string {
    return `${c.firstName} ${c.lastName}`.trim() || 'no name';
  }
  protected lineOf(c: ContactRow): string {
    if (c.number.lookedUpAt === null) return 'never looked up';
    return `${c.number.lineType}${c.number.textable === 'no' ? ', not textable' : c.number.carrier ? `, ${c.number.carrier}` : ''}`;
  }
  protected near(index: number): void {
    if (index + 60 > this.rows.rows().length) void this.rows.more();
  }
  protected choose(id: string | null): void {
    this.set({ open: id });
  }
  protected toggle(key: string, value: string): void {
    const now = (this.filter()[key as 'textable'] ?? '').split(',').filter(Boolean);
    const next = now.includes(value) ? now.filter((v) => v !== value) : [...now, value];
    this.set({ [key]: next.join(',') || null });
  }
  protected search(event: Event): void {
    this.set({ q: (event.target as HTMLInputElement).value || null });
  }
  protected clear(): void {
    this.set({ q: null, textable: null, list: null, informational: null, promotional: null, faults: null });
  }
  protected set(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }
}
