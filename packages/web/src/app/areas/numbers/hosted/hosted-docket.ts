import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import {
  callHosted,
  confirmHosted,
  endHosted,
  getDossier,
  hostedLink,
  saveHosted,
  submitHosted,
  type HostedView,
} from '@long-gate/contracts';
import { formatAmount, formatPhone } from '@long-gate/core';
import { Api } from '../../../api/api';
import { Acting } from '../../../parts/acting';
import { Confirm } from '../../../parts/confirm';
import { Findings, numbered } from '../../../parts/findings';
import { MomentPipe, MoneyPipe, PhonePipe } from '../../../parts/format';
import { History } from '../../../parts/history';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';

const FIELDS = [
  ['holderName', 'Holder’s name'],
  ['authorisedName', 'Who signs'],
  ['street', 'Street of the line'],
  ['city', 'City'],
  ['state', 'State'],
  ['postalCode', 'ZIP code'],
  ['label', 'Label here'],
] as const;

/** One hosted set-up, step by step: holder, letter, call, submission; and taking texting off again. */
@Component({
  selector: 'lg-hosted-docket',
  imports: [MatInputModule, MatButtonModule, RouterLink, Findings, History, MomentPipe, MoneyPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="kind">
      <span>Hosted number</span><button type="button" matButton class="plain" (click)="closed.emit()">Close</button>
    </div>
    <h2 class="mono">{{ hosted().e164 | phone }}</h2>
    <p>Set-up: {{ hosted().state }}; voice stays with {{ hosted().voiceCarrier || 'its carrier' }}</p>
    <div
      class="step"
      [class.pass]="hosted().state === 'on'"
      [class.hold]="hosted().state === 'submitted' || hosted().state === 'draft'"
    >
      <span class="strong">{{ hosted().nextStep.title }}</span> {{ hosted().nextStep.why }}
    </div>
    <lg-findings [findings]="findings()" field="e164" sayer="The provider" [answers]="hosted().reasons" />
    @if (editable()) {
      <h3>1 The holder, as the voice carrier has it</h3>
      <form (submit)="$event.preventDefault()">
        @for (f of fields; track f[0]) {
          <div class="field" [class.wrong]="has(f[0])">
            <label [for]="'h-' + f[0]">{{ f[1] }}</label><mat-form-field
              ><input
                matInput
                [id]="'h-' + f[0]"
                [value]="facts()[f[0]]"
                (input)="write(f[0], $any($event.target).value)"
                (change)="save()"
            /></mat-form-field>
            <lg-findings [findings]="findings()" [field]="f[0]" sayer="The provider" [answers]="hosted().reasons" />
          </div>
        }
        <div class="field">
          <label for="h-campaign">Campaign, filed when it is on</label>
          <mat-form-field
            ><select
              matNativeControl
              id="h-campaign"
              (change)="write('campaignId', $any($event.target).value || null); save()"
            >
              <option value="" [selected]="facts().campaignId === null">none yet</option>
              @for (c of campaigns(); track c.id) {
                <option [value]="c.id" [selected]="facts().campaignId === c.id">
                  {{ c.name }}{{ c.state === 'registered' ? '' : ' (' + c.state + ')' }}
                </option>
              }
            </select></mat-form-field
          >
        </div>
      </form>
      <h3>2 Letter</h3>
      @if (hosted().letter.signedBy) {
        <p>
          <span class="pass strong">Signed</span> by {{ hosted().letter.signedBy }}, {{ hosted().letter.signedOn }}.
        </p>
      } @else if (hosted().letter.linkExpiresAt; as until) {
        <p class="hold">A link is out, good until {{ until | moment }}.</p>
      }
      <lg-findings [findings]="findings()" field="letter" />
      <button type="button" matButton="outlined" [disabled]="busy()" (click)="makeLink()">Make a signing link</button>
      @if (link()) {
        <p>
          <mat-form-field
            ><input matInput class="mono" readonly [value]="link()" aria-label="Signing link"
          /></mat-form-field>
        </p>
      }
      <h3>3 A code, read out in a call to the line</h3>
      @if (hosted().codeConfirmed) {
        <p><span class="pass strong">Given back.</span> The line can be answered.</p>
      } @else {
        <p class="soft">
          Somebody has to pick up there now.
          @if (hosted().calledAt; as at) {
            Called {{ at | moment: 'short' }}.
          }
        </p>
        <div class="line">
          <button type="button" matButton="outlined" [disabled]="busy()" (click)="call()">
            {{ hosted().calledAt ? 'Call again' : 'Call the line' }}
          </button>
          @if (hosted().calledAt) {
            <mat-form-field
              ><input
                matInput
                class="mono"
                inputmode="numeric"
                aria-label="Code from the call"
                placeholder="code"
                [value]="code()"
                (input)="code.set($any($event.target).value)" /></mat-form-field
            ><button type="button" matButton="outlined" [disabled]="busy() || !code()" (click)="confirmCode()">
              Give back
            </button>
          }
        </div>
      }
      <h3>4 Submit</h3>
      <button type="button" matButton="filled" [disabled]="busy() || findings().length > 0" (click)="submit()">
        {{ findings().length > 0 ? 'Submit: ' + findings().length + ' to mend' : 'Submit…' }}
      </button>
    }
    <hr class="rule" />
    <dl class="facts">
      <dt>Costs</dt>
      <dd>{{ hosted().costNow | money }} now, {{ hosted().costMonthly | money }} monthly</dd>
      @if (hosted().numberId; as id) {
        <dt>Number</dt>
        <dd>
          <a [routerLink]="['/b', session.businessId(), 'numbers']" [queryParams]="{ open: id }">In the inventory</a>
        </dd>
      }
    </dl>
    @if (session.isAdministrator() && (editable() || hosted().state === 'on')) {
      <p>
        <button type="button" matButton="outlined" class="danger" [disabled]="busy()" (click)="end()">
          {{ hosted().state === 'on' ? 'Take texting off…' : 'Give it up…' }}
        </button>
      </p>
    }
    <lg-history kind="hosted" [object]="hosted().id" />
  `,
  styles: `
    h3 {
      margin: 16px 0 6px;
    }
    p {
      margin: 6px 0;
    }
    .line {
      display: flex;
      gap: 8px;
    }
    .line mat-form-field {
      width: 120px;
    }
  `,
})
export class HostedDocket {
  readonly hosted = input.required<HostedView>();
  readonly closed = output();
  readonly changed = output();
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  protected readonly fields = FIELDS;
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly code = signal('');
  protected readonly link = linkedSignal({ source: () => this.hosted().id, computation: () => '' });
  protected readonly facts = linkedSignal(() => this.hosted().facts);
  protected readonly findings = computed(() => numbered(this.hosted().findings, ['e164', ...FIELDS.map((f) => f[0])]));
  protected readonly editable = computed(
    () => this.session.isAdministrator() && ['draft', 'refused'].includes(this.hosted().state),
  );
  private readonly dossier = liveResource(
    ['registration'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(getDossier, { params: { businessId } }),
  );
  protected readonly campaigns = computed(() =>
    this.dossier.hasValue() ? (this.dossier.value()?.campaigns ?? []) : [],
  );

  protected has(field: string): boolean {
    return this.findings().some((f) => f.field === field);
  }
  protected write(key: keyof HostedView['facts'], value: string | null): void {
    this.facts.update((f) => ({ ...f, [key]: value }));
  }
  private path(): { businessId: string; id: string } {
    return { businessId: this.session.businessId(), id: this.hosted().id };
  }

  protected async save(): Promise<void> {
    await this.act(() =>
      this.api.call(saveHosted, { params: this.path(), version: this.hosted().version, body: this.facts() }),
    );
  }
  protected async makeLink(): Promise<void> {
    await this.act(async () => {
      const made = await this.api.call(hostedLink, { params: this.path() });
      this.link.set(location.origin + made.path);
      await navigator.clipboard.writeText(this.link()).catch(() => undefined);
    }, 'Hand the link to the account holder; it is good for 14 days.');
  }
  protected async call(): Promise<void> {
    await this.act(() => this.api.call(callHosted, { params: this.path() }), 'The line is being called.');
  }
  protected async confirmCode(): Promise<void> {
    await this.act(() => this.api.call(confirmHosted, { params: this.path(), body: { code: this.code() } }));
    this.code.set('');
  }
  protected async submit(): Promise<void> {
    const h = this.hosted();
    if (
      !(await this.confirm.ask({
        title: `Add texting to ${formatPhone(h.e164)}?`,
        line: `${h.costNow > 0 ? `${formatAmount(h.costNow)} now for the first month` : 'No further cost now'}, then ${formatAmount(h.costMonthly)} monthly. Approval takes one to three days. Calls are never touched; texting can be taken off at any time.`,
        yes: h.costNow > 0 ? `Submit for ${formatAmount(h.costNow)}` : 'Submit',
      }))
    )
      return;
    await this.act(() => this.api.call(submitHosted, { params: this.path() }), 'Submitted.');
  }
  protected async end(): Promise<void> {
    const on = this.hosted().state === 'on';
    if (
      !(await this.confirm.ask({
        title: on ? 'Take texting off?' : 'Give the set-up up?',
        line: on
          ? 'At once nothing is sent or received here any more; dispatches from it stop. Calls go on as before with their carrier. The month that is paid is not refunded.'
          : 'Nothing changes for the line. What was paid for the first month comes back.',
        yes: on ? 'Take texting off' : 'Give it up',
        no: 'Keep it',
      }))
    )
      return;
    await this.act(() => this.api.call(endHosted, { params: this.path() }), on ? 'Texting is off.' : 'Given up.');
  }

  private async act(work: () => Promise<unknown>, done = ''): Promise<void> {
    await this.acting.run(work, done);
    this.changed.emit();
  }
}
