import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { FormArray, FormControl, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { EMPTY_TOLL_FREE, type TollFreeBodyValue, type TollFreeView } from '@long-gate/contracts';
import { reviewTollFree, TOLL_FREE_VOLUMES, USE_CASES, useCase, type About } from '@long-gate/core';
import { ApiProblem } from '../../api/api';
import { Acting } from '../../parts/acting';
import { base64Of } from '../../parts/base64-of';
import { Confirm } from '../../parts/confirm';
import { FileButton } from '../../parts/file-button';
import { Findings, numbered } from '../../parts/findings';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { ChoiceField } from '../../parts/form/choice-field';
import { text } from '../../parts/form/controls';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { MomentPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { MarkedText } from '../../parts/marked-text';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';
import { obstacleTo } from './obstacle';
import { sameAt, TOLL_FREE_WORDS } from './filing-words';
import { Samples } from './samples';
import { Stages } from './stages';
import { Tries } from './tries';
import { TriesStore } from './tries.store';

/** What stands in the form: a choice holds words, also where it means a number. */
type Form = Omit<TollFreeBodyValue, 'volume'> & { volume: string };
const formOf = (v: TollFreeView): Kept<Form> => ({
  value: { ...v.body, volume: v.body.volume === 0 ? '' : String(v.body.volume) },
  version: v.version,
});
const bodyOf = (f: Form): TollFreeBodyValue => ({ ...f, volume: Number(f.volume) });
const ORDER = ['useCase', 'volume', 'description', 'agreement', 'samples', 'proofUrl'];

/** What one toll-free number is verified for, with what would be declined beside each field. */
@Component({
  selector: 'lg-toll-free',
  providers: [TriesStore],
  imports: [
    ChoiceField,
    Conflicts,
    FileButton,
    Findings,
    History,
    MarkedText,
    MatButtonModule,
    MomentPipe,
    NgTemplateOutlet,
    Samples,
    Saved,
    Stages,
    TextField,
    Tries,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './toll-free.html',
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
    .proof {
      display: flex;
      gap: 10px;
      align-items: center;
      flex-wrap: wrap;
      margin: 0 0 12px;
    }
  `,
})
export class TollFreePart {
  readonly numberId = input.required<string>();
  private readonly store = inject(DossierStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  protected readonly view = computed(
    () => this.store.dossier.value()?.tollFree.find((v) => v.numberId === this.numberId()) ?? null,
  );
  protected readonly uses = USE_CASES.map((u) => ({ value: u.code, label: u.label }));
  protected readonly volumes = TOLL_FREE_VOLUMES.map((v) => ({
    value: String(v),
    label: `up to ${v.toLocaleString('en-US')} a month`,
  }));
  /** Our own opt-in pages, which show where people agree. */
  protected readonly pages = computed(() => this.store.pages().map((page) => `${location.origin}/join/${page.slug}`));
  protected readonly form = new FormGroup({
    useCase: new FormControl<string>('', { nonNullable: true }),
    volume: text(),
    description: text(),
    agreement: text(),
    samples: new FormArray<FormControl<string>>([]),
    proofUrl: text(),
  });
  protected readonly saving = new Autosave<Form>({
    save: async (value, version) => formOf(await this.store.saveTollFree(this.numberId(), bodyOf(value), version)),
    read: async () => {
      const now = (await this.store.read()).tollFree.find((v) => v.numberId === this.numberId());
      if (!now) throw new ApiProblem(404, 'not-found', 'This number is not there any more.', []);
      return formOf(now);
    },
    lastChange: () => this.store.lastChange('number', this.numberId()),
  });
  protected readonly names = TOLL_FREE_WORDS;
  protected readonly long = [
    { key: 'description', label: 'What is sent, to whom, why' },
    { key: 'agreement', label: 'How people agree' },
  ] as const;
  protected readonly body = computed(() => bodyOf(this.saving.value() ?? { ...EMPTY_TOLL_FREE, volume: '' }));
  private readonly about = computed<About>(() => {
    const d = this.store.dossier.value();
    const { legalName = '', form, website } = d?.brand.body ?? {};
    return { nameLine: d?.nameLine ?? '', legalName, ...(form ? { form } : {}), ...(website ? { website } : {}) };
  });
  protected readonly findings = computed(() =>
    numbered(reviewTollFree({ ...this.body(), hasPicture: Boolean(this.view()?.proof) }, this.about()), ORDER),
  );
  protected readonly untouched = (field: string): boolean | null =>
    sameAt(this.view()?.lastSubmitted, this.body(), field);
  protected readonly blocking = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  protected readonly frozen = computed(
    () => !this.session.isAdministrator() || !['draft', 'declined'].includes(this.view()?.state ?? ''),
  );
  protected readonly obstacle = computed(() =>
    obstacleTo({
      business: this.session.business(),
      cost: 0,
      blocking: this.blocking(),
      brand: this.store.dossier.value()?.brand.state ?? 'draft',
    }),
  );
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;

  constructor() {
    inject(TriesStore).about(computed(() => ({ of: 'toll-free' as const, id: this.numberId() })));
    autosaved(this.form, this.saving);
    effect(() => {
      if (this.frozen()) this.form.disable({ emitEvent: false });
      else this.form.enable({ emitEvent: false });
    });
    effect(() => {
      const v = this.view();
      if (v) untracked(() => this.saving.take(`toll-free ${v.numberId}`, formOf(v)));
    });
  }

  protected of(field: string) {
    return this.findings().filter((f) => f.field === field);
  }
  protected marked(field: string) {
    return this.of(field).filter((f) => f.span);
  }
  /** What the registrar said of a field; of what it calls by another name too. */
  protected answers(field: string) {
    return (this.view()?.reasons ?? [])
      .map((r) => (r.field === 'proof' ? { ...r, field: 'proofUrl' } : r))
      .filter((r) => r.field === field);
  }
  protected proofFile(): string {
    return this.store.proofFile(this.numberId());
  }

  protected async upload(file: File): Promise<void> {
    if (!(await this.saving.flush())) return;
    await this.acting.did(async () =>
      this.store.uploadProof(this.numberId(), { name: file.name, base64: await base64Of(file) }),
    );
  }

  protected async submit(): Promise<void> {
    if (!(await this.saving.flush())) return;
    const version = this.saving.version();
    const { useCase: code, volume } = this.body();
    const yes = await this.confirm.ask({
      title: 'Have this number verified?',
      line: 'Nothing now, nothing monthly beside the number’s own fee. The registrar answers in three to five days. What it is for can’t be changed afterwards.',
      facts: [
        { name: 'Use', value: useCase(code)?.label ?? code },
        { name: 'Texts a month', value: `up to ${volume.toLocaleString('en-US')}` },
      ],
      yes: 'Submit it',
    });
    if (yes) await this.acting.did(() => this.store.submitTollFree(this.numberId(), version));
  }
}
