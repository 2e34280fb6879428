import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { FormArray, FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { EMPTY_CAMPAIGN, type CampaignBodyValue, type CampaignTry, type CampaignView } from '@long-gate/contracts';
import {
  DEFAULT_PRICES,
  draftAgreement,
  DRIFTED,
  driftFrom,
  formatAmount,
  isMendable,
  mendOf,
  readinessOf,
  reviewCampaign,
  throughputOf,
  useCase,
  type About,
  type CampaignDraft,
  type Finding,
} from '@long-gate/core';
import { RouterLink } from '@angular/router';
import { ApiProblem } from '../../api/api';
import { Acting } from '../../parts/acting';
import { Confirm } from '../../parts/confirm';
import { CountPipe, MomentPipe, MoneyPipe, PhonePipe, RatePipe } from '../../parts/format';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { WordsField } from '../../parts/form/words-field';
import { History } from '../../parts/history';
import { MarkedText } from '../../parts/marked-text';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { CampaignStanding } from './campaign-standing';
import { Tries } from './tries';
import { CAMPAIGN_WORDS, differencesBetween, sameAt } from './filing-words';
import { DossierStore } from './dossier.store';
import { obstacleTo } from './obstacle';
import { segmentsOf } from '../../parts/segments-of';
import { Samples } from './samples';
import { Stages } from './stages';
import { TriesStore } from './tries.store';
import { Findings, numbered } from '../../parts/findings';
import { flag, text } from '../../parts/form/controls';

type Body = CampaignBodyValue;
type TextKey =
  'description' | 'agreement' | 'optInMessage' | 'optOutMessage' | 'helpMessage' | 'privacyUrl' | 'termsUrl';
const ORDER = [
  'useCase',
  'description',
  'agreement',
  'samples',
  'hasLinks',
  'hasPhones',
  'optInMessage',
  'optOutMessage',
  'helpMessage',
  'privacyUrl',
  'privacyWords',
  'termsUrl',
  'subUses',
];
const EMPTY: Body = { useCase: 'marketing', ...EMPTY_CAMPAIGN };
/** What stands in the form; there is always a sample to write. */
type Form = Body & { name: string };
const formOf = (c: CampaignView): Kept<Form> => ({
  value: { ...c.body, name: c.name, samples: c.body.samples.length > 0 ? c.body.samples : [''] },
  version: c.version,
});

/** One campaign, with findings beside the very words they speak of. */
@Component({
  selector: 'lg-campaign',
  providers: [TriesStore],
  imports: [
    Tries,
    NgTemplateOutlet,
    RouterLink,
    ReactiveFormsModule,
    TextField,
    Saved,
    Conflicts,
    MatCheckboxModule,
    MatButtonModule,
    Samples,
    CampaignStanding,
    Stages,
    WordsField,
    Findings,
    MarkedText,
    History,
    MomentPipe,
    MoneyPipe,
    CountPipe,
    PhonePipe,
    RatePipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './campaign.html',
  styles: `
    .marked {
      display: block;
      margin: 4px 0 0;
      padding: 4px 9px;
      border-left: 2px solid var(--hairline);
      font-size: 13px;
    }
    .declared {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px 24px;
      padding: 4px 0 14px;
    }
    h3 {
      margin: 6px 0 8px;
    }
    .ties {
      margin: 8px 0 4px;
    }
    .on {
      margin: -8px 0 10px;
    }
    .changed del {
      margin: 0 4px;
    }
    .changed li {
      padding: 2px 0;
      overflow-wrap: anywhere;
      font-size: 13px;
    }
  `,
})
export class CampaignPart {
  readonly campaignId = input.required<string>();
  /** Stands before the names of its fields, where several campaigns are open. */
  readonly at = input('');
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  private readonly store = inject(DossierStore);
  private readonly tries = inject(TriesStore);
  protected readonly session = inject(SessionFacade);
  protected readonly campaign = computed(
    () => this.store.dossier.value()?.campaigns.find((c) => c.id === this.campaignId()) ?? null,
  );
  protected readonly dossier = this.store.dossier;
  protected readonly form = new FormGroup({
    name: text(),
    useCase: new FormControl<Body['useCase']>('marketing', { nonNullable: true }),
    description: text(),
    agreement: text(),
    samples: new FormArray<FormControl<string>>([]),
    hasLinks: flag(),
    hasPhones: flag(),
    ageRestricted: flag(),
    lending: flag(),
    optInMessage: text(),
    optOutMessage: text(),
    helpMessage: text(),
    privacyUrl: text(),
    privacyWords: text(),
    termsUrl: text(),
    agreementDrafted: text(),
    subUses: new FormControl<Body['subUses']>([], { nonNullable: true }),
  });
  protected readonly saving = new Autosave<Form>({
    save: async ({ name, ...body }, version) =>
      formOf(await this.store.saveCampaign(this.campaignId(), { name, body }, version)),
    read: async () => {
      const { campaigns } = await this.store.read();
      const now = campaigns.find((c) => c.id === this.campaignId());
      if (!now) throw new ApiProblem(404, 'not-found', 'This campaign is not there any more.', []);
      return formOf(now);
    },
    lastChange: () => this.store.lastChange('campaign', this.campaignId()),
  });
  protected readonly words = CAMPAIGN_WORDS;
  protected readonly names = { ...CAMPAIGN_WORDS, name: 'Name' };
  protected readonly long = [
    { key: 'description', label: 'What is sent, to whom, why' },
    { key: 'agreement', label: 'How people agree' },
  ] as const;
  protected readonly messages = [
    { key: 'optInMessage', label: 'Joining message', on: 'YES, START, UNSTOP' },
    {
      key: 'optOutMessage',
      label: 'Answer to STOP',
      on: 'STOP, STOPALL, UNSUBSCRIBE, CANCEL, END, QUIT, REVOKE, OPT OUT, and any other clear wish',
    },
    { key: 'helpMessage', label: 'Answer to HELP', on: 'HELP, INFO' },
  ] as const;
  protected readonly pages = [
    { key: 'privacyUrl', label: 'Privacy page' },
    { key: 'termsUrl', label: 'Terms page' },
  ] as const;
  protected readonly declared = [
    { key: 'hasLinks', label: 'Texts carry links' },
    { key: 'ageRestricted', label: 'Age-restricted' },
    { key: 'hasPhones', label: 'Texts carry phone numbers' },
    { key: 'lending', label: 'Direct lending' },
  ] as const;
  protected readonly name = computed(() => this.saving.value()?.name ?? '');
  protected readonly body = computed<Body>(() => {
    const { name: _, ...body } = this.saving.value() ?? { ...EMPTY, name: '' };
    return body;
  });
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;

  protected readonly use = computed(() => useCase(this.body().useCase));
  /** What it is held against: the business, its site, and the campaigns begun before it. */
  private readonly about = computed<About>(() => {
    const d = this.store.dossier.value();
    const all = d?.campaigns ?? [];
    const at = all.findIndex((c) => c.id === this.campaignId());
    const { legalName = '', form, website } = d?.brand.body ?? {};
    return {
      nameLine: d?.nameLine ?? '',
      legalName,
      others: all.slice(0, Math.max(0, at)).map((c) => c.body),
      ...(form ? { form } : {}),
      ...(website ? { website } : {}),
    };
  });
  protected readonly findings = computed(() => numbered(reviewCampaign(this.body(), this.about()), ORDER));
  protected readonly readiness = computed(() => readinessOf(this.findings()));
  protected readonly odds = computed(() => {
    const r = this.readiness();
    return r.is === 'likely' ? r.rate : null;
  });
  protected readonly untouched = (field: string): boolean | null =>
    sameAt(this.campaign()?.lastSubmitted, this.body(), field);
  protected readonly mendable = (f: Finding): boolean => !this.frozen() && isMendable(f.code);
  protected readonly blocking = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  /** What keeps it from being submitted. */
  protected readonly obstacle = computed(() =>
    obstacleTo({
      business: this.session.business(),
      cost: DEFAULT_PRICES.campaignReview,
      blocking: this.blocking(),
      brand: this.dossier.value()?.brand.state ?? 'draft',
      emailMissing: this.dossier.value()?.brand.emailMissing ?? false,
    }),
  );
  /** What another score or another use would give, and cost by the month. */
  protected readonly otherwise = computed(() => {
    const brand = this.dossier.value()?.brand;
    if (!brand || brand.body.form === 'sole proprietor') return [];
    const { form } = brand.body;
    const code = this.body().useCase;
    const of = (words: string, score: number | null, other: string) => ({
      words,
      ...throughputOf(form, score, other),
      monthly: useCase(other)?.monthly ?? 0,
    });
    const low = 'low-volume-mixed';
    return [
      ...(code === low
        ? [of('as a mixed campaign', brand.score, 'mixed')]
        : [of('as low-volume mixed', brand.score, low)]),
      ...(code !== low && (brand.score ?? 0) < 50 ? [of('with a score of 50 to 74', 60, code)] : []),
      ...(code !== low && (brand.score ?? 0) < 75 ? [of('with a score of 75 or more', 90, code)] : []),
    ];
  });
  protected readonly firstYear = computed(() => DEFAULT_PRICES.campaignReview + 12 * (this.use()?.monthly ?? 0));
  protected readonly frozen = computed(
    () =>
      !this.session.isAdministrator() || !(this.campaign()?.state === 'draft' || this.campaign()?.state === 'declined'),
  );
  /** The registrar has it in its books, also where it may not be used for now. */
  protected readonly approved = computed(() =>
    ['registered', 'suspended', 'expired'].includes(this.campaign()?.state ?? ''),
  );
  protected readonly review = formatAmount(DEFAULT_PRICES.campaignReview);
  /** “How people agree” as the opt-in pages say it now. */
  protected readonly drafted = computed(() =>
    draftAgreement(
      this.store.pages().map((page) => ({
        address: `${location.host}/join/${page.slug}`,
        title: page.title,
        purposes: page.purposes,
      })),
    ),
  );
  /** It was drafted from the pages, and they say otherwise now. */
  protected readonly pagesDiffer = computed(
    () => this.body().agreementDrafted !== '' && this.body().agreementDrafted !== this.drafted(),
  );
  /** Texts that were sent and are no samples yet, each once. */
  protected readonly sendable = computed(() => {
    const samples = new Set(this.body().samples.map((s) => s.trim()));
    return [...new Set(this.store.sent().map((t) => t.text))].filter((t) => !samples.has(t)).slice(0, 12);
  });
  /** What was sent under it lately and speaks of something else than it was registered for. */
  protected readonly drifted = computed(() =>
    this.store
      .sent()
      .filter((t) => t.campaignId === this.campaignId())
      .filter((t) => (driftFrom(t.text, this.body(), this.about().nameLine) ?? 0) >= DRIFTED),
  );
  protected readonly sentUnder = computed(
    () => this.store.sent().filter((t) => t.campaignId === this.campaignId()).length,
  );
  /** What differs from what was submitted last: shown before a resubmission. */
  protected readonly changes = computed(() => {
    const last = this.campaign()?.lastSubmitted;
    if (!last || this.campaign()?.state !== 'declined') return [];
    return differencesBetween(last, this.body(), CAMPAIGN_WORDS);
  });

  constructor() {
    this.tries.about(computed(() => ({ of: 'campaign' as const, id: this.campaignId() })));
    autosaved(this.form, this.saving);
    effect(() => {
      if (this.frozen()) this.form.disable({ emitEvent: false });
      else this.form.enable({ emitEvent: false });
    });
    effect(() => {
      const c = this.campaign();
      if (c) untracked(() => this.saving.take(`campaign ${c.id}`, formOf(c)));
    });
  }

  protected of(field: string) {
    return this.findings().filter((f) => f.field === field);
  }
  protected marked(field: string) {
    return this.of(field).filter((f) => f.span);
  }
  protected readonly segments = segmentsOf;

  protected valueOf(key: TextKey): string {
    return this.body()[key];
  }
  protected counted(key: TextKey): string {
    return `${this.valueOf(key).length.toLocaleString('en-US')} of 2,048`;
  }
  /** Says how people agree from the pages there are; what stood there comes back on undo. */
  protected draftIt(): void {
    const { agreement, agreementDrafted } = this.body();
    const drafted = this.drafted();
    this.put({ agreement: drafted, agreementDrafted: drafted });
    this.say.done('It says what your opt-in pages say. Read it once more.', () =>
      this.put({ agreement, agreementDrafted }),
    );
  }
  /** Mends what one click can; taken back as long as nobody wrote there since. */
  protected mend(f: Finding): void {
    const before = this.body();
    const made = mendOf(f, before, this.about());
    if (!made) return;
    this.put(made);
    const undo = (): void => {
      const keys = Object.keys(made) as (keyof CampaignDraft)[];
      if (keys.some((k) => JSON.stringify(this.body()[k]) !== JSON.stringify(made[k])))
        return this.say.done('It was changed since; it stays as it is.');
      this.put(Object.fromEntries(keys.map((k) => [k, before[k]])));
    };
    this.say.done('It is mended. Read it once more before you submit it.', undo);
  }

  /** What goes to the registrar, in short. */
  private sent(): { name: string; value: string }[] {
    const { description, samples, subUses } = this.body();
    return [
      { name: 'Use', value: [this.use()?.label ?? '', ...subUses.map((u) => useCase(u)?.label ?? u)].join(', ') },
      { name: 'What is sent', value: description },
      { name: 'Samples', value: String(samples.filter((sample) => sample.trim() !== '').length) },
      ...this.changes().map((d) => ({ name: `${d.what}, changed`, value: d.after })),
    ];
  }

  private put({ samples, ...others }: Partial<Body>): void {
    samples?.forEach((s, i) => this.form.controls.samples.at(i).setValue(s));
    this.form.patchValue(others);
  }

  protected async submit(): Promise<void> {
    if (!(await this.saving.flush())) return;
    // What is asked about is what is submitted: a version that changed meanwhile is refused.
    const version = this.saving.version();
    const monthly = formatAmount(this.use()?.monthly ?? 0);
    // After three declines their reasons are read once more, beside each other, before a fourth is paid for.
    const declined = this.tries.tries().filter((t) => t.state === 'declined');
    const again = declined.length >= 3;
    const yes = await this.confirm.ask({
      title: again ? `Submit ${this.name()} for the ${declined.length + 1}th time?` : `Submit ${this.name()}?`,
      line: `${this.review} now, ${monthly} monthly from approval. The registrar answers in two to five days. The use case can’t be changed afterwards. Not refunded when declined.${again ? ' Has each of these reasons been met?' : ''}`,
      facts: again ? [...declined].reverse().map(reasonsOfTry) : this.sent(),
      yes: `Submit for ${this.review}`,
    });
    if (!yes) return;
    await this.acting.did(() => this.store.submitCampaign(this.campaignId(), version));
  }
}

/** What a try was declined for, as one named fact. */
const reasonsOfTry = (t: Pick<CampaignTry, 'attempt' | 'reasons'>): { name: string; value: string } => ({
  name: `Try ${t.attempt}`,
  value: t.reasons.map((r) => r.message).join(' '),
});
