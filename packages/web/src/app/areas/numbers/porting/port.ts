import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
  viewChild,
} from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { PortView } from '@long-gate/contracts';
import { formatAmount, formatPhone, PORT_ACKNOWLEDGEMENTS } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { Findings, numbered } from '../../../parts/findings';
import { Autosave, type Kept } from '../../../parts/form/autosave';
import { autosaved } from '../../../parts/form/autosaved';
import { flag, text } from '../../../parts/form/controls';
import { DateField } from '../../../parts/form/date-field';
import { Conflicts, Saved } from '../../../parts/form/saving';
import { MarkedText } from '../../../parts/marked-text';
import { PageTitle } from '../../../parts/page-title';
import { PortDocket } from './port-docket';
import { PortNumbers } from './port-numbers';
import { PortPapers } from './port-papers';
import { PortRecord } from './port-record';
import { PortStore } from './port.store';
import { FACT_FIELDS, type FactKey } from './port-words';

type Facts = PortView['facts'];
/** What stands in the form. */
type Form = Facts & { acknowledged: readonly string[] };
const keptOf = (p: PortView): Kept<Form> => ({
  value: { ...p.facts, acknowledged: p.acknowledged },
  version: p.version,
});
const NAMES: Record<string, string> = {
  holderKind: 'Kind of account',
  linesStay: 'Other lines stay',
  acknowledged: 'Read and accepted',
  ...Object.fromEntries(FACT_FIELDS.flatMap((g) => g.fields.map((f) => [f.key, f.label]))),
};
const FACTS = FACT_FIELDS.flatMap((g) => g.fields.map((f) => f.key));
const ORDER = ['numbers', ...FACTS, 'linesStay', 'letter', 'bill', 'acknowledged'];

