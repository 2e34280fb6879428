import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  resource,
  signal,
} from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { testForRoute } from '@long-gate/contracts';
import { chooseRoute, type Route, type RouteQuestion } from '@long-gate/core';
import { Api } from '../../../api/api';
import { MoneyPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { checkWith } from '../../../parts/schema-form';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';

const KIND = { wireless: 'mobile', landline: 'landline', 'toll-free': 'toll-free number' } as const;

/** What to do with a number one has already: the ways side by side, the one to take first. */
@Component({
  selector: 'lg-route-chooser',
  imports: [MatInputModule, MatButtonModule, PageTitle, NumbersTabs, MoneyPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="numbers:" of="a number you have" /></div>
        <lg-numbers-tabs />
        <form class="ask" (submit)="test($event)">
          <div class="field" [class.wrong]="wrong()">
            <label for="number">The number <span>it is looked up; nobody is told</span></label>
            <div class="line">
              <mat-form-field
                ><input
                  matInput
                  id="number"
                  class="mono"
                  inputmode="tel"
                  autocomplete="off"
                  [value]="typed()"
                  (input)="typed.set($any($event.target).value)" /></mat-form-field
              ><button type="submit" matButton="filled">Look it up</button>
            </div>
            @if (wrong()) {
              <p class="error" role="alert">{{ wrong() }}</p>
            }
          </div>
        </form>
        @if (found.isLoading()) {
          <p class="soft">Looking it up…</p>
        } @else if (found.error()) {
          <div class="problem" role="alert">{{ found.error()?.message }}</div>
        } @else if (found.value(); as f) {
          <p class="sentence">
            <span class="mono strong">{{ f.e164 | phone }}</span> is a {{ kind[f.kind] }} with
            {{ f.carrier || 'a carrier we do not know' }}. Its calls
            <mat-form-field
              ><select matNativeControl aria-label="Calls" (change)="set({ stays: $any($event.target).value })">
                <option value="move" [selected]="stays() !== 'stay'">may move here</option>
                <option value="stay" [selected]="stays() === 'stay'">must stay where they are</option>
              </select></mat-form-field
            >, people
            <mat-form-field
              ><select matNativeControl aria-label="Known" (change)="set({ known: $any($event.target).value })">
                <option value="yes" [selected]="known() !== 'no'">know it and write to it</option>
                <option value="no" [selected]="known() === 'no'">hardly know it</option>
              </select></mat-form-field
            >, and texts are needed within
            <mat-form-field
              ><select
                matNativeControl
                aria-label="Needed within"
                (change)="set({ within: $any($event.target).value })"
              >
                @for (w of ['days', 'weeks', 'months']; track w) {
                  <option [value]="w" [selected]="(within() ?? 'weeks') === w">{{ w }}</option>
                }
              </select></mat-form-field
            >.
          </p>
          <table class="ledger">
            <thead>
              <tr>
                <th>Way</th>
                <th>What happens</th>
                <th>Time</th>
                <th class="right">Once</th>
                <th class="right">Monthly</th>
                <th>Risk</th>
                <th>People see</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              @for (r of routes(); track r.way; let first = $first) {
                <tr [class.chosen]="first" [class.closed]="!r.possible">
                  <td>
                    <span class="strong">{{ words[r.way] }}</span>
                    @if (first) {
                      <div class="pass small">the way to take</div>
                    }
                  </td>
                  <td [class.stop]="!r.possible">{{ r.why }}</td>
                  <td>{{ r.possible ? r.time : '–' }}</td>
                  <td class="right">{{ r.once | money }}</td>
                  <td class="right">{{ r.monthly | money }}</td>
                  <td class="soft">{{ r.risk }}</td>
                  <td>{{ r.seen }}</td>
                  <td class="right">
                    @if (r.possible && session.isAdministrator()) {
                      <button type="button" [matButton]="first ? 'filled' : 'outlined'" (click)="start(r)">
                        {{ starts[r.way] }}
                      </button>
                    }
                  </td>
                </tr>
              }
            </tbody>
          </table>
        } @else {
          <p class="soft intro">
            People trust the number they know. It can come here, get texting where it is, or stay while a new one texts:
            the ways are laid side by side with time, cost, risk and what people will see.
          </p>
        }
      </div>
    </div>
  `,
  styles: `
    .ask {
      max-width: 420px;
    }
    .line {
      display: flex;
      gap: 8px;
    }
    .sentence {
      max-width: 900px;
      line-height: 2.2;
      margin-bottom: 10px;
    }
    td {
      padding-block: 8px;
      vertical-align: top;
    }
    .closed td:not(:nth-child(2)) {
      color: var(--ink-soft);
    }
    .intro {
      max-width: 640px;
    }
  `,
})
export class RouteChooser {
  readonly number = input<string>();
  readonly stays = input<string>();
  readonly known = input<string>();
  readonly within = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  protected readonly kind = KIND;
  protected readonly words = {
    'port in': 'Port in',
    'text-enable': 'Text-enable where it is',
    'new number': 'Take a new number',
    'forward only': 'Forward only',
  } as const;
  protected readonly starts = {
    'port in': 'Begin the port',
    'text-enable': 'Begin the set-up',
    'new number': 'Choose a number',
    'forward only': 'Choose a number',
  } as const;
  protected readonly typed = linkedSignal(() => this.number() ?? '');
  protected readonly wrong = signal('');
  protected readonly found = resource({
    params: () =>
      this.number() && this.session.businessId()
        ? { number: this.number() as string, businessId: this.session.businessId() }
        : undefined,
    loader: ({ params }) =>
      this.api.call(testForRoute, { params: { businessId: params.businessId }, query: { number: params.number } }),
  });
  protected readonly routes = computed((): Route[] => {
    const f = this.found.hasValue() ? this.found.value() : undefined;
    if (!f) return [];
    return chooseRoute({
      ...f,
      voiceStays: this.stays() === 'stay',
      wellKnown: this.known() !== 'no',
      neededWithin: (this.within() ?? 'weeks') as RouteQuestion['neededWithin'],
    });
  });

  protected test(event: Event): void {
    event.preventDefault();
    const wrong = checkWith(testForRoute.query, { number: this.typed() });
    this.wrong.set(wrong['number'] ?? '');
    if (!this.wrong()) this.set({ number: this.typed() });
  }

  /** What is asked stands in the address, so that the answer can be shared. */
  protected set(query: Record<string, string>): void {
    void this.router.navigate([], { queryParams: query, queryParamsHandling: 'merge' });
  }

  protected start(r: Route): void {
    const e164 = this.found.value()?.e164 ?? '';
    const to = ['/b', this.session.businessId(), 'numbers'];
    if (r.way === 'port in') void this.router.navigate([...to, 'ports'], { queryParams: { bring: e164 } });
    else if (r.way === 'text-enable') void this.router.navigate([...to, 'hosted'], { queryParams: { e164 } });
    else void this.router.navigate([...to, 'acquire'], { queryParams: { where: e164.slice(2, 5) } });
  }
}
