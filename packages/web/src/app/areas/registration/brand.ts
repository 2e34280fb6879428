import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { type FormControl, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { EMPTY_BRAND, type BrandView } from '@long-gate/contracts';
import { DEFAULT_PRICES, formatAmount, LEGAL_FORMS, reviewBrand } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { PageTitle } from '../../parts/page-title';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { ChoiceField } from '../../parts/form/choice-field';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';
import { obstacleTo } from './obstacle';
import { Findings, numbered } from '../../parts/findings';
import { text } from '../../parts/form/controls';

type Body = BrandView['body'];
/** What stands in the form; the tax number is empty while the one on file stands. */
type Form = Body & { taxNumber: string };
const formOf = (b: BrandView): Kept<Form> => ({ value: { ...b.body, taxNumber: '' }, version: b.version });
const FIELDS: { key: keyof Body | 'taxNumber'; label: string; hint: string; only?: Body['form'] }[] = [
  { key: 'legalName', label: 'Legal name', hint: 'exactly as in the tax record' },
  { key: 'taxNumber', label: 'Tax number (EIN)', hint: 'nine digits' },
  { key: 'street', label: 'Street', hint: 'no post box' },
  { key: 'city', label: 'City', hint: '' },
  { key: 'state', label: 'State', hint: 'two letters' },
  { key: 'postalCode', label: 'ZIP', hint: '' },
  { key: 'website', label: 'Website', hint: 'answers to the name' },
  { key: 'email', label: 'Contact e-mail', hint: 'on the website’s domain' },
  { key: 'mobile', label: 'Mobile of the owner', hint: 'confirms by replying', only: 'sole proprietor' },
  { key: 'exchange', label: 'Stock exchange', hint: '', only: 'listed company' },
  { key: 'ticker', label: 'Ticker', hint: '', only: 'listed company' },
];
const LOCKED = ['legalName', 'taxNumber', 'form'];

/** Legal identity and brand, with what the registrar would decline beside each field. */
@Component({
  selector: 'lg-brand',
  imports: [ChoiceField, Conflicts, Saved, TextField, MatButtonModule, PageTitle, Findings, History, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (brand(); as b) {
      <div class="page">
        <div class="work">
          <div class="head">
            <lg-page-title what="brand" />
            <lg-saved [of]="saving" />
            @if (session.isAdministrator() && (b.state === 'draft' || b.state === 'declined')) {
              <button type="button" matButton="filled" [disabled]="obstacle() !== '' || busy()" (click)="submit()">
                {{ obstacle() ? 'Submit: ' + obstacle() : b.attempt > 0 ? 'Resubmit…' : 'Submit…' }}
              </button>
            }
          </div>
          <lg-conflicts [of]="saving" [names]="names" />
          @if (b.reasons.length > 0) {
            <div class="problem">
              <span class="strong stop">Declined {{ b.decidedAt | moment: 'day' }}.</span>
              @for (r of b.reasons; track r.code) {
                <div>{{ r.message }}</div>
              }
            </div>
          }
          <form class="plaque" (submit)="$event.preventDefault()">
            <div class="pair">
              <lg-choice-field [control]="form.controls.form" label="Legal form" name="form" [choices]="forms" />
              <span></span>
            </div>
            @for (f of fields(); track f.key) {
              <div class="pair">
                <lg-text-field
                  [control]="form.controls[f.key]"
                  [label]="f.label"
                  [hint]="hintOf(f.key, f.hint)"
                  [placeholder]="placeholderOf(f.key)"
                  [name]="f.key"
                  [troubled]="wrong(f.key)"
                />
                <lg-findings [findings]="findings()" [field]="f.key" [answers]="b.reasons" />
              </div>
            }
          </form>
        </div>
        <aside class="docket">
          <div class="kind"><span>Brand</span></div>
          <h2>
            {{ b.score === null ? b.state : b.state + ', vetting score ' + b.score }}
          </h2>
          <div class="step" [class.pass]="b.state === 'registered'" [class.hold]="b.state === 'in review'">
            @switch (b.state) {
              @case ('registered') {
                <span class="strong">Registered.</span> Name and tax number are locked.
              }
              @case ('in review') {
                <span class="strong">Wait for the registrar.</span> It usually answers in one to two days; submitted
                {{ b.submittedAt | moment }}.
              }
              @case ('declined') {
                <span class="strong">Mend and resubmit.</span> What was declined stands beside its field.
              }
              @default {
                <span class="strong">{{
                  blocking() > 0
                    ? 'Mend ' + blocking() + (blocking() === 1 ? ' finding.' : ' findings.')
                    : 'Submit the brand.'
                }}</span>
                A number may send only when brand and campaign are registered.
              }
            }
          </div>
          <dl class="facts">
            <dt>Registration</dt>
            <dd>{{ registration }}</dd>
            <dt>Vetting</dt>
            <dd>{{ vetted() ? vetting : 'none for a sole proprietor' }}</dd>
            <dt>Together, once</dt>
            <dd>{{ cost() }}, also when it is declined</dd>
            <dt>Takes</dt>
            <dd>one to two days</dd>
            <dt>Attempts</dt>
            <dd>{{ b.attempt }}</dd>
          </dl>
          <lg-history kind="brand" [object]="b.id" />
        </aside>
      </div>
    }
  `,
  styles: `
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 220px;
      gap: 22px;
    }
    .plaque {
      max-width: 760px;
    }
  `,
})
export class BrandPage {
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  private readonly store = inject(DossierStore);
  protected readonly session = inject(SessionFacade);
  protected readonly forms = LEGAL_FORMS.map((value) => ({ value, label: value }));
  protected readonly brand = computed(() => this.store.dossier.value()?.brand ?? null);
  protected readonly form = new FormGroup<{ [K in keyof Form]: FormControl<string> }>({
    form: text(),
    legalName: text(),
    taxNumber: text(),
    street: text(),
    city: text(),
    state: text(),
    postalCode: text(),
    website: text(),
    email: text(),
    mobile: text(),
    exchange: text(),
    ticker: text(),
  });
  protected readonly saving = new Autosave<Form>({
    save: async ({ taxNumber, ...body }, version) =>
      formOf(await this.store.saveBrand({ body, ...(taxNumber === '' ? {} : { taxNumber }) }, version)),
    read: async () => formOf((await this.store.read()).brand),
    lastChange: () => this.store.lastChange('brand', this.brand()?.id ?? ''),
    secret: ['taxNumber'],
  });
  protected readonly names = { form: 'Legal form', ...Object.fromEntries(FIELDS.map((f) => [f.key, f.label])) };
  protected readonly body = computed<Body>(
    () => this.saving.value() ?? { form: 'private company', legalName: '', ...EMPTY_BRAND },
  );
  private readonly tax = computed(() => this.saving.value()?.taxNumber ?? '');
  protected readonly busy = signal(false);
  protected readonly fields = computed(() => FIELDS.filter((f) => !f.only || f.only === this.body().form));
  protected readonly findings = computed(() =>
    numbered(
      reviewBrand({
        ...this.body(),
        taxNumber: this.tax(),
        taxNumberOnFile: this.tax() === '' && this.brand()?.taxNumberMasked !== '',
      }),
      FIELDS.map((f) => f.key),
    ),
  );
  protected readonly blocking = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  protected readonly registration = formatAmount(DEFAULT_PRICES.brand);
  protected readonly vetting = formatAmount(DEFAULT_PRICES.vetting);
  protected readonly vetted = computed(() => this.body().form !== 'sole proprietor');
  private readonly fee = computed(() => DEFAULT_PRICES.brand + (this.vetted() ? DEFAULT_PRICES.vetting : 0));
  protected readonly cost = computed(() => formatAmount(this.fee()));
  /** What keeps it from being submitted. */
  protected readonly obstacle = computed(() =>
    obstacleTo({ business: this.session.business(), cost: this.fee(), blocking: this.blocking() }),
  );

  constructor() {
    autosaved(this.form, this.saving);
    effect(() => {
      const b = this.brand();
      if (b) untracked(() => this.saving.take(`brand ${b.id}`, formOf(b)));
    });
    effect(() => {
      for (const [key, control] of Object.entries(this.form.controls))
        if (this.locked(key)) control.disable({ emitEvent: false });
        else control.enable({ emitEvent: false });
    });
  }

  protected locked(field: string): boolean {
    const state = this.brand()?.state;
    return (
      !this.session.isAdministrator() || state === 'in review' || (state === 'registered' && LOCKED.includes(field))
    );
  }

  /** The number on file is never shown again; another one is typed in its place. */
  protected hintOf(key: string, hint: string): string {
    const masked = this.brand()?.taxNumberMasked;
    return key === 'taxNumber' && masked && this.tax() === '' ? `on file: ${masked}` : hint;
  }
  protected placeholderOf(key: string): string {
    if (key !== 'taxNumber' || !this.brand()?.taxNumberMasked) return '';
    return this.locked(key) ? 'kept encrypted' : 'kept encrypted; type to replace';
  }

  protected wrong(key: string): boolean {
    return this.findings().some((f) => f.field === key && f.severity === 'block');
  }

  protected async submit(): Promise<void> {
    if (!(await this.saving.flush())) return;
    // What is asked about is what is submitted: a version that changed meanwhile is refused.
    const version = this.saving.version();
    const yes = await this.confirm.ask({
      title: 'Submit the brand?',
      line: `${this.cost()} now, nothing monthly. The registrar answers in one to two days. Once verified, name and tax number are locked. Not refunded when declined.`,
      yes: `Submit for ${this.cost()}`,
    });
    if (!yes) return;
    this.busy.set(true);
    try {
      await this.store.submitBrand(version);
    } catch (error) {
      this.say.problem(error);
    } finally {
      this.busy.set(false);
    }
  }
}
