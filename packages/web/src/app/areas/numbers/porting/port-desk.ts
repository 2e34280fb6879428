import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { beginPorts, listPorts, portCalendar, type PortView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Api, type ApiProblem } from '../../../api/api';
import { Facet } from '../../../parts/facet';
import { Confirm } from '../../../parts/confirm';
import { PageTitle } from '../../../parts/page-title';
import { Say } from '../../../parts/say';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { CalendarFeedStore } from './calendar-feed.store';
import { NumbersTabs } from '../numbers-tabs';
import { DayPipe, toneOf } from './port-words';

const SHOWN: Record<string, (p: PortView) => boolean> = {
  'under way': (p) => !['done', 'cancelled', 'returned'].includes(p.state),
  landed: (p) => p.state === 'done',
  closed: (p) => ['cancelled', 'returned'].includes(p.state),
};

/** Port requests: begun from pasted numbers, followed until they land. */
@Component({
  selector: 'lg-port-desk',
  imports: [Facet, MatInputModule, MatButtonModule, PageTitle, NumbersTabs, RouterLink, MatMenuModule, DayPipe],
  providers: [CalendarFeedStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="port desk" />
          @if (session.isAdministrator()) {
            <button
              type="button"
              matButton="filled"
              (click)="beginning.set(!beginning())"
              [attr.aria-expanded]="beginning()"
            >
              Bring numbers in
            </button>
          }
        </div>
        <lg-numbers-tabs />
        @if (beginning()) {
          <form class="plaque" (submit)="begin($event)">
            <div class="field" [class.wrong]="wrong()">
              <label for="numbers"
                >Numbers to bring in <span>paste them as they are, one a line or with commas between</span></label
              >
              <mat-form-field>
                <textarea
                  matInput
                  id="numbers"
                  class="mono"
                  rows="3"
                  [value]="numbers()"
                  (input)="numbers.set($any($event.target).value)"
                ></textarea>
              </mat-form-field>
              @if (wrong()) {
                <p class="error" role="alert">{{ wrong() }}</p>
              }
              @for (r of refused(); track r.raw) {
                <p class="error">
                  <span class="mono">{{ r.raw }}</span>: {{ r.why }}
                </p>
              }
            </div>
            <p class="soft small">
              Each is looked up and tested for whether it can come to us. A request goes to one losing carrier and one
              account, so they are grouped. This costs nothing; nobody is told anything yet.
            </p>
            <p class="ends">
              <button type="submit" matButton="filled" [disabled]="busy()">
                {{ busy() ? 'Testing…' : 'Test and begin' }}
              </button>
              <button type="button" matButton="outlined" (click)="beginning.set(false)">Cancel</button>
            </p>
          </form>
        }
        @if (ports.error()) {
          <div class="problem" role="alert">
            {{ ports.error()?.message }}
            <button type="button" matButton class="plain" (click)="ports.reload()">Try again</button>
          </div>
        } @else if (ports.hasValue() && all().length === 0) {
          <div class="empty">
            <h2>Nothing on its way</h2>
            <p>
              A number people already know can come with you: it leaves its old carrier and lands in your inventory. It
              takes from a day to some weeks, and the old service must stay on until it has landed.
            </p>
            @if (session.isAdministrator() && !beginning()) {
              <button type="button" matButton="filled" (click)="beginning.set(true)">Bring numbers in</button>
            }
          </div>
        } @else {
          <div class="facets tight" role="group" aria-label="Filter">
            <lg-facet label="Requests" [values]="facets()" (picked)="filter($event)" />
            <span class="grow"></span>
            <a [href]="calendarFile()" download>Dates as a calendar file</a>
            <button type="button" matButton class="plain" [matMenuTriggerFor]="feedMenu">Your calendar feed ▾</button>
            <mat-menu #feedMenu="matMenu">
              <button mat-menu-item type="button" (click)="copyFeed()">Copy its address</button>
              <button mat-menu-item type="button" (click)="renewFeed()">Make a new address…</button>
            </mat-menu>
          </div>
          <table class="ledger">
            <thead>
              <tr>
                <th>Numbers</th>
                <th>From</th>
                <th>State</th>
                <th>FOC date</th>
                <th>Next step</th>
              </tr>
            </thead>
            <tbody>
              @for (p of shown(); track p.id) {
                <tr class="go" (click)="open(p)">
                  <td class="mono">
                    <a [routerLink]="['/b', session.businessId(), 'numbers', 'ports', p.id]">{{ which(p) }}</a>
                  </td>
                  <td>{{ p.losingCarrier }}</td>
                  <td [class]="tone(p)">{{ p.state }}{{ p.late ? ', late' : '' }}</td>
                  <td>{{ p.focOn | day }}</td>
                  <td>
                    <span class="strong">{{ p.nextStep.title }}</span>&ngsp;<span class="soft">{{
                      p.nextStep.why
                    }}</span>
                  </td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="5" class="soft">
                    @if (ports.hasValue()) {
                      None here. <button type="button" matButton class="plain" (click)="filter('any')">Show all</button>
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
    </div>
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
    td:last-child {
      padding-block: 6px;
    }
  `,
})
export class PortDeskPage {
  readonly show = input<string>();
  /** Numbers to begin with, as another page knows them. */
  readonly bring = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly say = inject(Say);
  private readonly confirm = inject(Confirm);
  private readonly feed = inject(CalendarFeedStore);
  protected readonly session = inject(SessionFacade);
  protected readonly ports = liveResource(
    ['numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listPorts, { params: { businessId } }),
  );
  protected readonly all = computed(() => (this.ports.hasValue() ? (this.ports.value()?.items ?? []) : []));
  protected readonly facets = computed(() =>
    Object.entries({ any: () => true, ...SHOWN }).map(([value, test]) => ({
      value,
      n: this.all().filter(test).length,
      on: (this.show() ?? 'any') === value,
    })),
  );
  protected readonly shown = computed(() => this.all().filter(SHOWN[this.show() ?? ''] ?? ((): boolean => true)));
  protected readonly beginning = linkedSignal(() => this.bring() !== undefined);
  protected readonly numbers = linkedSignal(() => this.bring() ?? '');
  protected readonly refused = signal<{ raw: string; why: string }[]>([]);
  protected readonly wrong = signal('');
  protected readonly busy = signal(false);
  private key = crypto.randomUUID();

  protected readonly tone = (p: PortView): string => toneOf(p);
  protected which(p: PortView): string {
    const first = formatPhone(p.numbers[0]?.e164 ?? '');
    return p.numbers.length > 1 ? `${first} and ${p.numbers.length - 1} more` : first || 'no number';
  }
  protected open(p: PortView): void {
    void this.router.navigate(['/b', this.session.businessId(), 'numbers', 'ports', p.id]);
  }
  protected filter(key: string): void {
    void this.router.navigate([], { queryParams: { show: key === 'any' ? null : key }, queryParamsHandling: 'merge' });
  }
  protected calendarFile(): string {
    return this.api.address(portCalendar, { params: { businessId: this.session.businessId() } });
  }
  protected async copyFeed(): Promise<void> {
    const path = this.ports.value()?.calendarPath;
    if (!path) return;
    await navigator.clipboard.writeText(location.origin + path);
    this.say.done('The address is copied. Whoever has it can read the dates.');
  }
  protected async renewFeed(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Make a new address for your calendar feed?',
      line: 'No cost. The present address ends at once; calendar programs that have it need the new one.',
      yes: 'Make a new one',
    });
    if (!yes) return;
    if (await this.feed.renew()) {
      this.ports.reload();
      this.say.done('Your feed has a new address.');
    }
  }

  protected async begin(event: Event): Promise<void> {
    event.preventDefault();
    this.wrong.set(this.numbers().trim() === '' ? 'Write at least one number.' : '');
    if (this.wrong()) return;
    this.busy.set(true);
    try {
      const made = await this.api.call(beginPorts, {
        params: { businessId: this.session.businessId() },
        body: { numbers: this.numbers() },
        key: this.key,
      });
      this.key = crypto.randomUUID();
      this.refused.set(made.refused);
      // What was refused stays to be mended; what was begun leaves the field.
      this.numbers.set(made.refused.map((r) => r.raw).join('\n'));
      const [only, ...more] = made.ports;
      if (only && more.length === 0 && made.refused.length === 0) this.open(only);
      else if (only) {
        this.ports.reload();
        this.say.done(
          `${made.ports.length} ${more.length === 0 ? 'request' : 'requests'} begun, one for each losing carrier.`,
        );
      }
    } catch (error) {
      this.wrong.set((error as ApiProblem).message);
    } finally {
      this.busy.set(false);
    }
  }
}
