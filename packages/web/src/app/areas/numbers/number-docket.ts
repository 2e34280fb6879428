import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { editNumber, type NumberView } from '@long-gate/contracts';
import { formatPhone, postLabel, postNo, PURPOSES } from '@long-gate/core';
import { base64Of } from '../../parts/base64-of';
import { Confirm } from '../../parts/confirm';
import { Docket } from '../../parts/docket/docket';
import { FileButton } from '../../parts/file-button';
import { CheckedForm } from '../../parts/form/checked-form';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { MomentPipe, MoneyPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { NumberCalls } from './number-calls';
import { NumberGuard } from './number-guard';
import { NumberStore } from './number.store';
import { text } from '../../parts/form/controls';

/** One number: its next step, its gate, facts and history. */
@Component({
  selector: 'lg-number-docket',
  imports: [
    Docket,
    Faults,
    Form,
    TextField,
    FileButton,
    MatCheckboxModule,
    MatButtonModule,
    RouterLink,
    GateStrip,
    PhonePipe,
    MoneyPipe,
    MomentPipe,
    NumberCalls,
    NumberGuard,
  ],
  providers: [NumberStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket
      kind="Number"
      [name]="number().e164 | phone"
      mono
      [next]="next()"
      history="number"
      [object]="number().id"
      (closed)="closed.emit()"
    >
      <p name>{{ number().label }}</p>
      <ng-container step>
        @if (session.isAdministrator()) {
          @switch (number().nextStep.action) {
            @case ('tie') {
              @for (c of candidates(); track c.id; let first = $first) {
                <div>
                  <button
                    type="button"
                    [matButton]="first ? 'filled' : 'outlined'"
                    [disabled]="busy()"
                    (click)="tie(c.id, c.name)"
                  >
                    Tie to {{ c.name }}
                  </button>
                </div>
              } @empty {
                <div>
                  <a matButton="outlined" [routerLink]="['/b', session.businessId(), 'registration']"
                    >Register a campaign first</a
                  >
                </div>
              }
              <p class="soft small">No cost. Confirmed by the networks in about a day.</p>
            }
            @case ('register') {
              <div>
                <a
                  matButton="filled"
                  [routerLink]="['/b', session.businessId(), 'registration', 'campaigns', number().campaignId]"
                  >Mend the campaign</a
                >
              </div>
            }
            @case ('verify') {
              <div>
                <a
                  matButton="filled"
                  [routerLink]="['/b', session.businessId(), 'registration', 'toll-free', number().id]"
                  >To its verification</a
                >
              </div>
            }
            @case ('account') {
              <div>
                <a matButton="filled" [routerLink]="['/b', session.businessId(), 'settings', 'business']"
                  >To the account</a
                >
              </div>
            }
            @case ('sender') {
              <div>
                <a
                  matButton="filled"
                  [routerLink]="['/b', session.businessId(), 'numbers', 'senders']"
                  [queryParams]="{ open: number().id }"
                  >To the sender ID</a
                >
              </div>
            }
            @case ('bring') {
              <div>
                <a
                  matButton="outlined"
                  [routerLink]="['/b', session.businessId(), 'numbers', 'ports']"
                  [queryParams]="{ bring: number().e164 }"
                  >Prepare a port-in</a
                >
              </div>
            }
            @case ('buy') {
              <div>
                <a
                  matButton="outlined"
                  [routerLink]="['/b', session.businessId(), 'numbers', 'acquire']"
                  [queryParams]="{ where: number().e164.slice(2, 5), digits: number().e164.slice(-4) }"
                  >Look for it at the exchange</a
                >
              </div>
            }
            @case ('host') {
              <div>
                <a
                  matButton="outlined"
                  [routerLink]="['/b', session.businessId(), 'numbers', 'hosted']"
                  [queryParams]="{ e164: number().e164 }"
                  >Set texting up again</a
                >
              </div>
            }
            @case ('acquire') {
              <div>
                <a matButton="filled" [routerLink]="['/b', session.businessId(), 'numbers', 'acquire']"
                  >Get another number</a
                >
              </div>
            }
          }
        }
      </ng-container>
      <lg-gate-strip [answers]="number().answers" [large]="true" />
      <p class="small" [class]="number().deciding?.result ?? 'pass'">{{ gateWords() }}</p>
      <hr class="rule" />
      <dl class="facts">
        <dt>State</dt>
        <dd>
          {{ number().ended || number().state }}
          @if (number().endedAt && number().state === 'released') {
            {{ number().endedAt | moment }}
          }
        </dd>
        <dt>Came by</dt>
        <dd>{{ number().source }}, {{ number().orderedAt | moment }}</dd>
        @if (number().activeAt) {
          <dt>Active since</dt>
          <dd>{{ number().activeAt | moment }}</dd>
        }
        <dt>Can</dt>
        <dd>{{ number().capabilities.join(', ') }}</dd>
        @if (number().source === 'hosted') {
          <dt>Voice</dt>
          <dd>
            Stays with its carrier and is never touched. Texting ends when it is taken off in Hosted numbers, when the
            voice service moves, or when another provider texts for the line.
          </dd>
        }
        @if (number().kind === 'toll-free') {
          <dt>Verification</dt>
          <dd>
            <a [routerLink]="['/b', session.businessId(), 'registration', 'toll-free', number().id]">{{
              number().clearance === 'cleared' ? 'verified' : 'not done'
            }}</a>
          </dd>
        } @else {
          <dt>Campaign</dt>
          <dd>
            {{ number().campaignName ?? 'none' }}{{ number().tieState === 'attaching' ? ', networks confirming' : '' }}
            @if (number().campaignId && session.isAdministrator()) {
              <button type="button" matButton class="plain" (click)="untie()">take out…</button>
            }
          </dd>
        }
        @if (number().throughput) {
          <dt>Throughput</dt>
          <dd>{{ number().throughput }}</dd>
        }
        <dt>Last used</dt>
        <dd>{{ number().lastUsedAt | moment }}</dd>
        <dt>Costs</dt>
        <dd>{{ number().monthly | money }} monthly</dd>
        @if (number().programme; as code) {
          <dt>Leased for</dt>
          <dd>{{ code.name }}: {{ code.what }}</dd>
        }
        @if (number().description) {
          <dt>For colleagues</dt>
          <dd>{{ number().description }}</dd>
        }
      </dl>
      @if (session.isAdministrator()) {
        @if (editing()) {
          <form [lgForm]="form" (sent)="save()" class="edit">
            <lg-text-field
              [control]="form.controls.label"
              label="Label"
              hint="for colleagues"
              name="label"
              [most]="60"
            />
            <lg-text-field
              [control]="form.controls.description"
              label="What colleagues should know"
              name="description"
              [lines]="3"
              [most]="300"
            />
            @if (number().kind !== 'sender ID') {
              <lg-text-field
                [control]="form.controls.cardName"
                label="Name on the public card"
                [hint]="'empty: ' + (session.business()?.nameLine ?? '')"
                name="cardName"
                [most]="60"
              />
            }
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy()">Save</button>
            <button type="button" matButton="outlined" (click)="editing.set(false)">Cancel</button>
          </form>
        } @else {
          <p>
            <button type="button" matButton class="plain" (click)="edit()">
              Edit label, description and card name
            </button>
          </p>
        }
      }
      @if (number().state === 'active' && number().kind !== 'sender ID') {
        <h3>Contact card</h3>
        <p class="soft small">
          With name and picture, so that people recognise it. Put the address into a text, or download the card.
        </p>
        <div class="card">
          <img [src]="store.picture()" width="48" height="48" alt="The picture on the card" />
          <div>
            <div class="strong">{{ number().cardName || session.business()?.nameLine }}</div>
            <div class="mono small">{{ number().e164 | phone }}</div>
          </div>
        </div>
        <p class="ends">
          <a matButton="outlined" [href]="store.card()" download>Download</a>
          <button type="button" matButton="outlined" (click)="copyCard()">Copy its address</button>
        </p>
        @if (session.isAdministrator()) {
          <p class="ends">
            <lg-file-button accept="image/png,image/jpeg" [disabled]="busy()" (chosen)="putPicture($event)">{{
              number().cardPicture ? 'Another picture…' : 'A picture of your own…'
            }}</lg-file-button>
            @if (number().cardPicture) {
              <button type="button" matButton class="plain" [disabled]="busy()" (click)="store.setPicture(null)">
                Take the picture off
              </button>
            }
          </p>
        }
      }
      @if (number().state === 'active' && number().kind !== 'sender ID' && number().source !== 'hosted') {
        @if (number().capabilities.includes('voice')) {
          <lg-number-calls [id]="number().id" />
        }
        @if (number().kind !== 'short code') {
          <lg-number-guard [id]="number().id" />
        }
      }
      @if (session.isAdministrator() && number().state === 'active') {
        <h3>Default for</h3>
        @for (p of purposes; track p) {
          <mat-checkbox
            class="check"
            [checked]="number().defaultFor.includes(p)"
            [disabled]="busy()"
            (change)="store.setDefault(p, $event.checked)"
            >{{ p }} texts</mat-checkbox
          >
        }
      }
      @if (session.isAdministrator()) {
        @if (number().releaseFinalAt; as until) {
          <p>
            <button type="button" matButton="filled" [disabled]="busy()" (click)="store.takeBack()">
              Take the release back
            </button>
            <span class="soft small"> possible until {{ until | moment }}</span>
          </p>
        } @else if (
          (number().state === 'active' || number().state === 'paused') &&
          number().source !== 'hosted' &&
          number().kind !== 'sender ID'
        ) {
          <p class="ends">
            <button type="button" matButton="outlined" class="danger" [disabled]="busy()" (click)="release()">
              Release the number…
            </button>
          </p>
        }
      }
    </lg-docket>
  `,
  styles: `
    h3 {
      margin: 14px 0 4px;
    }
    .ends {
      display: flex;
      gap: 8px;
    }
    .card {
      display: flex;
      gap: 10px;
      align-items: center;
      margin: 6px 0;
    }
    .edit {
      margin-top: 14px;
    }
    p {
      margin-top: 6px;
    }
    .step div {
      margin-top: 4px;
    }
  `,
})
export class NumberDocket {
  readonly number = input.required<NumberView>();
  readonly closed = output();
  protected readonly store = inject(NumberStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly purposes = PURPOSES;
  protected readonly busy = this.store.acting.busy;
  protected readonly candidates = this.store.candidates;
  protected readonly editing = linkedSignal({ source: computed(() => this.number().id), computation: () => false });
  protected readonly form = new CheckedForm(
    {
      label: text(),
      description: text(),
      cardName: text(),
    },
    editNumber.body,
  );
  protected readonly next = computed(() => {
    const { title, why, action } = this.number().nextStep;
    return {
      title,
      why,
      tone:
        action === 'none' && this.number().ended === ''
          ? ('pass' as const)
          : action === 'wait' || action === 'calls' || this.number().state === 'released'
            ? ('hold' as const)
            : ('stop' as const),
    };
  });
  protected readonly gateWords = computed(() => {
    const d = this.number().deciding;
    return d
      ? `Post ${postNo('number-cleared')}, ${postLabel(postNo('number-cleared'))}: ${d.result}. ${d.why}. What lifts it: ${d.lift}.`
      : 'Country open and number cleared: pass.';
  });

  constructor() {
    this.store.about(this.number);
  }

  protected async tie(campaignId: string, name: string): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Tie to ${name}?`,
      line: 'No cost now or monthly. The networks confirm in about a day; until then nothing is sent from this number. A number is in one campaign at a time.',
      yes: `Tie to ${name}`,
    });
    if (yes) await this.store.tie(campaignId, `Tied to ${name}; the networks are confirming.`);
  }

  protected async untie(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Take the number out of its campaign?',
      line: 'No cost. From that moment nothing is sent from it; putting it back takes about a day.',
      yes: 'Take it out',
    });
    if (yes) await this.store.tie(null, 'Taken out of its campaign.');
  }

  protected edit(): void {
    const { label, description, cardName } = this.number();
    this.form.group.reset({ label, description, cardName });
    this.editing.set(true);
  }
  protected async save(): Promise<void> {
    if (await this.form.send((body) => this.store.save(body))) {
      this.store.acting.done('Saved.');
      this.editing.set(false);
    }
  }

  protected async putPicture(file: File): Promise<void> {
    await this.store.setPicture({ name: file.name, base64: await base64Of(file) });
  }

  protected async copyCard(): Promise<void> {
    await navigator.clipboard.writeText(location.origin + this.store.card());
    this.store.acting.done('The address of the card is copied.');
  }

  /** What is lost is named, and the last digits are written: a slip of the hand gives no number up. */
  protected async release(): Promise<void> {
    const { e164, kind } = this.number();
    const shown = formatPhone(e164);
    const lost = await this.store.losses();
    if (!lost) return;
    const named = [
      ...lost.dispatches.map((d) => `dispatch “${d}”`),
      ...lost.pages.map((p) => `opt-in page “${p}”`),
      ...lost.keywords.map((k) => `keyword “${k}”`),
    ];
    const digits = e164.slice(-4);
    const sure = await this.confirm.ask({
      title: `Release ${shown}?`,
      line: `${lost.contacts.toLocaleString('en-US')} contact numbers know it; consents stay with the business. ${named.length > 0 ? `What uses it stops: ${named.join(', ')}. ` : ''}At once nothing is sent from it. It can be taken back for seven days; then it may go to somebody else, who gets what people write to it, and that cannot be undone. The month that is paid is not refunded.`,
      yes: kind === 'short code' ? 'Give it up' : `Release ${shown}`,
      no: 'Keep it',
      written: { label: 'Its last four digits', is: digits },
    });
    if (sure) await this.store.release(digits);
  }
}
