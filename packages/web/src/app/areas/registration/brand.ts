import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { EMPTY_BRAND, type BrandView } from '@long-gate/contracts';
import { DEFAULT_PRICES, formatAmount, LEGAL_FORMS, reviewBrand } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { PageTitle } from '../../parts/page-title';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { Conflicts, Saved } from '../../parts/form/saving';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';
import { Findings, numbered } from '../../parts/findings';

type Body = BrandView['body'];
/** What stands in the form; the tax number is null while the one on file stands. */
type Form = Body & { taxNumber: string | null };
const formOf = (b: BrandView): Kept<Form> => ({ value: { ...b.body, taxNumber: null }, version: b.version });
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
  imports: [Saved, Conflicts, MatInputModule, MatButtonModule, PageTitle, Findings, History, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (brand(); as b) {
      <div class="page">
        <div class="work">
          <div class="head">
            <lg-page-title what="brand" />
            <lg-saved [of]="form" />
            @if (session.isAdministrator() && (b.state === 'draft' || b.state === 'declined')) {
              <button type="button" matButton="filled" [disabled]="blocking() > 0 || busy()" (click)="submit()">
                {{ blocking() > 0 ? 'Submit: ' + blocking() + ' to mend' : b.attempt > 0 ? 'Resubmit…' : 'Submit…' }}
              </button>
            }
          </div>
          <lg-conflicts [of]="form" [names]="names" />
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
              <div class="field">
                <label for="form">Legal form</label>
                <mat-form-field
                  ><select
                    matNativeControl
                    id="form"
                    [disabled]="locked('form')"
                    [value]="body().form"
                    (change)="set('form', $event)"
                  >
                    @for (f of forms; track f) {
                      <option [value]="f" [selected]="f === body().form">{{ f }}</option>
                    }
                  </select></mat-form-field
                >
              </div>
              <span></span>
            </div>
            @for (f of fields(); track f.key) {
              <div class="pair">
                <div class="field" [class.wrong]="wrong(f.key)">
                  <label [for]="f.key"
                    >{{ f.label }}
                    <span>{{
                      f.key === 'taxNumber' && b.taxNumberMasked && tax() === null
                        ? 'on file: ' + b.taxNumberMasked
                        : f.hint
                    }}</span></label
                  >
                  <mat-form-field
                    ><input
                      matInput
                      [id]="f.key"
                      [disabled]="locked(f.key)"
                      [value]="valueOf(f.key)"
                      [placeholder]="
                        f.key === 'taxNumber' && b.taxNumberMasked
                          ? locked(f.key)
                            ? 'kept encrypted'
                            : 'kept encrypted; type to replace'
                          : ''
                      "
                      autocomplete="off"
                      (input)="set(f.key, $event)"
                  /></mat-form-field>
                </div>
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
            <dt>Costs once</dt>
            <dd>{{ cost() }}</dd>
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
  protected readonly forms = LEGAL_FORMS;
  protected readonly brand = computed(() => this.store.dossier.value()?.brand ?? null);
  protected readonly form = new Autosave<Form>({
    save: async ({ taxNumber, ...body }, version) =>
      formOf(await this.store.saveBrand({ body, ...(taxNumber === null ? {} : { taxNumber }) }, version)),
    read: async () => formOf((await this.store.read()).brand),
    lastChange: () => this.store.lastChange('brand', this.brand()?.id ?? ''),
    secret: ['taxNumber'],
  });
  protected readonly names = { form: 'Legal form', ...Object.fromEntries(FIELDS.map((f) => [f.key, f.label])) };
  protected readonly body = computed<Body>(
    () => this.form.value() ?? { form: 'private company', legalName: '', ...EMPTY_BRAND },
  );
  protected readonly tax = computed(() => this.form.value()?.taxNumber ?? null);
  protected readonly busy = signal(false);
  protected readonly fields = computed(() => FIELDS.filter((f) => !f.only || f.only === this.body().form));
  protected readonly findings = computed(() =>
    numbered(
      reviewBrand({
        ...this.body(),
        taxNumber: this.tax() ?? '',
        taxNumberOnFile: this.tax() === null && this.brand()?.taxNumberMasked !== '',
      }),
      FIELDS.map((f) => f.key),
    ),
  );
  protected readonly blocking = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  protected readonly cost = computed(() =>
    formatAmount(DEFAULT_PRICES.brand + (this.body().form === 'sole proprietor' ? 0 : DEFAULT_PRICES.vetting)),
  );

  constructor() {
    effect(() => {
      const b = this.brand();
      if (b) untracked(() => this.form.take(`brand ${b.id}`, formOf(b)));
    });
  }

  protected locked(field: string): boolean {
    const state = this.brand()?.state;
    return (
      !this.session.isAdministrator() || state === 'in review' || (state === 'registered' && LOCKED.includes(field))
    );
  }

  protected valueOf(key: keyof Body | 'taxNumber'): string {
    return key === 'taxNumber' ? (this.tax() ?? '') : this.body()[key];
  }

  protected wrong(key: string): boolean {
    return this.findings().some((f) => f.field === key && f.severity === 'block');
  }

  protected set(key: keyof Body | 'taxNumber', event: Event): void {
    this.form.change({ [key]: (event.target as HTMLInputElement).value });
  }

  protected async submit(): Promise<void> {
    if (!(await this.form.flush())) return;
    // What is asked about is what is submitted: a version that changed meanwhile is refused.
    const version = this.form.version();
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
