import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { INVENTORY_FACETS, type NumberView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { ChoiceWord } from '../../parts/chooser/choice-word';
import { Confirm } from '../../parts/confirm';
import { Facet } from '../../parts/facet';
import { CountPipe, MomentPipe, MoneyPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { List } from '../../parts/list/list';
import { SelectionBar } from '../../parts/list/selection-bar';
import { Spark } from '../../parts/spark';
import { SavedViews } from '../../parts/saved-views';
import { text } from '../../parts/form/controls';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { InventoryStore } from './inventory.store';
import { NumberDocket } from './number-docket';
import { NumbersTabs } from './numbers-tabs';

const NOTHING: readonly number[] = Array.from({ length: 30 }, () => 0);
const stopsAt = (n: NumberView): number => n.answers.findIndex((a) => a.result === 'stop' || a.result === 'hold');

/** Every number of the business, and whether it may send. */
@Component({
  selector: 'lg-inventory',
  imports: [
    Cell,
    ChoiceWord,
    Facet,
    List,
    SelectionBar,
    Table,
    MatInputModule,
    MatButtonModule,
    ReactiveFormsModule,
    NumbersTabs,
    SavedViews,
    Spark,
    RouterLink,
    GateStrip,
    NumberDocket,
    PhonePipe,
    MoneyPipe,
    MomentPipe,
    CountPipe,
  ],
  providers: [InventoryStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="numbers" [store]="store" searching="number, label or campaign">
      <ng-container actions>
        <a matButton="outlined" [href]="store.file()" download>Export</a>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="acquire">Get a number</a>
        }
      </ng-container>
      <lg-numbers-tabs tabs />
      <ng-container nothing>
        <h2>No numbers yet</h2>
        <p>
          A number is what people see when you text them. Search the exchange by area code; the cost is shown before
          anything is bought. A number people know already can come with you.
        </p>
        <a matButton="filled" routerLink="acquire">Get a number</a>
        <a matButton="outlined" routerLink="route">A number you have</a>
      </ng-container>
      <ng-container facets>
        @for (f of store.facets(); track f.key) {
          @if (f.values.length > 1 || f.chosen.length > 0 || f.key === 'ended') {
            @if (f.values.length > 0) {
              <lg-facet [label]="f.label" [values]="f.values" (picked)="store.toggle(f.key, $event)" />
            }
          }
        }
      </ng-container>
      @if (store.ofOrder(); as mine) {
        <p class="order">
          <span class="strong">{{ orderedBy(mine) }}</span> {{ orderWords(mine) }}
          <button type="button" matButton class="plain" (click)="store.set({ order: null })">show all numbers</button>
        </p>
      }
      <lg-saved-views area="numbers" [query]="store.query()" (chosen)="store.apply($event)" />
      <lg-selection-bar what="numbers" [store]="store">
        <mat-form-field
          ><input
            matInput
            aria-label="Label for the chosen numbers"
            placeholder="a label for them"
            maxlength="60"
            [formControl]="label"
        /></mat-form-field>
        <button
          type="button"
          matButton="outlined"
          [disabled]="store.acting.busy() || !label.value.trim()"
          (click)="bulkLabel()"
        >
          Label
        </button>
        <lg-choice-word
          label="Campaign for the chosen numbers"
          acts
          none="tie to a campaign…"
          [choices]="campaigns()"
          (picked)="bulkTie($event)"
        />
      </lg-selection-bar>
      <lg-table
        name="numbers"
        label="Numbers"
        [rows]="store.shown()"
        [columns]="columns"
        [key]="id"
        [called]="called"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        [picking]="store.session.isAdministrator()"
        [picked]="store.picked()"
        (pickedChange)="store.pick($event)"
      >
        <ng-template lgCell="number" [of]="store.shown()" let-n>
          <button type="button" matButton class="plain mono" (click)="store.choose(n.id); $event.stopPropagation()">
            {{ n.e164 | phone }}
          </button>
        </ng-template>
        <ng-template lgCell="label" [of]="store.shown()" let-n>
          <span class="strong">{{ n.label || '–' }}</span>
          @if (n.defaultFor.length > 0) {
            <span class="soft small"> default: {{ n.defaultFor.join(', ') }}</span>
          }
        </ng-template>
        <ng-template lgCell="came" [of]="store.shown()" let-n
          >{{ n.source }}{{ n.state === 'active' ? '' : ', ' + (n.state === 'failed' ? 'order failed' : n.state) }}
          {{ n.activeAt ?? n.orderedAt | moment: 'day' }}</ng-template
        >
        <ng-template lgCell="gate" [of]="store.shown()" let-n><lg-gate-strip [answers]="n.answers" /></ng-template>
        <ng-template lgCell="carried" [of]="store.shown()" let-n>
          <span class="carried">
            <lg-spark [values]="sentBy(n)" [label]="sumOf(n).toLocaleString('en-US') + ' texts in 30 days'" />
            {{ sumOf(n) | count }}
          </span>
        </ng-template>
        <ng-template lgCell="monthly" [of]="store.shown()" let-n>{{ n.monthly | money }}</ng-template>
        <ng-template lgCell="used" [of]="store.shown()" let-n>{{ n.lastUsedAt | moment: 'day' }}</ng-template>
        <ng-container none>
          @if (store.read()) {
            No number matches.
            <button type="button" matButton class="plain" (click)="store.clear()">Show all</button>
          } @else {
            Reading…
          }
        </ng-container>
        <ng-container foot
          >{{ store.shown().length | count }}{{ store.filtered() ? ' of ' + store.all().length : '' }} numbers,
          {{ monthly() | money }} monthly</ng-container
        >
      </lg-table>
      @if (store.chosen(); as n) {
        <lg-number-docket docket [number]="n" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .order {
      margin-bottom: 10px;
    }
    .carried {
      display: flex;
      gap: 8px;
      align-items: center;
    }
    lg-selection-bar .mat-mdc-form-field {
      width: 190px;
    }
  `,
})
export class Inventory {
  protected readonly store = inject(InventoryStore);
  private readonly confirm = inject(Confirm);
  protected readonly label = text();
  protected readonly id = (n: NumberView): string => n.id;
  protected readonly called = (n: NumberView): string => formatPhone(n.e164);
  protected readonly campaigns = computed(() => this.store.campaigns().map((c) => ({ value: c.id, label: c.name })));
  protected readonly columns: readonly Column<NumberView>[] = [
    { id: 'number', head: 'Number', width: 150, by: (n) => n.e164, face: 'mono' },
    { id: 'label', head: 'Label', least: 120, share: 1.3, by: (n) => n.label || null },
    { id: 'kind', head: 'Kind', width: 84, leaves: 5, by: (n) => n.kind, text: (n) => n.kind },
    { id: 'can', head: 'Can', width: 120, leaves: 1, text: (n) => n.capabilities.join(', '), face: 'soft' },
    { id: 'came', head: 'Came by', width: 158, leaves: 3, by: (n) => n.activeAt ?? n.orderedAt, face: 'soft' },
    { id: 'gate', head: 'May it send?', width: 108, by: (n) => stopsAt(n) },
    {
      id: 'campaign',
      head: 'Campaign',
      least: 130,
      leaves: 7,
      share: 1.6,
      by: (n) => n.campaignName,
      text: (n) => this.campaignOf(n),
      face: (n) => (n.state === 'released' ? 'soft' : (n.deciding?.result ?? '')),
    },
    { id: 'carried', head: 'Sent in 30 days', width: 150, leaves: 4, by: (n) => this.sumOf(n) },
    {
      id: 'throughput',
      head: 'Throughput',
      width: 104,
      right: true,
      leaves: 2,
      text: (n) => n.throughput || '–',
      face: 'soft',
    },
    { id: 'monthly', head: 'Monthly', width: 84, right: true, leaves: 6, by: (n) => n.monthly },
    { id: 'used', head: 'Last used', width: 100, leaves: 3, by: (n) => n.lastUsedAt, face: 'soft' },
  ];
  protected readonly monthly = computed(() =>
    this.store.shown().reduce((sum, n) => sum + (n.state === 'active' || n.state === 'paused' ? n.monthly : 0), 0),
  );

  protected sentBy(n: NumberView): readonly number[] {
    return this.store.sent().get(n.id) ?? NOTHING;
  }
  protected sumOf(n: NumberView): number {
    return this.sentBy(n).reduce((a, b) => a + b, 0);
  }

  /** Whose order it is: one's own, or a colleague's. */
  protected orderedBy([first]: readonly NumberView[]): string {
    const by = first?.orderedBy;
    return !by || by.id === this.store.session.session()?.user?.id ? 'Your order:' : `The order of ${by.name}:`;
  }
  protected orderWords(mine: readonly NumberView[]): string {
    const n = (state: string): number => mine.filter((x) => x.state === state).length;
    const parts = [
      `${n('active')} of ${mine.length} active`,
      ...(n('ordered') > 0 ? [`${n('ordered')} still being put into service`] : []),
      ...(n('failed') > 0 ? [`${n('failed')} failed and refunded`] : []),
    ];
    return `${parts.join(', ')}.`;
  }
  private campaignOf(n: NumberView): string {
    if (n.state === 'ordered') return 'provisioning…';
    if (n.state === 'failed' || n.state === 'released') return n.note;
    if (n.kind === 'sender ID') return n.nextStep.action === 'none' ? 'by country' : n.nextStep.title;
    if (n.kind === 'toll-free') return String(INVENTORY_FACETS.registration.of(n));
    if (!n.campaignName) return 'not tied yet';
    return n.deciding ? `${n.campaignName}: ${n.deciding.why}` : n.campaignName;
  }

  protected async bulkLabel(): Promise<void> {
    await this.store.bulk({ label: this.label.value.trim() });
    this.label.reset();
  }
  protected async bulkTie(campaignId: string | null): Promise<void> {
    const campaign = this.store.campaigns().find((c) => c.id === campaignId);
    const would = campaign && (await this.store.bulkPreview({ campaignId: campaign.id }));
    if (!campaign || !would) return;
    const skipped = would.skipped.map((s) => `${formatPhone(s.e164)}: ${s.why}`).join(' ');
    if (would.change === 0) {
      this.store.acting.refused(`None of them can be tied to ${campaign.name}. ${skipped}`);
      return;
    }
    const moved = would.interrupted.map((e) => formatPhone(e)).join(', ');
    const yes = await this.confirm.ask({
      title: `Tie ${would.change} ${would.change === 1 ? 'number' : 'numbers'} to ${campaign.name}?`,
      line: [
        'No cost now or monthly. The networks confirm in about a day; until then nothing is sent from them.',
        ...(moved ? [`Moved from another campaign, out of service for up to 72 hours: ${moved}.`] : []),
        ...(skipped ? [`Skipped: ${skipped}`] : []),
        would.undoable ? 'It can be undone.' : 'Moving back would take as long again.',
      ].join(' '),
      yes: 'Tie them',
    });
    if (yes) await this.store.bulk({ campaignId: campaign.id });
  }
}
