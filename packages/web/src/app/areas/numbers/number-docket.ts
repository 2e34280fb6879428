import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  resource,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import {
  editNumber,
  getDossier,
  tieNumber,
  type NumberView,
  numberCard,
  releaseNumber,
  setDefaultNumber,
  takeBackNumber,
  whatReleaseLoses,
} from '@long-gate/contracts';
import { formatPhone, postLabel, postNo, PURPOSES } from '@long-gate/core';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { Confirm } from '../../parts/confirm';
import { MomentPipe, MoneyPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { History } from '../../parts/history';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { NumberCalls } from './number-calls';
import { NumberGuard } from './number-guard';

/** One number: its next step, its gate, facts and history. */
@Component({
  selector: 'lg-number-docket',
  imports: [
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    RouterLink,
    GateStrip,
    History,
    PhonePipe,
    MoneyPipe,
    MomentPipe,
    NumberCalls,
    NumberGuard,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="kind">
      <span>Number</span><button type="button" matButton class="plain" (click)="closed.emit()">Close</button>
    </div>
    <h2 class="mono">{{ number().e164 | phone }}</h2>
    <p>{{ number().label }}</p>
    <div
      class="step"
      [class.pass]="number().nextStep.action === 'none'"
      [class.hold]="number().nextStep.action === 'wait'"
    >
      <span class="strong">{{ number().nextStep.title }}</span> {{ number().nextStep.why }}
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
          @case ('acquire') {
            <div>
              <a matButton="filled" [routerLink]="['/b', session.businessId(), 'numbers', 'acquire']"
                >Get another number</a
              >
            </div>
          }
        }
      }
    </div>
    <lg-gate-strip [answers]="number().answers" [large]="true" />
    <p class="small" [class]="number().deciding?.result ?? 'pass'">{{ gateWords() }}</p>
    <hr class="rule" />
    <dl class="facts">
      <dt>State</dt>
      <dd>{{ number().state }}</dd>
      <dt>Came by</dt>
      <dd>{{ number().source }}, {{ number().orderedAt | moment }}</dd>
      @if (number().activeAt) {
        <dt>Active since</dt>
        <dd>{{ number().activeAt | moment }}</dd>
      }
      <dt>Can</dt>
      <dd>{{ number().capabilities.join(', ') }}</dd>
      <dt>Campaign</dt>
      <dd>
        {{ number().campaignName ?? 'none' }}{{ number().tieState === 'attaching' ? ', networks confirming' : '' }}
        @if (number().campaignId && session.isAdministrator()) {
          <button type="button" matButton class="plain" (click)="untie()">take out…</button>
        }
      </dd>
      @if (number().throughput) {
        <dt>Throughput</dt>
        <dd>{{ number().throughput }}</dd>
      }
      <dt>Last used</dt>
      <dd>{{ number().lastUsedAt | moment }}</dd>
      <dt>Costs</dt>
      <dd>{{ number().monthly | money }} monthly</dd>
      @if (number().description) {
        <dt>For colleagues</dt>
        <dd>{{ number().description }}</dd>
      }
    </dl>
    @if (session.isAdministrator()) {
      @if (editing()) {
        <form (submit)="save(); $event.preventDefault()" class="edit">
          <div class="field">
            <label for="label">Label</label
            ><mat-form-field
              ><input
                matInput
                id="label"
                maxlength="60"
                [value]="label()"
                (input)="label.set($any($event.target).value)"
            /></mat-form-field>
          </div>
          <div class="field">
            <label for="description">What colleagues should know</label
            ><mat-form-field>
              <textarea
                matInput
                id="description"
                maxlength="300"
                [value]="description()"
                (input)="description.set($any($event.target).value)"
              ></textarea>
            </mat-form-field>
          </div>
          <button type="submit" matButton="filled" [disabled]="busy()">Save</button>
          <button type="button" matButton="outlined" (click)="editing.set(false)">Cancel</button>
        </form>
      } @else {
        <p>
          <button type="button" matButton class="plain" (click)="editing.set(true)">Edit label and description</button>
        </p>
      }
    }
    @if (number().state === 'active' && number().kind !== 'sender ID') {
      <h3>Contact card</h3>
      <p class="soft small">
        With name and picture, so that people recognise it. Put the address into a text, or download the card.
      </p>
      <p class="ends">
        <a matButton="outlined" [href]="card()" download>Download</a>
        <button type="button" matButton="outlined" (click)="copyCard()">Copy its address</button>
      </p>
    }
    @if (number().state === 'active' && number().kind !== 'sender ID' && number().source !== 'hosted') {
      @if (number().capabilities.includes('voice')) {
        <lg-number-calls [id]="number().id" />
      }
      <lg-number-guard [id]="number().id" />
    }
    @if (session.isAdministrator() && number().state === 'active') {
      <h3>Default for</h3>
      @for (p of purposes; track p) {
        <mat-checkbox
          class="check"
          [checked]="number().defaultFor.includes(p)"
          [disabled]="busy()"
          (change)="setDefault(p, $event.checked)"
          >{{ p }} texts</mat-checkbox
        >
      }
    }
    @if (session.isAdministrator()) {
      @if (number().releaseFinalAt; as until) {
        <p>
          <button type="button" matButton="filled" [disabled]="busy()" (click)="takeBack()">
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
    <lg-history kind="number" [object]="number().id" />
  `,
  styles: `
    h3 {
      margin: 14px 0 4px;
    }
    .ends {
      display: flex;
      gap: 8px;
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
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly purposes = PURPOSES;
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly editing = linkedSignal({ source: () => this.number().id, computation: () => false });
  protected readonly label = linkedSignal(() => this.number().label);
  protected readonly description = linkedSignal(() => this.number().description);
  private readonly dossier = resource({
    params: () => (this.number().nextStep.action === 'tie' ? this.session.businessId() : undefined),
    loader: ({ params }) => this.api.call(getDossier, { params: { businessId: params } }),
  });
  protected readonly candidates = computed(() =>
    (this.dossier.value()?.campaigns ?? []).filter((c) => c.state === 'registered'),
  );
  protected readonly gateWords = computed(() => {
    const d = this.number().deciding;
    return d
      ? `Post ${postNo('number-cleared')}, ${postLabel(postNo('number-cleared'))}: ${d.result}. ${d.why}. What lifts it: ${d.lift}.`
      : 'Country open and number cleared: pass.';
  });

  protected async tie(campaignId: string, name: string): Promise<void> {
    if (
      !(await this.confirm.ask({
        title: `Tie to ${name}?`,
        line: 'No cost now or monthly. The networks confirm in about a day; until then nothing is sent from this number. A number is in one campaign at a time.',
        yes: `Tie to ${name}`,
      }))
    )
      return;
    await this.act(
      () => this.api.call(tieNumber, { params: this.path(), body: { campaignId } }),
      `Tied to ${name}; the networks are confirming.`,
    );
  }

  protected async untie(): Promise<void> {
    if (
      !(await this.confirm.ask({
        title: 'Take the number out of its campaign?',
        line: 'No cost. From that moment nothing is sent from it; putting it back takes about a day.',
        yes: 'Take it out',
      }))
    )
      return;
    await this.act(
      () => this.api.call(tieNumber, { params: this.path(), body: { campaignId: null } }),
      'Taken out of its campaign.',
    );
  }

  protected async save(): Promise<void> {
    const ok = await this.act(
      () =>
        this.api.call(editNumber, {
          params: this.path(),
          version: this.number().version,
          body: { label: this.label(), description: this.description() },
        }),
      'Saved.',
    );
    if (ok) this.editing.set(false);
  }

  protected card(): string {
    return this.api.address(numberCard, { params: { id: this.number().id } });
  }
  protected async copyCard(): Promise<void> {
    await navigator.clipboard.writeText(location.origin + this.card());
    this.say.done('The address of the card is copied.');
  }

  protected async setDefault(purpose: (typeof PURPOSES)[number], on: boolean): Promise<void> {
    await this.act(
      () =>
        this.api.call(setDefaultNumber, {
          params: { businessId: this.session.businessId(), purpose },
          body: { numberId: on ? this.number().id : null },
        }),
      on ? `The default for ${purpose} texts.` : 'No default any more.',
    );
  }

  /** Asked twice: first what is lost, then whether that is meant. */
  protected async release(): Promise<void> {
    const n = this.number();
    const shown = formatPhone(n.e164);
    try {
      const lost = await this.api.call(whatReleaseLoses, { params: this.path() });
      const named = [...lost.dispatches.map((d) => `dispatch “${d}”`), ...lost.pages.map((p) => `opt-in page “${p}”`)];
      const first = await this.confirm.ask({
        title: `Release ${shown}?`,
        line: `${lost.contacts.toLocaleString('en-US')} contact numbers know it; consents stay with the business. ${named.length > 0 ? `What uses it stops: ${named.join(', ')}. ` : ''}After seven days it may go to somebody else, who then gets what people write to it.`,
        yes: 'Go on',
        no: 'Keep it',
      });
      if (!first) return;
      const second = await this.confirm.ask({
        title: `Really release ${shown}?`,
        line: `At once nothing is sent from it. It can be taken back for seven days, then it cannot be undone. The month that is paid is not refunded.`,
        yes: `Release ${shown}`,
        no: 'Keep it',
      });
      if (!second) return;
    } catch (error) {
      this.say.problem(error);
      return;
    }
    await this.act(() => this.api.call(releaseNumber, { params: this.path() }), `${shown} is released.`);
  }

  protected async takeBack(): Promise<void> {
    await this.act(() => this.api.call(takeBackNumber, { params: this.path() }), 'The number is back.');
  }

  private path(): { businessId: string; id: string } {
    return { businessId: this.session.businessId(), id: this.number().id };
  }

  private async act(work: () => Promise<unknown>, done: string): Promise<boolean> {
    return (await this.acting.run(work, done)) !== undefined;
  }
}
