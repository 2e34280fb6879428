import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatInputModule } from '@angular/material/input';
import { Router, RouterLink } from '@angular/router';
import { OptInPageEdit } from '@long-gate/contracts';
import { ASKED, disclosureOf, formatPhone, LANGUAGE_NAMES, reviewPage, type PageSeen } from '@long-gate/core';
import { base64Of } from '../../../parts/base64-of';
import { FileButton } from '../../../parts/file-button';
import { Findings, numbered } from '../../../parts/findings';
import { Autosave } from '../../../parts/form/autosave';
import { autosaved } from '../../../parts/form/autosaved';
import { CheckedForm } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { flag, text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { Conflicts, Saved } from '../../../parts/form/saving';
import { TextField } from '../../../parts/form/text-field';
import { PageTitle } from '../../../parts/page-title';
import { kindsIn, KIND_FIELDS, lineOfFault } from '../kinds-of-text';
import { BLANK, bodyOf, FIELD_NAMES, linesOf, ORDER, type PageLines } from './page-form';
import { PagePreview } from './page-preview';
import { NEW, PagesStore } from './pages.store';
import { SiteFields } from './site-fields';

const ASKED_WORDS: Record<(typeof ASKED)[number], string> = {
  no: 'not asked',
  asked: 'asked, may stay empty',
  needed: 'needed',
};
const choice = <T extends string>(value: T): FormControl<T> => new FormControl(value, { nonNullable: true });
const words = (): FormControl<string[]> => new FormControl<string[]>([], { nonNullable: true });

/** Writes an opt-in page, beside it the page as people will see it; it is saved when it is said. */
@Component({
  selector: 'lg-page-editor',
  imports: [
    ChoiceField,
    Conflicts,
    Faults,
    FileButton,
    Findings,
    Form,
    MatButtonModule,
    MatCheckboxModule,
    MatInputModule,
    PagePreview,
    PageTitle,
    ReactiveFormsModule,
    RouterLink,
    Saved,
    SiteFields,
    TextField,
  ],
  providers: [PagesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="writes an opt-in page" />
        </div>
        @if (!store.session.isAdministrator()) {
          <div class="empty">
            <h2>An administrator writes opt-in pages</h2>
            <p>Their words are what people agree to. Ask an administrator of the business.</p>
            <a matButton="outlined" [routerLink]="back()">To the opt-in pages</a>
          </div>
        } @else if (store.missing()) {
          <div class="empty">
            <h2>There is no such page</h2>
            <p>It may have been of another business.</p>
            <a matButton="outlined" [routerLink]="back()">To the opt-in pages</a>
          </div>
        } @else {
          <lg-conflicts [of]="saving" [names]="names" />
          <div class="both">
            <form [lgForm]="form" (sent)="save()">
              <h2>Words</h2>
              @for (f of heads; track f.key) {
                <lg-text-field
                  [control]="form.controls[f.key]"
                  [label]="names[f.key]"
                  [name]="f.key"
                  [lines]="f.lines"
                />
                <lg-findings [findings]="findings()" [field]="f.key" />
              }
              @for (f of kinds; track f.key) {
                <lg-text-field
                  [control]="form.controls[f.key]"
                  [label]="f.label"
                  [hint]="f.hint"
                  [name]="f.key"
                  [lines]="f.lines"
                />
                <lg-findings [findings]="findings()" [field]="f.key" />
              }
              @for (f of links; track f) {
                <lg-text-field [control]="form.controls[f]" [label]="names[f]" [name]="f" placeholder="https://…" />
                <lg-findings [findings]="findings()" [field]="f" />
              }
              <p class="soft small">
                Your name, automated texts, no condition, rates, HELP, STOP and both pages are added to each kind.
                Changed words get a new version; whoever agreed keeps the words they saw.
              </p>
              <lg-choice-field
                [control]="form.controls.language"
                [label]="names.language"
                name="language"
                [choices]="languages"
              />

              <h2>What is asked beside the number</h2>
              <div class="three">
                @for (f of asks; track f) {
                  <lg-choice-field [control]="form.controls[f]" [label]="names[f]" [name]="f" [choices]="asked" />
                }
              </div>

              <h2>Looks</h2>
              <div class="two">
                @for (f of colours; track f) {
                  <div>
                    <div class="field">
                      <label [for]="f">{{ names[f] }}</label>
                      <span class="colour">
                        <mat-form-field
                          ><input matInput class="mono" [id]="f" [name]="f" [formControl]="form.controls[f]"
                        /></mat-form-field>
                        <input #picker hidden type="color" [value]="now()[f]" (input)="paint(f, $event)" />
                        <button
                          type="button"
                          matButton="outlined"
                          class="swatch"
                          [style.background]="now()[f]"
                          [attr.aria-label]="names[f] + ': choose a colour'"
                          (click)="picker.click()"
                        ></button>
                      </span>
                    </div>
                    <lg-findings [findings]="findings()" [field]="f" />
                  </div>
                }
              </div>
              <div class="field">
                <span class="label">Picture on top <span>PNG or JPEG, up to 300 kB</span></span>
                @if (page(); as p) {
                  <span class="ends">
                    <lg-file-button
                      accept="image/png,image/jpeg"
                      [disabled]="store.acting.busy()"
                      (chosen)="keepPicture(p.id, $event)"
                      >{{ p.picture ? 'Another picture' : 'Choose a picture' }}</lg-file-button
                    >
                    @if (p.picture; as has) {
                      <span class="small">{{ has.name }}</span>
                      <button type="button" matButton class="plain" (click)="store.dropPicture(p.id)">
                        Take it off
                      </button>
                    }
                  </span>
                } @else {
                  <span class="soft small">Save the page first; then it can have one.</span>
                }
              </div>
              @if (page()?.picture) {
                <lg-text-field
                  [control]="form.controls.pictureWords"
                  [label]="names.pictureWords"
                  hint="for who does not see it"
                  name="pictureWords"
                />
                <lg-findings [findings]="findings()" field="pictureWords" />
              }
              <lg-text-field
                [control]="form.controls.button"
                [label]="names.button"
                hint="empty: “Send me the confirming text”"
                name="button"
              />

              <h2>After joining</h2>
              <lg-text-field
                [control]="form.controls.thanks"
                [label]="names.thanks"
                hint="if you like"
                name="thanks"
                [lines]="2"
              />
              <lg-findings [findings]="findings()" field="thanks" />
              <lg-text-field
                [control]="form.controls.thanksCode"
                [label]="names.thanksCode"
                hint="if you like; the same for everybody"
                name="thanksCode"
                mono
              />

              <h2>On your own site</h2>
              <mat-checkbox [formControl]="form.controls.elsewhere">Show this form on our own site too</mat-checkbox>
              @if (elsewhere()) {
                <lg-site-fields [form]="form" />
              }

              <h2>Live</h2>
              <lg-choice-field
                [control]="form.controls.numberId"
                [label]="names.numberId"
                name="numberId"
                none="choose…"
                [choices]="numbers()"
              />
              <mat-checkbox [formControl]="form.controls.published">Live</mat-checkbox>
              <p class="soft small">Paused, nobody can join by it; leaving works as ever.</p>
              <lg-faults [form]="form" />
              <p class="ends">
                <button type="submit" matButton="filled" [disabled]="store.acting.busy()">Save</button>
                <button type="button" matButton="outlined" (click)="cancel()">Cancel</button>
                <lg-saved [of]="saving" />
              </p>
            </form>
            <aside aria-label="As people see it">
              <lg-page-preview [page]="seen()" [from]="from()" />
              @if (found(); as words) {
                <p [class]="worst()" role="status">{{ words }}</p>
              }
            </aside>
          </div>
        }
      </div>
    </div>
  `,
  styles: `
    .both {
      display: grid;
      grid-template-columns: minmax(0, 560px) minmax(362px, 1fr);
      gap: 36px;
      align-items: start;
    }
    aside {
      position: sticky;
      top: 0;
    }
    h2 {
      margin: 22px 0 8px;
      font-size: 17px;
    }
    form > h2:first-child {
      margin-top: 0;
    }
    .two,
    .three {
      display: grid;
      grid-template-columns: repeat(2, minmax(0, 1fr));
      gap: 0 18px;
    }
    .three {
      grid-template-columns: repeat(3, minmax(0, 1fr));
      align-items: end;
    }
    .colour,
    .ends {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
    }
    .colour mat-form-field {
      width: 120px;
    }
    .swatch {
      width: 44px;
      min-width: 44px;
      padding: 0;
    }
    mat-checkbox {
      display: block;
      margin-bottom: 10px;
    }
    @media (max-width: 1000px) {
      .both {
        grid-template-columns: minmax(0, 1fr);
      }
      aside {
        position: static;
      }
      .three {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class PageEditor {
  protected readonly store = inject(PagesStore);
  private readonly router = inject(Router);
  protected readonly names = FIELD_NAMES;
  protected readonly heads = [
    { key: 'title', lines: 1 },
    { key: 'slug', lines: 1 },
    { key: 'intro', lines: 3 },
  ] as const;
  protected readonly kinds = KIND_FIELDS;
  protected readonly links = ['privacyUrl', 'termsUrl'] as const;
  protected readonly asks = ['firstName', 'lastName', 'email'] as const;
  protected readonly colours = ['ground', 'accent'] as const;
  protected readonly asked = ASKED.map((value) => ({ value, label: ASKED_WORDS[value] }));
  protected readonly languages = Object.entries(LANGUAGE_NAMES).map(([value, label]) => ({ value, label }));
  /** The page that is edited; null for one that is being made. */
  protected readonly page = computed(() => this.store.chosen());
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
      language: choice(BLANK.language),
      ground: text(),
      accent: text(),
      button: text(),
      thanks: text(),
      thanksCode: text(),
      firstName: choice(BLANK.firstName),
      lastName: choice(BLANK.lastName),
      email: choice(BLANK.email),
      pictureWords: text(),
      numberId: text(),
      published: flag(true),
      elsewhere: flag(),
      sites: words(),
      place: choice(BLANK.place),
      devices: choice(BLANK.devices),
      paths: words(),
      afterSeconds: text(),
      afterDown: text(),
      againDays: text(),
    },
    OptInPageEdit,
    {
      body: bodyOf,
      // A fault of a kind that is offered stands at the line that says it.
      at: (path, lines) =>
        lineOfFault(path, lines) ?? path.replace(/^(?:asks|onSite)\./, '').replace(/^(sites|paths)\..*/, '$1'),
    },
  );
  protected readonly saving = new Autosave<PageLines>({
    byHand: true,
    save: async (lines, version) => linesOf(await this.store.save(bodyOf(lines), version)),
    read: async () => linesOf(await this.store.readOpen()),
    lastChange: () => this.store.lastChange(),
  });
  protected readonly now = readOf(
    computed(() => this.form.group),
    (g) => g.getRawValue() as PageLines,
  );
  protected readonly elsewhere = computed(() => this.now().elsewhere);
  protected readonly numbers = computed(() => this.store.numberChoices(this.page()?.numberId ?? ''));
  protected readonly from = computed(() => {
    const number = this.store.numbers()?.get(this.now().numberId);
    return number ? formatPhone(number.e164) : '';
  });
  private readonly about = computed(() => {
    const b = this.store.session.business();
    return { legalName: b?.legalName ?? '', nameLine: b?.nameLine ?? '' };
  });
  /** The page as what stands in the form makes it. */
  protected readonly seen = computed((): PageSeen => {
    const w = this.now();
    const { language, privacyUrl, termsUrl } = w;
    const [has, business] = [this.page()?.picture, this.about().legalName];
    return {
      ...w,
      business,
      title: w.title.trim() || '…',
      asks: { firstName: w.firstName, lastName: w.lastName, email: w.email },
      picture: has
        ? { src: `/join/${this.page()?.slug}/picture/${has.sha256.slice(0, 12)}`, words: w.pictureWords }
        : null,
      purposes: kindsIn(w).map((k) => ({
        purpose: k.purpose,
        disclosure: disclosureOf(business, { ...k, frequency: k.frequency || '…', language }, { privacyUrl, termsUrl }),
      })),
      paused: !w.published,
    };
  });
  /** What is found while it is written; nothing of a form in which nothing stands. */
  protected readonly findings = computed(() => {
    const w = this.now();
    const purposes = kindsIn(w).map((k) => ({ ...k, language: w.language }));
    if (w.title.trim() === '' && purposes.length === 0) return numbered([], ORDER);
    const picture = this.page()?.picture ? { words: w.pictureWords } : null;
    return numbered(reviewPage({ ...w, purposes, picture }, this.about()), ORDER);
  });
  private readonly mustMend = computed(() => this.findings().filter((f) => f.severity === 'block').length);
  protected readonly worst = computed(() => (this.mustMend() > 0 ? 'stop' : 'hold'));
  protected readonly found = computed(() => {
    const [all, must] = [this.findings().length, this.mustMend()];
    if (all === 0) return '';
    const most = all === 1 ? 'One finding' : `${all} findings`;
    return must === 0
      ? `${most}, none that keeps it from going live.`
      : `${most}; ${must === all ? (all === 1 ? 'it' : 'all') : must} must be mended before it can be live.`;
  });
  protected readonly back = computed(() => ['/b', this.store.session.businessId(), 'consent', 'pages']);

  constructor() {
    autosaved(this.form.group, this.saving);
    effect(() => {
      const [p, open] = [this.page(), this.store.open()];
      if (!p && open !== NEW) return;
      untracked(() => {
        this.saving.take(
          `page ${p?.id ?? `${this.store.session.businessId()} ${NEW}`}`,
          p ? linesOf(p) : { value: BLANK, version: 0 },
        );
      });
    });
  }

  protected paint(field: 'ground' | 'accent', event: Event): void {
    const control = this.form.controls[field];
    control.setValue((event.target as HTMLInputElement).value);
    control.markAsDirty();
  }
  protected async keepPicture(id: string, file: File): Promise<void> {
    const base64 = await this.store.acting.run(() => base64Of(file));
    if (base64) await this.store.keepPicture(id, file.name, base64);
  }
  protected async save(): Promise<void> {
    // What must be mended stands beside its lines already; a page that is paused can be saved with it.
    if (this.now().published && this.mustMend() > 0) {
      this.store.acting.refused(`${this.found()} It can be saved paused meanwhile.`);
      return;
    }
    if (!(await this.saving.flush())) return;
    this.store.acting.done('Saved.');
    await this.leave();
  }
  protected async cancel(): Promise<void> {
    this.saving.discard();
    await this.leave();
  }
  private async leave(): Promise<void> {
    const open = this.store.open();
    await this.router.navigate(this.back(), { queryParams: open && open !== NEW ? { open } : {} });
  }
}
