import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { beginPorts, type PortView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { Facet } from '../../../parts/facet';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { List } from '../../../parts/list/list';
import { Icon } from '../../../parts/icon';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { NumbersTabs } from '../numbers-tabs';
import { DeadlineLine } from './deadline-line';
import { PortDeskStore } from './port-desk.store';
import { DayPipe, toneOf } from './port-words';

/** Port requests: begun from pasted numbers, followed until they land. */
@Component({
  selector: 'lg-port-desk',
  imports: [
    Cell,
    DeadlineLine,
    Facet,
    Icon,
    Faults,
    Form,
    List,
    Table,
    TextField,
    MatButtonModule,
    NumbersTabs,
    RouterLink,
    MatMenuModule,
    DayPipe,
  ],
  providers: [PortDeskStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="port desk" [store]="store">
      <ng-container actions>
        @if (store.session.isAdministrator()) {
          <button
            type="button"
            matButton="filled"
            (click)="beginning.set(!beginning())"
            [attr.aria-expanded]="beginning()"
          >
            Bring numbers in
          </button>
        }
      </ng-container>
      <lg-numbers-tabs tabs />
      @if (beginning()) {
        <form above class="plaque" [lgForm]="form" (sent)="begin()">
          <lg-text-field
            [control]="form.controls.numbers"
            label="Numbers to bring in"
            hint="paste them as they are, one a line or with commas between"
            name="numbers"
            [lines]="3"
            mono
          />
          @for (r of remarks(); track r.raw) {
            <p class="hold">
              <span class="mono">{{ r.raw }}</span>: {{ r.why }}
            </p>
          }
          @for (r of refused(); track r.raw) {
            <p class="error">
              <span class="mono">{{ r.raw }}</span>: {{ r.why }}
            </p>
          }
          <p class="soft small">
            Each is looked up and tested for whether it can come to us. A request goes to one losing carrier and one
            account, so they are grouped. This costs nothing; nobody is told anything yet.
          </p>
          <lg-faults [form]="form" />
          <p class="ends">
            <button type="submit" matButton="filled" [disabled]="form.busy()">
              {{ form.busy() ? 'Testing…' : 'Test and begin' }}
            </button>
            <button type="button" matButton="outlined" (click)="beginning.set(false)">Cancel</button>
          </p>
        </form>
      }
      <ng-container nothing>
        <h2>Nothing on its way</h2>
        <p>
          A number people already know can come with you: it leaves its old carrier and lands in your inventory. It
          takes from a day to some weeks, and the old service must stay on until it has landed.
        </p>
        @if (store.session.isAdministrator() && !beginning()) {
          <button type="button" matButton="filled" (click)="beginning.set(true)">Bring numbers in</button>
        }
      </ng-container>
      <ng-container facets>
        <lg-facet
          label="Requests"
          [values]="store.shows()"
          (picked)="store.set({ show: $event === 'any' ? null : $event })"
        />
        <span class="grow"></span>
        <a [href]="store.calendarFile()" download>Dates as a calendar file</a>
        <button type="button" matButton class="plain" [matMenuTriggerFor]="feedMenu">
          Your calendar feed <lg-icon sign="down" />
        </button>
        <mat-menu #feedMenu="matMenu">
          <button mat-menu-item type="button" (click)="copyFeed()">Copy its address</button>
          <button mat-menu-item type="button" (click)="renewFeed()">Make a new address…</button>
        </mat-menu>
      </ng-container>
      <lg-deadline-line [ports]="store.all()" (opened)="go($event)" />
      <lg-table
        name="ports"
        label="Port requests"
        [rows]="store.shown()"
        [columns]="columns"
        [key]="id"
        opening
        (opened)="go($event)"
      >
        <ng-template lgCell="numbers" [of]="store.shown()" let-p>
          <a
            [routerLink]="['/b', store.session.businessId(), 'numbers', 'ports', p.id]"
            (click)="$event.stopPropagation()"
            >{{ which(p) }}</a
          >
        </ng-template>
        <ng-template lgCell="foc" [of]="store.shown()" let-p>{{ p.focOn | day }}</ng-template>
        <ng-template lgCell="next" [of]="store.shown()" let-p>
          <span class="strong">{{ p.nextStep.title }}</span>&ngsp;<span class="soft">{{ p.nextStep.why }}</span>
        </ng-template>
        <ng-container none>
          @if (store.read()) {
            None here.
            <button type="button" matButton class="plain" (click)="store.clear()">Show all</button>
          } @else {
            Reading…
          }
        </ng-container>
      </lg-table>
    </lg-list>
  `,
  styles: `
    .plaque {
      max-width: 640px;
      margin-bottom: 18px;
    }
    .ends {
      display: flex;
      gap: 8px;
      margin-top: 12px;
    }
  `,
})
export class PortDeskPage {
  protected readonly store = inject(PortDeskStore);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  protected readonly id = (p: PortView): string => p.id;
  protected readonly columns: readonly Column<PortView>[] = [
    { id: 'numbers', head: 'Numbers', width: 250, by: (p) => p.numbers[0]?.e164 ?? null, face: 'mono' },
    { id: 'from', head: 'From', least: 120, by: (p) => p.losingCarrier, text: (p) => p.losingCarrier },
    {
      id: 'state',
      head: 'State',
      width: 130,
      by: (p) => p.state,
      text: (p) => `${p.state}${p.late ? ', late' : ''}`,
      face: toneOf,
    },
    { id: 'foc', head: 'FOC date', width: 140, by: (p) => p.focOn || null },
    { id: 'next', head: 'Next step', least: 220, share: 3 },
  ];
  protected readonly form = new CheckedForm({ numbers: text(this.store.address().bring ?? '') }, beginPorts.body);
  protected readonly beginning = linkedSignal({
    source: computed(() => this.store.address().bring),
    computation: (bring) => bring !== undefined,
  });
  protected readonly refused = signal<{ raw: string; why: string }[]>([]);
  protected readonly remarks = signal<{ raw: string; why: string }[]>([]);

  protected which(p: PortView): string {
    const first = formatPhone(p.numbers[0]?.e164 ?? '');
    return p.numbers.length > 1 ? `${first} and ${p.numbers.length - 1} more` : first || 'no number';
  }
  protected go(id: string): void {
    void this.router.navigate(['/b', this.store.session.businessId(), 'numbers', 'ports', id]);
  }
  protected async copyFeed(): Promise<void> {
    if (!this.store.feed()) return;
    await navigator.clipboard.writeText(this.store.feed());
    this.store.acting.done('The address is copied. Whoever has it can read the dates.');
  }
  protected async renewFeed(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Make a new address for your calendar feed?',
      line: 'No cost. The present address ends at once; calendar programs that have it need the new one.',
      yes: 'Make a new one',
    });
    if (yes) await this.store.renewFeed();
  }

  protected async begin(): Promise<void> {
    const made = await this.form.send((body) => this.store.begin(body.numbers));
    if (!made) return;
    this.refused.set(made.refused);
    this.remarks.set(made.remarks);
    // What was refused stays to be mended; what was begun leaves the field.
    this.form.controls.numbers.reset(made.refused.map((r) => r.raw).join('\n'));
    const [only, ...more] = made.ports;
    if (only && more.length === 0 && made.refused.length === 0 && made.remarks.length === 0) this.go(only.id);
    else if (only)
      this.store.acting.done(
        `${made.ports.length} ${more.length === 0 ? 'request' : 'requests'} begun, one for each losing carrier.`,
      );
  }
}
