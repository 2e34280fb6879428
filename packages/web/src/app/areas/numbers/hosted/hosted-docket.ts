import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
} from '@angular/core';
import { type FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import type { HostedView } from '@long-gate/contracts';
import { formatAmount, formatPhone } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { Docket } from '../../../parts/docket/docket';
import { Findings, numbered } from '../../../parts/findings';
import { Autosave, type Kept } from '../../../parts/form/autosave';
import { autosaved } from '../../../parts/form/autosaved';
import { ChoiceField } from '../../../parts/form/choice-field';
import { Conflicts, Saved } from '../../../parts/form/saving';
import { TextField } from '../../../parts/form/text-field';
import { DayPipe, MomentPipe, MoneyPipe, PhonePipe } from '../../../parts/format';
import { HostedDocketStore } from './hosted-docket.store';
import { text } from '../../../parts/form/controls';

/** What stands in the form; no campaign is the empty string there. */
type Facts = Omit<HostedView['facts'], 'campaignId'> & { campaignId: string };
const formOf = (h: HostedView): Kept<Facts> => ({
  value: { ...h.facts, campaignId: h.facts.campaignId ?? '' },
  version: h.version,
});
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
  imports: [
    ReactiveFormsModule,
    ChoiceField,
    Conflicts,
    Docket,
    Saved,
    TextField,
    MatInputModule,
    MatButtonModule,
    RouterLink,
    Findings,
    DayPipe,
    MomentPipe,
    MoneyPipe,
    PhonePipe,
  ],
  providers: [HostedDocketStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket
      kind="Hosted number"
      [name]="hosted().e164 | phone"
      mono
      [next]="next()"
      history="hosted"
      [object]="hosted().id"
      (closed)="closed.emit()"
    >
      <p name>Set-up: {{ hosted().state }}; voice stays with {{ hosted().voiceCarrier || 'its carrier' }}</p>
      <lg-findings [findings]="findings()" field="e164" sayer="The provider" [answers]="hosted().reasons" />
      @if (editable()) {
        <h3>1 The holder, as the voice carrier has it</h3>
        <lg-saved [of]="saving" />
        <lg-conflicts [of]="saving" [names]="names" />
        <form (submit)="$event.preventDefault()">
          @for (f of fields; track f[0]) {
            <lg-text-field [control]="form.controls[f[0]]" [label]="f[1]" [name]="'h-' + f[0]" [troubled]="has(f[0])" />
            <lg-findings [findings]="findings()" [field]="f[0]" sayer="The provider" [answers]="hosted().reasons" />
          }
          <lg-choice-field
            [control]="form.controls.campaignId"
            label="Campaign, filed when it is on"
            name="h-campaign"
            none="none yet"
            [choices]="campaigns()"
          />
        </form>
        <h3>2 Letter</h3>
        @if (hosted().letter.signedBy) {
          <p>
            <span class="pass strong">Signed</span> by {{ hosted().letter.signedBy }},
            {{ hosted().letter.signedOn | day }}.
          </p>
        } @else if (hosted().letter.linkExpiresAt; as until) {
          <p class="hold">A link is out, good until {{ until | moment }}. Making another ends it.</p>
        } @else if (hosted().letter.linkEnded) {
          <p class="stop">
            The link that was out has ended: what the letter says was changed after it was made. Make a new one; the
            holder has to read the letter again.
          </p>
        }
        <lg-findings [findings]="findings()" field="letter" />
        <button type="button" matButton="outlined" [disabled]="busy()" (click)="makeLink()">Make a signing link</button>
        @if (link() && hosted().letter.linkExpiresAt && !hosted().letter.signedBy) {
          <p>
            <mat-form-field
              ><input matInput class="mono" readonly [value]="link()" aria-label="Signing link"
            /></mat-form-field>
            <button type="button" matButton="outlined" (click)="copyLink()">Copy it</button>
          </p>
          <p class="small" [class]="copied() ? 'pass' : 'hold'" role="status">
            {{
              copied()
                ? 'It is on your clipboard. Hand it to the account holder; it is good for 14 days.'
                : 'It was not sent to anybody and is shown only here: copy it, and hand it to the account holder.'
            }}
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
                  [formControl]="code" /></mat-form-field
              ><button type="button" matButton="outlined" [disabled]="busy() || !code.value" (click)="confirmCode()">
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
      <p class="soft small">
        Voice stays with {{ hosted().voiceCarrier || 'its carrier' }} and is never touched. Texting ends when it is
        taken off here, when the voice service moves to another carrier, or when another provider texts for the line.
      </p>
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
    </lg-docket>
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
  protected readonly store = inject(HostedDocketStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly fields = FIELDS;
  protected readonly busy = this.store.acting.busy;
  protected readonly form = new FormGroup<{ [K in keyof Facts]: FormControl<string> }>({
    holderName: text(),
    authorisedName: text(),
    street: text(),
    city: text(),
    state: text(),
    postalCode: text(),
    label: text(),
    campaignId: text(),
  });
  protected readonly saving = new Autosave<Facts>({
    save: async (facts, version) => {
      const now = await this.store.save({ ...facts, campaignId: facts.campaignId || null }, version);
      this.changed.emit();
      return formOf(now);
    },
    read: async () => formOf(await this.store.read()),
    lastChange: () => this.store.lastChange(),
  });
  protected readonly names = { ...Object.fromEntries(FIELDS), campaignId: 'Campaign' };
  protected readonly code = text();
  protected readonly link = linkedSignal({ source: computed(() => this.hosted().id), computation: () => '' });
  protected readonly copied = signal(false);
  protected readonly findings = computed(() => numbered(this.hosted().findings, ['e164', ...FIELDS.map((f) => f[0])]));
  protected readonly editable = computed(
    () => this.session.isAdministrator() && ['draft', 'refused'].includes(this.hosted().state),
  );
  protected readonly campaigns = computed(() =>
    this.store.campaigns().map((c) => ({
      value: c.id,
      label: `${c.name}${c.state === 'registered' ? '' : ` (${c.state})`}`,
    })),
  );
  protected readonly next = computed(() => {
    const { state, nextStep } = this.hosted();
    const tone =
      state === 'on' ? ('pass' as const) : ['submitted', 'draft'].includes(state) ? ('hold' as const) : undefined;
    return { ...nextStep, ...(tone ? { tone } : {}) };
  });

  constructor() {
    this.store.about(this.hosted);
    autosaved(this.form, this.saving);
    effect(() => {
      const h = this.hosted();
      untracked(() => this.saving.take(`hosted ${h.id}`, formOf(h)));
    });
  }

  protected has(field: string): boolean {
    return this.findings().some((f) => f.field === field);
  }
  protected async makeLink(): Promise<void> {
    if (!(await this.saving.flush())) return;
    const link = await this.store.signingLink();
    if (!link) return;
    this.link.set(link);
    await this.copyLink();
    this.changed.emit();
  }
  /** Puts the link on the clipboard; where the browser does not let us, it stays to be copied by hand. */
  protected async copyLink(): Promise<void> {
    this.copied.set(
      await navigator.clipboard.writeText(this.link()).then(
        () => true,
        () => false,
      ),
    );
  }
  protected async call(): Promise<void> {
    await this.store.call();
    this.changed.emit();
  }
  protected async confirmCode(): Promise<void> {
    await this.store.giveBack(this.code.value);
    this.code.reset();
    this.changed.emit();
  }
  protected async submit(): Promise<void> {
    if (!(await this.saving.flush())) return;
    const h = this.hosted();
    if (
      !(await this.confirm.ask({
        title: `Add texting to ${formatPhone(h.e164)}?`,
        line: `${h.costNow > 0 ? `${formatAmount(h.costNow)} now for the first month` : 'No further cost now'}, then ${formatAmount(h.costMonthly)} monthly. Approval takes one to three days. Calls are never touched; texting can be taken off at any time.`,
        yes: h.costNow > 0 ? `Submit for ${formatAmount(h.costNow)}` : 'Submit',
      }))
    )
      return;
    await this.store.submit();
    this.changed.emit();
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
    await this.store.end(on ? 'Texting is off.' : 'Given up.');
    this.changed.emit();
  }
}
