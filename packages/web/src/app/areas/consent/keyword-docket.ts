import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { KeywordEdit, type Keyword } from '@long-gate/contracts';
import {
  answersFor,
  formatPhone,
  KEYWORD_COMERS,
  keywordAnswer,
  longestAnswer,
  readCodes,
  readReply,
  reviewKeyword,
  toldFor,
  type KeywordComer,
} from '@long-gate/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { base64Of } from '../../parts/base64-of';
import { Confirm } from '../../parts/confirm';
import { Docket } from '../../parts/docket/docket';
import { FileButton } from '../../parts/file-button';
import { Findings, numbered } from '../../parts/findings';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { readOf } from '../../parts/form/control-state';
import { flag, text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { segmentsOf } from '../../parts/segments-of';
import { KIND_FIELDS, kindsIn, lineOfFault, linesOfKinds, NO_KINDS, type KindLines } from './kinds-of-text';
import { KeywordsStore, NEW } from './keywords.store';

/** What stands in the form, with an answer for each kind of person. */
interface Words extends KindLines {
  title: string;
  numberId: string;
  words: string;
  told: string;
  place: string;
  termsUrl: string;
  doubleOptIn: boolean;
  new: string;
  already: string;
  back: string;
  active: boolean;
}
const ANSWERS: readonly { comer: KeywordComer; label: string }[] = [
  { comer: 'new', label: 'Answer to who is new' },
  { comer: 'already', label: 'Answer to who is in already' },
  { comer: 'back', label: 'Answer to who comes back' },
];
const ORDER = ['told', 'doubleOptIn', ...KEYWORD_COMERS.map((c) => `answers.${c}`)];

const BLANK: Words = {
  title: '',
  numberId: '',
  words: '',
  ...NO_KINDS,
  told: '',
  place: '',
  termsUrl: '',
  doubleOptIn: true,
  new: '',
  already: '',
  back: '',
  active: true,
};
function formOf(k: Keyword): Kept<Words> {
  const { title, numberId, told, place, termsUrl, doubleOptIn, active, answers } = k;
  return {
    value: {
      title,
      numberId,
      told,
      place,
      termsUrl,
      doubleOptIn,
      active,
      ...answers,
      words: k.words.join(', '),
      ...linesOfKinds(k.purposes),
    },
    version: k.version,
  };
}
const wordsIn = (w: Words): string[] => w.words.split(/[\s,;]+/).filter((x) => x !== '');
const bodyOf = (w: Words) => ({
  title: w.title,
  numberId: w.numberId,
  words: wordsIn(w),
  purposes: kindsIn(w),
  told: w.told,
  place: w.place,
  termsUrl: w.termsUrl,
  doubleOptIn: w.doubleOptIn,
  answers: { new: w.new, already: w.already, back: w.back },
  active: w.active,
});

/** Writes a keyword's programme; it is saved when it is said, for what people are told is what they agree to. */
@Component({
  selector: 'lg-keyword-docket',
  imports: [
    ReactiveFormsModule,
    ChoiceField,
    Conflicts,
    Docket,
    Faults,
    FileButton,
    Findings,
    Form,
    MatButtonModule,
    MatCheckboxModule,
    Saved,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket
      kind="Keyword"
      [name]="keyword()?.title ?? 'A new keyword'"
      [history]="keyword() ? 'keyword' : ''"
      [object]="keyword()?.id ?? ''"
      (closed)="store.choose(null)"
    >
      <lg-conflicts [of]="saving" [names]="names" />
      <form [lgForm]="form" (sent)="save()">
        <lg-text-field [control]="form.controls.title" label="Programme" name="title" />
        <lg-text-field
          [control]="form.controls.words"
          label="Words people text"
          hint="commas between"
          name="words"
          mono
        />
        <lg-choice-field
          [control]="form.controls.numberId"
          label="To the number"
          name="numberId"
          none="choose…"
          [choices]="numbers()"
        />
        @if (silent()) {
          <p class="stop">Nobody can text it: the number is not in service. Choose another, or pause it.</p>
        }
        @for (f of kinds; track f.key) {
          <lg-text-field
            [control]="form.controls[f.key]"
            [label]="f.label"
            [hint]="f.hint"
            [name]="f.key"
            [lines]="f.lines"
          />
        }
        <lg-text-field
          [control]="form.controls.told"
          label="The words people read or hear, to the letter"
          name="told"
          [lines]="5"
          [most]="4000"
        />
        <lg-findings [findings]="findings()" field="told" />
        <lg-text-field
          [control]="form.controls.place"
          label="Where they read or hear it"
          hint="a sign, a radio line"
          name="place"
        />
        <lg-text-field [control]="form.controls.termsUrl" label="Terms page" name="termsUrl" />
        <mat-checkbox class="check" [formControl]="form.controls.doubleOptIn">Ask for a YES first</mat-checkbox>
        <lg-findings [findings]="findings()" field="doubleOptIn" />
        @for (a of answers; track a.comer) {
          <lg-text-field
            [control]="form.controls[a.comer]"
            [label]="a.label"
            [hint]="measured()[a.comer]"
            [name]="a.comer"
            [lines]="3"
            [most]="640"
          />
          @if (filled()[a.comer]; as words) {
            <p class="said">{{ words }}</p>
          }
          <lg-findings [findings]="findings()" [field]="'answers.' + a.comer" />
        }
        <p class="soft small">
          Fields: [firstName|traveller], [code|ask at the counter].
          @if (offers() && !written()) {
            <button type="button" matButton class="plain" (click)="propose()">Propose words and answers</button>
          }
        </p>
        <mat-checkbox class="check" [formControl]="form.controls.active">Live</mat-checkbox>
        <lg-faults [form]="form" />
        @if (store.session.isAdministrator()) {
          <p class="ends">
            <button type="submit" matButton="filled" [disabled]="store.acting.busy()">Save</button>
            <button type="button" matButton="outlined" (click)="cancel()">Cancel</button>
            <lg-saved [of]="saving" />
          </p>
        }
      </form>
      <section>
        <h3>What a text would be taken for</h3>
        <lg-text-field [control]="tried" label="A text as somebody may write it" name="tried" />
        @if (taken(); as t) {
          <p role="status">{{ t }}</p>
        }
        @if (keyword(); as k) {
          <h3>Codes</h3>
          <p>
            {{ k.codes.given.toLocaleString('en-US') }} given, {{ k.codes.left.toLocaleString('en-US') }} left; each to
            one person, who gets the same one again.
          </p>
          @if (store.session.isAdministrator()) {
            <lg-text-field [control]="codes" label="Further codes" hint="one a line" name="codes" [lines]="3" />
            @if (pasted(); as p) {
              <p class="soft small" role="status">{{ p }}</p>
            }
            <p class="ends">
              <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="addCodes(k)">
                Add them
              </button>
              @if (k.codes.left > 0) {
                <button
                  type="button"
                  matButton
                  class="plain stop"
                  [disabled]="store.acting.busy()"
                  (click)="dropCodes(k)"
                >
                  Take away those nobody was given…
                </button>
              }
            </p>
          }
          <h3>Picture of the sign</h3>
          <p>
            @if (k.picture; as p) {
              <a [href]="store.picture(k.id)" download>{{ p.name }}</a>
              <span class="mono soft small digest">SHA-256 {{ p.sha256 }}</span>
            } @else {
              <span class="soft">None. It is proof of what people were told.</span>
            }
          </p>
          @if (store.session.isAdministrator()) {
            <lg-file-button
              accept="image/png,image/jpeg,application/pdf"
              [disabled]="store.acting.busy()"
              (chosen)="keepPicture(k, $event)"
              >{{ k.picture ? 'Another picture' : 'Choose a picture' }}</lg-file-button
            >
          }
        }
      </section>
    </lg-docket>
  `,
  styles: `
    h3 {
      margin: 18px 0 6px;
    }
    form {
      margin-top: 10px;
    }
    form > p {
      margin: 10px 0;
    }
    form > .said {
      margin: -6px 0 12px;
      padding-left: 10px;
      border-left: 1px solid var(--hairline);
      color: var(--ink-soft);
      font-size: 13px;
    }
    mat-checkbox {
      display: block;
      margin-bottom: 10px;
    }
    .ends {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
    }
    .digest {
      display: block;
      overflow-wrap: anywhere;
    }
  `,
})
export class KeywordDocket {
  /** The programme that is edited; none for one that is begun. */
  readonly keyword = input.required<Keyword | null>();
  protected readonly store = inject(KeywordsStore);
  private readonly confirm = inject(Confirm);
  protected readonly answers = ANSWERS;
  protected readonly kinds = KIND_FIELDS;
  protected readonly names = {
    title: 'Programme',
    words: 'Words people text',
    numberId: 'To the number',
    ...Object.fromEntries(this.kinds.map((f) => [f.key, f.label])),
    told: 'The words people read or hear',
    place: 'Where they read or hear it',
    termsUrl: 'Terms page',
    doubleOptIn: 'Ask for a YES first',
    ...Object.fromEntries(ANSWERS.map((a) => [a.comer, a.label])),
    active: 'Live',
  };
  protected readonly form = new CheckedForm(
    {
      title: text(),
      numberId: text(),
      words: text(),
      informational: text(),
      informationalOften: text(),
      promotional: text(),
      promotionalOften: text(),
      told: text(),
      place: text(),
      termsUrl: text(),
      doubleOptIn: flag(true),
      new: text(),
      already: text(),
      back: text(),
      active: flag(true),
    },
    KeywordEdit,
    {
      body: bodyOf,
      // A fault of a kind that is offered stands at the line that says it, one of a word or an answer at its field.
      at: (path, words) => {
        if (path.startsWith('words')) return 'words';
        if (path.startsWith('answers.')) return path.slice('answers.'.length);
        return lineOfFault(path, words) ?? path;
      },
    },
  );
  protected readonly saving = new Autosave<Words>({
    byHand: true,
    save: async (words, version) => formOf(await this.store.save(bodyOf(words), version)),
    read: async () => formOf(await this.store.readOpen()),
    lastChange: () => this.store.lastChange(),
  });
  protected readonly numbers = computed(() => this.store.numberChoices(this.keyword()?.numberId ?? ''));
  protected readonly silent = computed(() => {
    const k = this.keyword();
    return k !== null && k.active && this.store.outOfService(k.numberId);
  });
  protected readonly tried = text();
  protected readonly codes = text();
  private readonly value = toSignal(this.form.group.valueChanges, { initialValue: this.form.group.value });
  private readonly now = computed((): Words => ({ ...BLANK, ...this.value() }));
  private readonly programmes = computed(() => bodyOf(this.now()).purposes);
  protected readonly offers = computed(() => this.programmes().length > 0);
  protected readonly written = computed(() => KEYWORD_COMERS.some((c) => this.now()[c].trim() !== ''));
  private readonly longestCode = computed(() =>
    'X'.repeat(Math.max(8, ...readCodes(this.pastedText()).codes.map((c) => c.length))),
  );
  private readonly pastedText = readOf(
    () => this.codes,
    (c) => c.value,
  );
  private readonly triedText = readOf(
    () => this.tried,
    (c) => c.value,
  );
  private readonly about = computed(() => {
    const b = this.store.session.business();
    return { legalName: b?.legalName ?? '', nameLine: b?.nameLine ?? '' };
  });
  /** What is found while it is written; nothing of a form in which nothing stands. */
  protected readonly findings = computed(() => {
    const w = this.now();
    if (w.told.trim() === '' && !this.written()) return numbered([], ORDER);
    const draft = {
      words: wordsIn(w).map((x) => x.toUpperCase()),
      programmes: this.programmes(),
      told: w.told,
      doubleOptIn: w.doubleOptIn,
      answers: { new: w.new, already: w.already, back: w.back },
    };
    return numbered(reviewKeyword(draft, this.about(), this.longestCode()), ORDER);
  });
  private each<T>(of: (answer: string) => T): Record<KeywordComer, T> {
    const w = this.now();
    return { new: of(w.new), already: of(w.already), back: of(w.back) };
  }
  /** How long each answer gets, with a long name and code. */
  protected readonly measured = computed(() =>
    this.each((a) => {
      if (a.trim() === '') return '';
      const { units } = longestAnswer(a, this.longestCode());
      return `${segmentsOf(keywordAnswer(a, { firstName: 'Bartholomew', code: this.longestCode() }))}, ${units} at most`;
    }),
  );
  /** Each answer as somebody gets it, where fields stand in it. */
  protected readonly filled = computed(() =>
    this.each((a) => (/\[\w+/.test(a) ? keywordAnswer(a, { firstName: 'Maren', code: 'K7-204' }) : '')),
  );
  protected readonly taken = computed(() => {
    const words = this.triedText();
    if (words.trim() === '') return '';
    const { intent, matched } = readReply(words, { keywords: wordsIn(this.now()) });
    switch (intent) {
      case 'join':
        return `It joins, by ${matched.toUpperCase()}.`;
      case 'stop':
        return 'It is a wish to stop, whatever word stands beside it.';
      case 'start':
        return 'It comes back to what was in force before a stop.';
      case 'help':
        return 'It asks for help.';
      case 'yes':
        return 'It is a YES: it joins only as the answer to a request.';
      default:
        return 'It is an ordinary text; staff read it.';
    }
  });
  protected readonly pasted = computed(() => {
    const { codes, twice, refused } = readCodes(this.pastedText());
    if (codes.length + twice + refused.length === 0) return '';
    const parts = [`${codes.length.toLocaleString('en-US')} code${codes.length === 1 ? '' : 's'}`];
    if (twice > 0) parts.push(`${twice} there twice, taken once`);
    if (refused.length > 0) parts.push(`${refused.length} left out, too long or with brackets: “${refused[0] ?? ''}”`);
    return parts.join('; ');
  });

  constructor() {
    autosaved(this.form.group, this.saving);
    effect(() => {
      const k = this.keyword();
      untracked(() => {
        this.saving.take(
          `keyword ${k?.id ?? `${this.store.session.businessId()} ${NEW}`}`,
          k ? formOf(k) : { value: BLANK, version: 0 },
        );
      });
    });
    effect(() => {
      const mayEdit = this.store.session.isAdministrator();
      untracked(() => {
        if (mayEdit) this.form.group.enable({ emitEvent: false });
        else this.form.group.disable({ emitEvent: false });
      });
    });
  }

  /** Puts words and answers that say all they have to into the form. */
  protected propose(): void {
    const [w, { nameLine }] = [this.now(), this.about()];
    const number = this.store.numbers()?.get(w.numberId);
    const [word] = wordsIn(w);
    this.form.group.patchValue({
      ...answersFor(nameLine, this.programmes()),
      ...(w.told.trim() === '' && word && number
        ? { told: toldFor(nameLine, word.toUpperCase(), formatPhone(number.e164), this.programmes(), w.termsUrl) }
        : {}),
    });
  }
  protected async save(): Promise<void> {
    if (!(await this.saving.flush())) return;
    this.store.acting.done('Saved.');
    this.store.choose(null);
  }
  protected cancel(): void {
    this.saving.discard();
    this.store.choose(null);
  }
  protected async addCodes(k: Keyword): Promise<void> {
    const { codes } = readCodes(this.codes.value);
    if (codes.length === 0) {
      this.store.acting.refused('There is no code in it yet. Paste them, one a line.');
      return;
    }
    const answer = await this.store.addCodes(k.id, codes);
    if (!answer) return;
    this.codes.setValue('');
    const { added, known } = answer;
    this.store.acting.done(
      `${added === 1 ? 'One code is' : `${added.toLocaleString('en-US')} codes are`} added${known > 0 ? `; ${known.toLocaleString('en-US')} were there already` : ''}.`,
    );
  }
  protected async dropCodes(k: Keyword): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Take away ${k.codes.left.toLocaleString('en-US')} code${k.codes.left === 1 ? '' : 's'}`,
      line: 'Nobody was given them. Who joins from now on gets the words that stand in a code’s place.',
      yes: 'Take them away',
    });
    if (yes) await this.store.dropCodes(k.id);
  }
  protected async keepPicture(k: Keyword, file: File): Promise<void> {
    const base64 = await this.store.acting.run(() => base64Of(file));
    if (base64) await this.store.keepPicture(k.id, file.name, base64);
  }
}