/** One port request: facts with findings beside them, the old carrier's record, papers, and the way it goes. */
@Component({
  selector: 'lg-port',
  imports: [
    DateField,
    Saved,
    Conflicts,
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    ReactiveFormsModule,
    PageTitle,
    RouterLink,
    Findings,
    MarkedText,
    PortRecord,
    PortPapers,
    PortDocket,
    PortNumbers,
  ],
  providers: [PortStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './port.html',
  styles: `
    h2 {
      margin: 18px 0 8px;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 230px;
      gap: 22px;
    }
    .field.short {
      max-width: 300px;
    }
    .where {
      font-size: 12px;
      color: var(--ink-soft);
      margin-top: 3px;
    }
    .marked {
      display: block;
      margin-top: 4px;
      padding-left: 9px;
      border-left: 2px solid var(--hairline);
      font-size: 13px;
    }
    .check {
      margin: 3px 0 12px;
    }
  `,
})
export class PortPage {
  readonly portId = input.required<string>();
  protected readonly store = inject(PortStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly groups = FACT_FIELDS;
  protected readonly acknowledgements = PORT_ACKNOWLEDGEMENTS;
  protected readonly campaigns = this.store.campaigns;
  protected readonly problem = this.store.problem;
  protected readonly port = this.store.port;
  protected readonly form = new FormGroup({
    ...(Object.fromEntries(FACTS.map((key) => [key, text()])) as Record<FactKey, FormControl<string>>),
    holderKind: new FormControl<Facts['holderKind']>('business', { nonNullable: true }),
    linesStay: flag(),
    acknowledged: new FormControl<readonly string[]>([], { nonNullable: true }),
  });
  protected readonly saving = new Autosave<Form>({
    save: async ({ acknowledged, ...facts }, version) =>
      keptOf(await this.store.save({ facts, acknowledged: [...acknowledged] }, version)),
    read: async () => keptOf(await this.store.read()),
    lastChange: () => this.store.lastChange(),
    secret: ['pin', 'accountNumber'],
  });
  protected readonly names = NAMES;
  protected readonly facts = this.saving.value;
  protected readonly acknowledged = computed(() => this.saving.value()?.acknowledged ?? []);
  protected readonly busy = this.store.acting.busy;
  protected readonly editable = computed(
    () => this.session.isAdministrator() && ['draft', 'rejected'].includes(this.port()?.state ?? ''),
  );
  protected readonly findings = computed(() => numbered(this.port()?.findings ?? [], ORDER));
  protected readonly blocking = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  protected readonly title = computed(() => {
    const all = this.port()?.numbers ?? [];
    const first = formatPhone(all[0]?.e164 ?? '');
    return all.length > 1 ? `${first} and ${all.length - 1} more` : first;
  });
  private readonly numbers = viewChild(PortNumbers);
  protected readonly saveFacts = (): Promise<boolean> => this.saving.flush();
  /** Everything on the page. */
  protected readonly save = async (): Promise<boolean> =>
    (await this.saving.flush()) && ((await this.numbers()?.saving.flush()) ?? true);

  constructor() {
    this.store.about(this.portId);
    effect(() => {
      const p = this.port();
      // What is being typed stays, also where something else of the request has changed.
      if (p) untracked(() => this.saving.take(`port ${p.id}`, keptOf(p)));
    });
    autosaved(this.form, this.saving);
    effect(() => {
      if (this.editable()) this.form.enable({ emitEvent: false });
      else this.form.disable({ emitEvent: false });
    });
  }

  protected of(field: string) {
    return this.findings().filter((f) => f.field === field);
  }
  protected spans(field: string) {
    return this.of(field).filter((f) => f.span);
  }
  protected value(key: string): string {
    return String(this.facts()?.[key as keyof Facts] ?? '');
  }
  /** Facts that this kind of line is not validated by stay out of the way unless something is written in them. */
  protected wanted(key: string): boolean {
    const p = this.port();
    if (!p) return false;
    if (['unit', 'oldServiceEnds', 'street', 'city', 'state'].includes(key)) return true;
    if (key === 'pinExpires') return p.needed.includes('pin');
    if (key === 'newBillingNumber') return this.facts()?.linesStay === true;
    return p.needed.includes(key) || this.value(key) !== '';
  }
  protected optional(key: string): boolean {
    return !this.port()?.needed.includes(key);
  }

  protected acknowledge(key: string, on: boolean): void {
    const others = this.acknowledged().filter((k) => k !== key);
    this.form.controls.acknowledged.setValue(on ? [...others, key] : others);
  }

  /** The record's own words beside a field: one click takes them over. */
  protected takeFromRecord({ field, value }: { field: FactKey; value: string }): void {
    const control = this.form.controls[field];
    control.setValue(value);
    control.markAsDirty();
    document.getElementById(field)?.focus();
  }

  protected async askForRecord(): Promise<void> {
    if (await this.save()) await this.store.askForRecord();
  }

  protected async submit(): Promise<void> {
    if (!(await this.save())) return;
    const p = this.port();
    if (!p) return;
    // What is asked about is what is submitted: a version that changed meanwhile is refused.
    const { version } = p;
    const same = p.state === 'rejected' && p.changedSince.length === 0;
    if (
      same &&
      !(await this.confirm.ask({
        title: 'Submit the same again?',
        line: `Nothing was changed since ${p.losingCarrier} rejected it: ${p.reasons.map((r) => r.message).join(' ')} The same again is likely to be rejected again, which takes days.`,
        yes: 'Submit the same again',
        no: 'Mend it first',
      }))
    )
      return;
    const cost =
      p.costNow > 0
        ? `${formatAmount(p.costNow)} now for the first month`
        : p.costNow < 0
          ? `${formatAmount(-p.costNow)} come back for numbers taken off`
          : 'No further cost now';
    if (
      !(await this.confirm.ask({
        title: `${p.attempt > 0 ? 'Resubmit' : 'Submit'} to ${p.losingCarrier}?`,
        line: `${cost}, then ${formatAmount(p.costMonthly)} monthly from landing. It can be cancelled until two business days before the FOC date, and the first month comes back then. Keep the old service running until the numbers have landed.`,
        yes: p.costNow > 0 ? `Submit for ${formatAmount(p.costNow)}` : 'Submit',
      }))
    )
      return;
    await this.store.submit(version, same);
  }
}
