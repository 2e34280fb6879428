import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { OptInPageEdit, type OptInPage } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { MomentPipe } from '../../parts/format';
import { Docket } from '../../parts/docket/docket';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { KIND_FIELDS, kindsIn, lineOfFault, linesOfKinds, NO_KINDS, type KindLines } from './kinds-of-text';
import { NEW, PagesStore } from './pages.store';
import { flag, text } from '../../parts/form/controls';

/** What stands in the form. */
interface Words extends KindLines {
  title: string;
  slug: string;
  intro: string;
  privacyUrl: string;
  termsUrl: string;
  numberId: string;
  published: boolean;
}

const FIELDS = [
  { key: 'title', label: 'Title', hint: '', lines: 1 },
  { key: 'slug', label: 'Address after /join/', hint: '', lines: 1 },
  { key: 'intro', label: 'A line of welcome', hint: '', lines: 3 },
  ...KIND_FIELDS,
  { key: 'privacyUrl', label: 'Privacy page', hint: '', lines: 1 },
  { key: 'termsUrl', label: 'Terms page', hint: '', lines: 1 },
] as const;

const BLANK: Words = {
  title: '',
  slug: '',
  intro: '',
  ...NO_KINDS,
  privacyUrl: '',
  termsUrl: '',
  numberId: '',
  published: true,
};
function formOf(p: OptInPage): Kept<Words> {
  const { title, slug, intro, privacyUrl, termsUrl, numberId, published } = p;
  return {
    value: {
      title,
      slug,
      intro,
      privacyUrl,
      termsUrl,
      numberId,
      published,
      ...linesOfKinds(p.purposes),
    },
    version: p.version,
  };
}
const bodyOf = (w: Words) => ({
  slug: w.slug,
  title: w.title,
  intro: w.intro,
  purposes: kindsIn(w),
  numberId: w.numberId,
  privacyUrl: w.privacyUrl,
  termsUrl: w.termsUrl,
  published: w.published,
});

/** Writes an opt-in page; it is saved when it is said, for its words are what people agree to. */
@Component({
  selector: 'lg-page-docket',
  imports: [
    ReactiveFormsModule,
    ChoiceField,
    Conflicts,
    Docket,
    Faults,
    Form,
    Saved,
    TextField,
    MatCheckboxModule,
    MatButtonModule,
    MomentPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket
      kind="Opt-in page"
      [name]="page()?.title ?? 'A new page'"
      [history]="page() ? 'page' : ''"
      [object]="page()?.id ?? ''"
      (closed)="store.choose(null)"
    >
      <lg-conflicts [of]="saving" [names]="names" />
      <form [lgForm]="form" (sent)="save()">
        @for (f of fields; track f.key) {
          <lg-text-field
            [control]="form.controls[f.key]"
            [label]="f.label"
            [hint]="f.hint"
            [name]="f.key"
            [lines]="f.lines"
          />
        }
        <lg-choice-field
          [control]="form.controls.numberId"
          label="Number that asks for YES"
          name="numberId"
          none="choose…"
          [choices]="numbers()"
        />
        <mat-checkbox class="check" [formControl]="form.controls.published">Published</mat-checkbox>
        <p class="soft small">
          Name, automated texts, no condition, rates, HELP, STOP and both pages are added to each kind. Changed words
          get a new version; whoever agreed keeps the words they saw.
        </p>
        <lg-faults [form]="form" />
        <p class="ends">
          <button type="submit" matButton="filled" [disabled]="store.acting.busy()">Save</button>
          <button type="button" matButton="outlined" (click)="cancel()">Cancel</button>
          <lg-saved [of]="saving" />
        </p>
      </form>
      @if (page(); as p) {
        <h3>For print</h3>
        <p>
          <span class="mono small">{{ address(p) }}</span>
        </p>
        <p>
          QR code as <a [href]="store.code(p.id, 'svg')" download>SVG</a> or
          <a [href]="store.code(p.id, 'png')" download>PNG</a>
        </p>
        <p>
          Form to be signed as <a [href]="store.paper(p.id, 1)" download>PDF</a>, or a
          <a [href]="store.paper(p.id, STACK)" download>stack of {{ STACK }}</a
          >; what is signed is filed by its scan
        </p>
      }
      @if (store.versions().length > 0) {
        <h3>As it was</h3>
        <ul class="versions">
          @for (v of store.versions(); track v.sha256) {
            <li>
              <a [href]="store.version(v.sha256)" download>{{ v.firstAt | moment }}</a>
              <span class="soft small">“{{ v.title }}”, words of version {{ v.pageVersion }}</span>
            </li>
          }
        </ul>
      }
    </lg-docket>
  `,
  styles: `
    form > p {
      margin: 10px 0;
    }
    h3 {
      margin: 14px 0 4px;
    }
    .versions a {
      margin-right: 6px;
    }
    .versions {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    .ends {
      display: flex;
      gap: 8px;
      align-items: center;
    }
  `,
})
export class PageDocket {
  /** The page that is edited; none for one that is being made. */
  readonly page = input.required<OptInPage | null>();
  protected readonly store = inject(PagesStore);
  /** Sheets for a counter. */
  protected readonly STACK = 50;
  protected readonly fields = FIELDS;
  protected readonly names = {
    ...Object.fromEntries(FIELDS.map((f) => [f.key, f.label])),
    numberId: 'Number that asks for YES',
    published: 'Published',
  };
  protected readonly form = new CheckedForm(
    {
      title: text(),
      slug: text(),
      intro: text(),
      informational: text(),
      informationalOften: text(),
      promotional: text(),
      promotionalOften: text(),
      privacyUrl: text(),
      termsUrl: text(),
      numberId: text(),
      published: flag(true),
    },
    OptInPageEdit,
    {
      body: bodyOf,
      // A fault of a kind that is offered stands at the line that says it.
      at: (path, words) => lineOfFault(path, words) ?? path,
    },
  );
  protected readonly saving = new Autosave<Words>({
    byHand: true,
    save: async (words, version) => formOf(await this.store.save(bodyOf(words), version)),
    read: async () => formOf(await this.store.readOpen()),
    lastChange: () => this.store.lastChange(),
  });
  protected readonly numbers = computed(() =>
    this.store.numbers().map((n) => ({
      value: n.id,
      label: `${formatPhone(n.e164)} ${n.label}${n.deciding ? ` (${n.deciding.why})` : ''}`,
    })),
  );

  constructor() {
    autosaved(this.form.group, this.saving);
    effect(() => {
      const p = this.page();
      untracked(() => {
        this.saving.take(
          `page ${p?.id ?? `${this.store.session.businessId()} ${NEW}`}`,
          p ? formOf(p) : { value: BLANK, version: 0 },
        );
      });
    });
  }

  protected readonly address = (p: OptInPage): string => `${location.origin}/join/${p.slug}`;

  protected async save(): Promise<void> {
    if (!(await this.saving.flush())) return;
    this.store.acting.done('Saved.');
    this.store.choose(null);
  }
  protected cancel(): void {
    this.saving.discard();
    this.store.choose(null);
  }
}
