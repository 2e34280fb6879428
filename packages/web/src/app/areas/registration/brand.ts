import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { FormArray, FormControl, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { EMPTY_BRAND, type BrandView, type OtherAddress, type Representative } from '@long-gate/contracts';
import {
  COUNTRY_RULES,
  DEFAULT_PRICES,
  formatAmount,
  INDUSTRIES,
  LEGAL_FORMS,
  RELATIONS,
  reviewBrand,
} from '@long-gate/core';
import { Acting } from '../../parts/acting';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { ChoiceField } from '../../parts/form/choice-field';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { WordsField } from '../../parts/form/words-field';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { BrandStanding } from './brand-standing';
import { DossierStore } from './dossier.store';
import { obstacleTo } from './obstacle';
import { BRAND_WORDS, sameAt } from './filing-words';
import { Stages } from './stages';
import { Tries } from './tries';
import { TriesStore } from './tries.store';
import { Findings, numbered } from '../../parts/findings';
import { text } from '../../parts/form/controls';

type Body = BrandView['body'];
/** What stands in the form; the tax number is empty while the one on file stands. */
type Form = Body & { taxNumber: string };
const formOf = (b: BrandView): Kept<Form> => ({ value: { ...b.body, taxNumber: '' }, version: b.version });
/** A field of one line. `hint` says what it will be compared with. */
interface Line {
  key: Exclude<keyof Form, 'regions' | 'moreAddresses' | 'representatives'>;
  label: string;
  hint: string;
  only?: Body['form'];
}
const IDENTITY: readonly Line[] = [
  { key: 'legalName', label: 'Legal name', hint: 'compared with the tax record, letter by letter' },
  { key: 'tradingName', label: 'Other trading name', hint: 'what people know it by; read beside the samples' },
  { key: 'taxNumber', label: 'Tax number (EIN)', hint: 'nine digits' },
  { key: 'exchange', label: 'Stock exchange', hint: 'compared with the listing', only: 'listed company' },
  { key: 'ticker', label: 'Ticker', hint: 'compared with the listing', only: 'listed company' },
  { key: 'mobile', label: 'Mobile of the owner', hint: 'confirms by replying YES', only: 'sole proprietor' },
];
const PLACE: readonly Line[] = [
  { key: 'street', label: 'Street', hint: 'compared with the post’s addresses; no post box' },
  { key: 'city', label: 'City', hint: '' },
  { key: 'state', label: 'State', hint: 'two letters' },
  { key: 'postalCode', label: 'ZIP', hint: '' },
];
const REACHED: readonly Line[] = [
  { key: 'website', label: 'Website', hint: 'opened, and compared with the name' },
  { key: 'email', label: 'Contact e-mail', hint: 'compared with the website’s domain' },
  { key: 'statusEmail', label: 'Address for status mail', hint: 'the contact e-mail where empty; any domain' },
];
const ORDER = [
  'form',
  'relation',
  ...IDENTITY.map((f) => f.key),
  'industry',
  'regions',
  'country',
  ...PLACE.map((f) => f.key),
  'moreAddresses',
  'representatives',
  ...REACHED.map((f) => f.key),
];
const LOCKED = ['legalName', 'taxNumber', 'form', 'country'];
const choices = (values: readonly string[]) => values.map((value) => ({ value, label: value }));
const address = () => new FormGroup({ what: text(), street: text(), city: text(), state: text(), postalCode: text() });
const person = () => new FormGroup({ name: text(), title: text(), phone: text(), email: text() });

/** Legal identity and brand, with what the registrar would decline beside each field. */
@Component({
  selector: 'lg-brand',
  providers: [TriesStore],
  imports: [
    BrandStanding,
    ChoiceField,
    Conflicts,
    Findings,
    History,
    MatButtonModule,
    MomentPipe,
    NgTemplateOutlet,
    Saved,
    Stages,
    TextField,
    Tries,
    WordsField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './brand.html',
  styles: `
    .two {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 0 14px;
    }
    @media (max-width: 900px) {
      .two {
        display: block;
      }
    }
    .inner {
      padding-left: 12px;
      border-left: 2px solid var(--hairline);
      margin-bottom: 12px;
    }
    .result span:first-child {
      margin-right: 6px;
    }
    .plaque h3 {
      margin: 18px 0 8px;
    }
    .plaque h3:first-child {
      margin-top: 0;
    }
    .result {
      font-size: 13px;
      margin: 0 0 8px;
    }
  `,
})
export class BrandPart {
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  private readonly store = inject(DossierStore);
  protected readonly session = inject(SessionFacade);
  protected readonly forms = choices(LEGAL_FORMS);
  protected readonly relations = choices(RELATIONS);
  protected readonly countries = COUNTRY_RULES.map(({ code, name }) => ({ value: code, label: name }));
  protected readonly industries = choices(INDUSTRIES);
  protected readonly brand = computed(() => this.store.dossier.value()?.brand ?? null);
  protected readonly form = new FormGroup({
    form: new FormControl<Body['form']>('private company', { nonNullable: true }),
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
    tradingName: text(),
    relation: new FormControl<Body['relation']>('own business', { nonNullable: true }),
    country: text('US'),
    regions: new FormControl<string[]>([], { nonNullable: true }),
    industry: new FormControl<Body['industry']>('', { nonNullable: true }),
    moreAddresses: new FormArray<ReturnType<typeof address>>([]),
    representatives: new FormArray<ReturnType<typeof person>>([]),
    statusEmail: text(),
  });
  protected readonly saving = new Autosave<Form>({
    save: async ({ taxNumber, ...body }, version) =>
      formOf(await this.store.saveBrand({ body, ...(taxNumber === '' ? {} : { taxNumber }) }, version)),
    read: async () => formOf((await this.store.read()).brand),
    lastChange: () => this.store.lastChange('brand', this.brand()?.id ?? ''),
    secret: ['taxNumber'],
  });
  protected readonly words = BRAND_WORDS;
  protected readonly names = { ...BRAND_WORDS, taxNumber: 'Tax number' };
  protected readonly body = computed<Body>(() => {
    const { taxNumber: _, ...body } = this.saving.value() ?? {
      form: 'private company',
      legalName: '',
      taxNumber: '',
      ...EMPTY_BRAND,
    };
    return body;
  });
  private readonly tax = computed(() => this.saving.value()?.taxNumber ?? '');
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly identity = computed(() => IDENTITY.filter((f) => !f.only || f.only === this.body().form));
  protected readonly place = PLACE;
  protected readonly reached = REACHED;
  protected readonly findings = computed(() =>
    numbered(
      reviewBrand({
        ...this.body(),
        taxNumber: this.tax(),
        taxNumberOnFile: this.tax() === '' && this.brand()?.taxNumberMasked !== '',
      }),
      ORDER,
    ),
  );
  private readonly tries = inject(TriesStore);
  /** A tax number that was typed is another than was submitted, or the same once more: either way it was looked at. */
  protected readonly untouched = (field: string): boolean | null =>
    field === 'taxNumber' ? this.tax() === '' : sameAt(this.tries.tries()[0]?.body, this.body(), field);
  protected readonly blocking = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  protected readonly cost = formatAmount(DEFAULT_PRICES.brand);
  protected readonly vetting = formatAmount(DEFAULT_PRICES.vetting);
  protected readonly vetted = computed(() => this.body().form !== 'sole proprietor');
  /** What keeps it from being submitted. */
  protected readonly obstacle = computed(() =>
    obstacleTo({ business: this.session.business(), cost: DEFAULT_PRICES.brand, blocking: this.blocking() }),
  );
  /** It can be written in at all. */
  protected readonly writable = computed(() => this.session.isAdministrator() && this.brand()?.state !== 'in review');

  constructor() {
    this.tries.about(computed(() => ({ of: 'brand' as const, id: this.brand()?.id ?? '' })));
    autosaved(this.form, this.saving, { moreAddresses: address, representatives: person });
    effect(() => {
      const b = this.brand();
      if (b) untracked(() => this.saving.take(`brand ${b.id}`, formOf(b)));
    });
    effect(() => {
      // Rows that come later are as locked as those that are there.
      this.body();
      for (const [key, control] of Object.entries(this.form.controls))
        if (this.locked(key)) control.disable({ emitEvent: false });
        else control.enable({ emitEvent: false });
    });
  }

  protected locked(field: string): boolean {
    return !this.writable() || (this.brand()?.state === 'registered' && LOCKED.includes(field));
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

  protected controlOf(key: Line['key']): FormControl<string> {
    return this.form.controls[key] as FormControl<string>;
  }
  protected wrong(key: string): boolean {
    return this.findings().some((f) => f.field === key && f.severity === 'block');
  }
  protected resultOf(key: string) {
    return this.brand()?.results.find((r) => r.field === key);
  }

  protected addAddress(): void {
    this.form.controls.moreAddresses.push(address());
  }
  /** One of the others becomes the physical one, and the one that was becomes another. */
  protected makePhysical(i: number): void {
    const row = this.form.controls.moreAddresses.at(i);
    const { street, city, state, postalCode } = this.form.getRawValue();
    const { what: _, ...chosen }: OtherAddress = row.getRawValue();
    row.setValue({ what: 'former place', street, city, state, postalCode }, { emitEvent: false });
    this.form.patchValue(chosen);
  }
  protected dropAddress(i: number): void {
    this.form.controls.moreAddresses.removeAt(i);
  }
  protected addPerson(): void {
    this.form.controls.representatives.push(person());
  }
  protected dropPerson(i: number): void {
    const rows = this.form.controls.representatives;
    const was: Representative = rows.at(i).getRawValue();
    rows.removeAt(i);
    this.say.done(`${was.name || 'The person'} is taken out.`, () => {
      const again = person();
      again.setValue(was);
      rows.insert(Math.min(i, rows.length), again);
    });
  }

  protected async submit(): Promise<void> {
    if (!(await this.saving.flush())) return;
    // What is asked about is what is submitted: a version that changed meanwhile is refused.
    const version = this.saving.version();
    const { form, legalName, street, city, state, postalCode, website, email } = this.body();
    const yes = await this.confirm.ask({
      title: 'Submit the brand?',
      line: `${this.cost} now, nothing monthly. The registrar answers in one to two days. Once verified, name, legal form and tax number are locked. Not refunded when declined.`,
      facts: [
        { name: 'Sent', value: `${legalName}, ${form}` },
        { name: 'Address', value: `${street}, ${city}, ${state} ${postalCode}` },
        { name: 'Reached at', value: `${website}, ${email}` },
      ],
      yes: `Submit for ${this.cost}`,
    });
    if (!yes) return;
    await this.acting.did(() => this.store.submitBrand(version));
  }
}
