import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { exportHeads, exportLedger, listLedger, verifyLedgerNow, type ConsentEventView } from '@long-gate/contracts';
import { CONSENT_EVENT_KINDS, CONSENT_ROUTES, parsePhone } from '@long-gate/core';
import type { z } from 'zod';
import type { LedgerVerdictShape } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { DocketKeys } from '../../parts/docket-keys';
import { CountPipe, MomentPipe, PhonePipe } from '../../parts/format';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { PageTitle } from '../../parts/page-title';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { ConsentTabs } from './consent-tabs';

/** The append-only record of consent events, and its proof chain. */
@Component({
  selector: 'lg-ledger',
  imports: [
    MatInputModule,
    MatButtonModule,
    PageTitle,
    RouterLink,
    ScrollingModule,
    DocketKeys,
    ConsentTabs,
    PhonePipe,
    MomentPipe,
    CountPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="set({ open: $event })">
      <div class="work">
        <div class="head">
          <lg-page-title what="consent" />
          <a matButton="outlined" [href]="headsHref()" download>Signed heads</a>
          <a matButton="outlined" [href]="exportHref()" download>Export JSON lines</a>
          <button type="button" matButton="filled" [disabled]="verifying()" (click)="verify()">
            {{ verifying() ? 'Verifying…' : 'Verify the chain' }}
          </button>
        </div>
        <lg-consent-tabs />
        @if (verdict(); as v) {
          <div class="step" role="status" [class.pass]="v.ok">
            <span class="strong">{{ v.ok ? 'Unbroken.' : 'Broken.' }}</span> {{ v.message }}
            {{
              v.projection.ok
                ? 'The state of now follows from it.'
                : (v.projection.differing | count) + ' numbers show another state than the ledger gives.'
            }}
            @if (v.ok) {
              <div class="small mono cut" [title]="v.head">head {{ v.head }}</div>
            }
          </div>
        }
        <div class="facets tight" role="group" aria-label="Filter">
          <div class="facet">
            <span>Event</span>
            <mat-form-field
              ><select
                matNativeControl
                class="small"
                aria-label="Kind of event"
                (change)="set({ kind: $any($event.target).value || null })"
              >
                <option value="">any</option>
                @for (k of kinds; track k) {
                  <option [selected]="k === kind()">{{ k }}</option>
                }
              </select></mat-form-field
            >
          </div>
          <div class="facet">
            <span>How</span>
            <mat-form-field
              ><select
                matNativeControl
                class="small"
                aria-label="How it came"
                (change)="set({ how: $any($event.target).value || null })"
              >
                <option value="">any</option>
                @for (k of ways; track k) {
                  <option [selected]="k === how()">{{ k }}</option>
                }
              </select></mat-form-field
            >
          </div>
          <span class="grow"></span>
          <mat-form-field
            ><input
              matInput
              data-filter
              type="search"
              placeholder="a whole phone number"
              aria-label="Events of one number"
              [value]="e164() ?? ''"
              (change)="number($event)"
          /></mat-form-field>
        </div>
        @if (wrong()) {
          <p class="error" role="alert">{{ wrong() }}</p>
        }
        @if (rows.total() === 0 && !filtered()) {
          <div class="empty">
            <h2>The ledger is empty</h2>
            <p>It fills by itself when people agree, leave and come back. Make an opt-in page to begin.</p>
            <a matButton="filled" routerLink="pages">Make an opt-in page</a>
          </div>
        } @else {
          <div class="grid header">
            <span>Happened</span><span>Number</span><span>Contact</span><span>Event</span><span>Purposes</span
            ><span>How</span>
          </div>
          <cdk-virtual-scroll-viewport
            itemSize="36"
            class="list"
            (scrolledIndexChange)="near($event)"
            tabindex="0"
            aria-label="Ledger"
          >
            <div
              *cdkVirtualFor="let e of rows.rows(); trackBy: byId"
              class="grid go"
              [class.chosen]="e.id === open()"
              (click)="set({ open: e.id })"
            >
              <button
                type="button"
                matButton
                class="plain soft"
                (click)="set({ open: e.id }); $event.stopPropagation()"
              >
                {{ e.happenedAt | moment }}
              </button>
              <span class="mono">{{ e.e164 | phone }}</span><span class="cut">{{ e.contactName || '–' }}</span>
              <span class="strong" [class]="tone(e)">{{ e.kind }}{{ e.awaitsConfirmation ? ', YES asked' : '' }}</span
              ><span class="cut">{{ e.purposes.length === 3 ? 'all' : e.purposes.join(', ') }}</span
              ><span class="soft">{{ e.how }}</span>
            </div>
          </cdk-virtual-scroll-viewport>
          <p class="soft small">
            {{ rows.total() === null ? 'Reading…' : (rows.total() | count) + ' events, newest first' }}
            @if (filtered()) {
              <button type="button" matButton class="plain" (click)="set({ e164: null, kind: null, how: null })">
                Show all
              </button>
            }
          </p>
        }
      </div>
      @if (chosen(); as e) {
        <aside class="docket">
          <div class="kind">
            <span>Consent event {{ e.seq | count }}</span
            ><button type="button" matButton class="plain" (click)="set({ open: null })">Close</button>
          </div>
          <h2>{{ e.kind }}</h2>
          <p class="mono">{{ e.e164 | phone }}</p>
          @if (e.contactId) {
            <p>
              <a [routerLink]="['/b', session.businessId(), 'contacts']" [queryParams]="{ open: e.contactId }">{{
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
            <dd>{{ e.recordedBy }}</dd>
            @for (kv of pairs(e); track kv[0]) {
              <dt>{{ kv[0] }}</dt>
              <dd>{{ kv[1] }}</dd>
            }
          </dl>
          @if (e.disclosure) {
            <hr class="rule" />
            <h3>The words they saw</h3>
            <p>{{ e.disclosure }}</p>
            <p class="soft small">{{ e.disclosureVersion }}</p>
          }
          <hr class="rule" />
          <h3>Proof</h3>
          <p class="mono small wrap">{{ e.hash }}</p>
          <p class="soft small">
            follows <span class="mono wrap">{{ e.prevHash }}</span>
          </p>
        </aside>
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
      grid-template-columns: 138px 138px minmax(90px, 1fr) 150px minmax(110px, 1fr) 116px;
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
    .grid.go:hover,
    .grid.chosen {
      background: var(--primary-wash);
    }
    .wrap {
      overflow-wrap: anywhere;
    }
    h3 {
      margin-bottom: 4px;
    }
  `,
})
export class LedgerPage {
  readonly open = input<string>();
  readonly e164 = input<string>();
  readonly kind = input<string>();
  readonly how = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly kinds = CONSENT_EVENT_KINDS;
  protected readonly ways = CONSENT_ROUTES;
  protected readonly wrong = signal('');
  protected readonly verifying = signal(false);
  protected readonly verdict = signal<z.output<typeof LedgerVerdictShape> | null>(null);
  private readonly params = computed(
    () =>
      this.session.businessId()
        ? { businessId: this.session.businessId(), e164: this.e164(), kind: this.kind(), how: this.how() }
        : undefined,
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  protected readonly rows = new PagedRows<
    { businessId: string } & Record<string, string | undefined>,
    ConsentEventView
  >(this.params, ({ businessId, ...q }, cursor, limit) =>
    this.api.call(listLedger, { params: { businessId }, query: { ...q, cursor, limit } }),
  );
  protected readonly filtered = computed(() => Boolean(this.e164() || this.kind() || this.how()));
  protected readonly ids = computed(() => this.rows.rows().map((e) => e.id));
  protected readonly chosen = computed(() => this.rows.rows().find((e) => e.id === this.open()) ?? null);
  protected readonly exportHref = computed(() =>
    this.api.address(exportLedger, { params: { businessId: this.session.businessId() } }),
  );
  protected readonly headsHref = computed(() =>
    this.api.address(exportHeads, { params: { businessId: this.session.businessId() } }),
  );
  protected readonly byId = (_: number, e: ConsentEventView): string => e.id;

  constructor() {
    onTopics(['consent'], () => this.rows.refresh());
  }

  protected tone(e: ConsentEventView): string {
    return e.kind === 'revoked' || e.kind === 'voided'
      ? 'stop'
      : e.kind === 'claimed' || e.awaitsConfirmation || e.kind === 'expired'
        ? 'hold'
        : '';
  }
  protected pairs(e: ConsentEventView): [string, string][] {
    return Object.entries(e.evidence).filter(([, v]) => v !== '');
  }
  protected near(index: number): void {
    if (index + 60 > this.rows.rows().length) void this.rows.more();
  }
  protected number(event: Event): void {
    const raw = (event.target as HTMLInputElement).value.trim();
    if (raw === '') return this.set({ e164: null });
    const p = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
    this.wrong.set(p.ok ? '' : 'Give the whole number, such as 201-555-0142.');
    if (p.ok) this.set({ e164: p.e164 });
  }
  protected async verify(): Promise<void> {
    this.verifying.set(true);
    try {
      this.verdict.set(await this.api.call(verifyLedgerNow, { params: { businessId: this.session.businessId() } }));
    } catch (error) {
      this.say.problem(error);
    } finally {
      this.verifying.set(false);
    }
  }
  protected set(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }
}
