import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import {
  askForRecord,
  changePortNumbers,
  getDossier,
  getPort,
  preparePortNumber,
  savePort,
  submitPort,
  type PortView,
} from '@long-gate/contracts';
import { formatAmount, formatPhone, PORT_ACKNOWLEDGEMENTS } from '@long-gate/core';
import { Api, type ApiProblem } from '../../../api/api';
import { Acting } from '../../../parts/acting';
import { Confirm } from '../../../parts/confirm';
import { Findings, numbered } from '../../../parts/findings';
import { Autosave, type Kept } from '../../../parts/form/autosave';
import { lastChangeOf } from '../../../parts/form/last-change';
import { Conflicts, Saved } from '../../../parts/form/saving';
import { PhonePipe } from '../../../parts/format';
import { MarkedText } from '../../../parts/marked-text';
import { PageTitle } from '../../../parts/page-title';
import { Say } from '../../../parts/say';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { PortDocket } from './port-docket';
import { PortPapers } from './port-papers';
import { PortRecord } from './port-record';
import { FACT_FIELDS } from './port-words';

type Facts = PortView['facts'];
/** What stands in the form. */
type Form = Facts & { acknowledged: readonly string[] };
const formOf = (p: PortView): Kept<Form> => ({
  value: { ...p.facts, acknowledged: p.acknowledged },
  version: p.version,
});
const NAMES: Record<string, string> = {
  holderKind: 'Kind of account',
  linesStay: 'Other lines stay',
  acknowledged: 'Read and accepted',
  ...Object.fromEntries(FACT_FIELDS.flatMap((g) => g.fields.map((f) => [f.key, f.label]))),
};
const ORDER = [
  'numbers',
  ...FACT_FIELDS.flatMap((g) => g.fields.map((f) => f.key)),
  'linesStay',
  'letter',
  'bill',
  'acknowledged',
];

/** One port request: facts with findings beside them, the old carrier's record, papers, and the way it goes. */
@Component({
  selector: 'lg-port',
  imports: [
    Saved,
    Conflicts,
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    RouterLink,
    Findings,
    MarkedText,
    PortRecord,
    PortPapers,
    PortDocket,
    PhonePipe,
  ],
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
    td button {
      white-space: nowrap;
    }
    td .error {
      white-space: normal;
    }
    .add {
      display: flex;
      gap: 8px;
      max-width: 420px;
      margin-top: 8px;
    }
  `,
})
export class PortPage {
  readonly portId = input.required<string>();
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly groups = FACT_FIELDS;
  protected readonly acknowledgements = PORT_ACKNOWLEDGEMENTS;
  private readonly asked = liveResource(
    ['numbers'],
    () => (this.session.businessId() ? { businessId: this.session.businessId(), id: this.portId() } : undefined),
    (params) => this.api.call(getPort, { params }),
  );
  private readonly dossier = liveResource(
    ['registration'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(getDossier, { params: { businessId } }),
  );
  protected readonly campaigns = computed(() =>
    this.dossier.hasValue() ? (this.dossier.value()?.campaigns ?? []) : [],
  );
  protected readonly problem = computed(() => this.asked.error() as ApiProblem | undefined);
  protected readonly port = signal<PortView | null>(null);
  protected readonly form = new Autosave<Form>({
    save: async ({ acknowledged, ...facts }, version) => {
      const body = { facts, acknowledged: [...acknowledged], billDated: this.port()?.billDated ?? '' };
      const answer = await this.api.call(savePort, { params: this.path(), version, body });
      this.port.set(answer);
      return formOf(answer);
    },
    read: async () => formOf(await this.api.call(getPort, { params: this.path() })),
    lastChange: () => lastChangeOf(this.api, this.session.businessId(), 'port', this.portId()),
    secret: ['pin', 'accountNumber'],
  });
  protected readonly names = NAMES;
  protected readonly facts = this.form.value;
  protected readonly acknowledged = computed(() => this.form.value()?.acknowledged ?? []);
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly adding = signal('');

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
  protected readonly save = (): Promise<boolean> => this.form.flush();

  constructor() {
    effect(() => {
      const p = this.asked.hasValue() ? this.asked.value() : undefined;
      if (p) untracked(() => this.take(p));
    });
  }

  /** Shows what the server has; what is being typed stays. */
  protected take(p: PortView): void {
    if (this.port()?.id === p.id && p.version < this.form.version()) return;
    this.port.set(p);
    this.form.take(`port ${p.id}`, formOf(p));
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

  protected write(key: string, event: Event): void {
    this.change({ [key]: (event.target as HTMLInputElement).value });
  }
  protected kind(event: Event): void {
    this.change({ holderKind: (event.target as HTMLSelectElement).value as Facts['holderKind'] });
  }
  protected flag(linesStay: boolean): void {
    this.change({ linesStay });
  }
  protected acknowledge(key: string, on: boolean): void {
    const others = this.acknowledged().filter((k) => k !== key);
    this.form.change({ acknowledged: on ? [...others, key] : others });
  }

  private change(part: Partial<Facts>): void {
    this.form.change(part);
  }

  protected async addNumbers(event: Event): Promise<void> {
    event.preventDefault();
    const add = this.adding();
    if (add.trim() === '' || !(await this.form.flush())) return;
    await this.act(() =>
      this.api.call(changePortNumbers, {
        params: this.path(),
        version: this.form.version(),
        body: { add, remove: [] },
      }),
    );
    this.adding.set('');
  }

  protected async remove(e164: string): Promise<void> {
    if (!(await this.form.flush())) return;
    await this.act(() =>
      this.api.call(changePortNumbers, {
        params: this.path(),
        version: this.form.version(),
        body: { add: '', remove: [e164] },
      }),
    );
  }

  protected async prepare(
    n: PortView['numbers'][number],
    part: { label?: string; campaignId?: string | null; forwardTo?: string },
  ): Promise<void> {
    if (!(await this.form.flush())) return;
    await this.act(() =>
      this.api.call(preparePortNumber, {
        params: this.path(),
        version: this.form.version(),
        body: { e164: n.e164, label: n.label, campaignId: n.campaignId, forwardTo: n.forwardTo, ...part },
      }),
    );
  }

  protected async askForRecord(): Promise<void> {
    if (await this.form.flush()) await this.act(() => this.api.call(askForRecord, { params: this.path() }));
  }

  protected async submit(): Promise<void> {
    if (!(await this.form.flush())) return;
    const p = this.port();
    if (!p) return;
    // What is asked about is what is submitted: a version that changed meanwhile is refused.
    const version = this.form.version();
    const cost = p.costNow > 0 ? `${formatAmount(p.costNow)} now for the first month` : 'No further cost now';
    if (
      !(await this.confirm.ask({
        title: `${p.attempt > 0 ? 'Resubmit' : 'Submit'} to ${p.losingCarrier}?`,
        line: `${cost}, then ${formatAmount(p.costMonthly)} monthly from landing. It can be cancelled until two business days before the FOC date, and the first month comes back then. Keep the old service running until the numbers have landed.`,
        yes: p.costNow > 0 ? `Submit for ${formatAmount(p.costNow)}` : 'Submit',
      }))
    )
      return;
    await this.act(() => this.api.call(submitPort, { params: this.path(), version }));
  }

  private path(): { businessId: string; id: string } {
    return { businessId: this.session.businessId(), id: this.portId() };
  }

  private async act(work: () => Promise<PortView>): Promise<void> {
    const port = await this.acting.run(work);
    if (port) this.take(port);
  }
}
