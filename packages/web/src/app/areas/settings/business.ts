import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { BusinessEdit, type Business } from '@long-gate/contracts';
import { Confirm } from '../../parts/confirm';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { MoneyPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { BusinessesStore } from './businesses.store';
import { flag, text } from '../../parts/form/controls';

const ALLOWS: Record<Business['accountState'], string> = {
  provisional: 'It may draft, search and import; not buy, register or send.',
  'in review':
    'The provider looks at it; that takes minutes, or some hours where a person looks. It may draft, search and import meanwhile.',
  open: 'It may do everything.',
  restricted: 'It may receive and answer; not buy or dispatch.',
  suspended: 'It only receives, and still honours opt-outs.',
};
const FIELDS = [
  { key: 'legalName', label: 'Legal name', hint: 'as in the tax record' },
  { key: 'nameLine', label: 'Name line', hint: 'opens each text' },
  { key: 'contactName', label: 'Authorised contact', hint: '' },
  { key: 'contactEmail', label: 'Contact e-mail', hint: '' },
  { key: 'street', label: 'Street', hint: '' },
  { key: 'city', label: 'City', hint: '' },
  { key: 'state', label: 'State', hint: 'two letters' },
  { key: 'postalCode', label: 'ZIP', hint: '' },
  { key: 'website', label: 'Website', hint: '' },
] as const;
type Facts = Pick<Business, (typeof FIELDS)[number]['key'] | 'transactionalAnyHour' | 'taxStatus' | 'timeZone'>;
/** Most businesses are in one of these. */
const NEAR_ZONES = ['New_York', 'Chicago', 'Denver', 'Phoenix', 'Los_Angeles', 'Anchorage'].map((z) => `America/${z}`);
const ZONES = [...new Set([...NEAR_ZONES, 'Pacific/Honolulu', ...Intl.supportedValuesOf('timeZone')])];

const formOf = (b: Business): Kept<Facts> => ({
  value: {
    ...(Object.fromEntries(FIELDS.map((f) => [f.key, b[f.key]])) as Omit<
      Facts,
      'transactionalAnyHour' | 'taxStatus' | 'timeZone'
    >),
    transactionalAnyHour: b.transactionalAnyHour,
    taxStatus: b.taxStatus,
    timeZone: b.timeZone,
  },
  version: b.version,
});

/** Legal identity, account with the provider, and the switch for all texts. */
@Component({
  selector: 'lg-business-settings',
  imports: [
    ReactiveFormsModule,
    ChoiceField,
    Conflicts,
    Faults,
    Form,
    Saved,
    TextField,
    MatCheckboxModule,
    MatButtonModule,
    RouterLink,
    History,
    MoneyPipe,
  ],
  providers: [BusinessesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (session.business(); as b) {
      <div class="step" [class.pass]="b.accountState === 'open'" [class.hold]="b.accountState === 'in review'">
        <span class="strong">The account is {{ b.accountState }}.</span>
        {{ b.accountNote || allows(b.accountState) }} Balance {{ b.balance | money }}.
        <a [routerLink]="['/b', b.id, 'settings', 'money']">Top up</a>
        @if (b.accountState === 'provisional' && session.isAdministrator()) {
          <div>
            <button type="button" matButton="filled" [disabled]="store.acting.busy()" (click)="open()">
              Open the account
            </button>
          </div>
          <p class="soft small">Asks for the address, contact and tax status below and for a first top-up. No cost.</p>
        }
      </div>
      <div class="step" [class.pass]="!b.textsOff" [class.hold]="b.textsOff">
        <span class="strong">{{ b.textsOff ? 'All texts are switched off.' : 'Texts are on.' }}</span>
        {{ b.textsOff ? 'Whatever would be sent is held. Drafting stays possible; opt-outs are still honoured.' : '' }}
        @if (session.isAdministrator()) {
          <div>
            <button type="button" matButton="outlined" [class.danger]="!b.textsOff" (click)="turn(b)">
              {{ b.textsOff ? 'Switch texts on' : 'Switch all texts off' }}
            </button>
          </div>
        }
      </div>
      <lg-conflicts [of]="saving" [names]="names" />
      <form [lgForm]="form" (sent)="save()">
        <div class="two">
          @for (f of fields; track f.key) {
            <lg-text-field [control]="form.controls[f.key]" [label]="f.label" [hint]="f.hint" [name]="f.key" />
          }
          <lg-choice-field
            [control]="form.controls.taxStatus"
            label="Tax status, for the provider’s invoices"
            name="taxStatus"
            none="choose…"
            [choices]="taxes"
          />
          <lg-choice-field
            [control]="form.controls.timeZone"
            label="Time zone, in which days are counted and times shown"
            name="timeZone"
            [choices]="zones()"
          />
        </div>
        <mat-checkbox class="check" [formControl]="form.controls.transactionalAnyHour"
          >Policy: texts called for by a person’s own booking, order or case may leave at any hour</mat-checkbox
        >
        <lg-faults [form]="form" />
        @if (session.isAdministrator()) {
          <p class="ends">
            <button type="submit" matButton="filled" [disabled]="store.acting.busy() || !saving.dirty()">Save</button>
            @if (saving.dirty()) {
              <button type="button" matButton="outlined" (click)="saving.discard()">Undo the changes</button>
            }
            <lg-saved [of]="saving" />
          </p>
        }
      </form>
      <lg-history kind="business" [object]="b.id" />
    }
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(min(280px, 100%), 1fr));
      gap: 0 24px;
      margin-top: 18px;
    }
    p {
      margin-top: 10px;
    }
    .ends {
      display: flex;
      gap: 10px;
      align-items: center;
    }
  `,
})
export class BusinessSettings {
  protected readonly store = inject(BusinessesStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly fields = FIELDS;
  protected readonly names = {
    ...Object.fromEntries(FIELDS.map((f) => [f.key, f.label])),
    transactionalAnyHour: 'Texts at any hour',
    taxStatus: 'Tax status',
    timeZone: 'Time zone',
  };
  protected readonly taxes = [
    { value: 'taxable', label: 'taxable' },
    { value: 'exempt', label: 'exempt, by certificate' },
  ];
  /** A zone that this browser does not know under its name stays what it is. */
  protected readonly zones = computed(() =>
    [...new Set([...ZONES, this.session.business()?.timeZone ?? ''])]
      .filter((z) => z !== '')
      .map((value) => ({ value, label: value.replaceAll('_', ' ') })),
  );
  protected readonly form = new CheckedForm(
    {
      legalName: text(),
      nameLine: text(),
      contactName: text(),
      contactEmail: text(),
      street: text(),
      city: text(),
      state: text(),
      postalCode: text(),
      website: text(),
      taxStatus: text(),
      timeZone: text(),
      transactionalAnyHour: flag(),
    },
    BusinessEdit,
  );
  /** Saved when it is said: it is what the provider and the registrar compare. */
  protected readonly saving = new Autosave<Facts>({
    byHand: true,
    save: async (facts, version) => formOf(await this.store.save(facts, version)),
    read: async () => formOf(await this.store.read()),
    lastChange: () => this.store.lastChange(),
  });
  private readonly mayEdit = computed(() => this.session.isAdministrator());

  constructor() {
    autosaved(this.form.group, this.saving);
    effect(() => {
      const b = this.session.business();
      if (b) untracked(() => this.saving.take(`business ${b.id}`, formOf(b)));
    });
    effect(() => {
      if (this.mayEdit()) this.form.group.enable({ emitEvent: false });
      else this.form.group.disable({ emitEvent: false });
    });
  }

  protected allows(state: Business['accountState']): string {
    return ALLOWS[state];
  }
  /** @returns whether everything that was typed is saved. */
  protected async save(): Promise<boolean> {
    if (!this.form.fits() || !(await this.saving.flush())) return false;
    this.store.acting.done('Saved.');
    return true;
  }
  /** Checks the address first; a better spelling is offered, and may be left. */
  protected async open(): Promise<void> {
    if (!(await this.save())) return;
    const found = await this.store.checkAddress();
    if (!found) return;
    let keepAddress = false;
    if (found.verdict === 'better') {
      const { better } = found;
      const use = await this.confirm.ask({
        title: 'A better spelling of the address',
        line: `The post spells it “${better.street}, ${better.city}, ${better.state} ${better.postalCode}”. The brand’s registration will be compared with it.`,
        yes: 'Use this spelling',
        no: 'Keep mine',
      });
      keepAddress = !use;
      if (use) {
        this.saving.change(better);
        if (!(await this.saving.flush())) return;
      }
    }
    await this.store.openAccount(keepAddress);
  }
  protected async turn(b: Business): Promise<void> {
    const off = !b.textsOff;
    if (
      off &&
      !(await this.confirm.ask({
        title: 'Switch all texts off?',
        line: 'At once, for every number of the business, dispatches under way too. Nothing is lost: whatever would be sent is held until you switch texts on again.',
        yes: 'Switch off',
      }))
    )
      return;
    await this.store.switchTexts(off);
  }
}
