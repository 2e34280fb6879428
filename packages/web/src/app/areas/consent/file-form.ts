import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { fileForm } from '@long-gate/contracts';
import type { Finding } from '@long-gate/core';
import { base64Of } from '../../parts/base64-of';
import { FileButton } from '../../parts/file-button';
import { Findings, numbered } from '../../parts/findings';
import { CheckedForm } from '../../parts/form/checked-form';
import { readOf } from '../../parts/form/control-state';
import { flag, text } from '../../parts/form/controls';
import { DateField } from '../../parts/form/date-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountPipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { FileFormStore } from './file-form.store';

type Kind = 'informational' | 'promotional';
const ORDER = ['signedOn', 'disclosure'];

/** Files a form that people signed: its day, the words they were shown, for which texts, and the document itself. */
@Component({
  selector: 'lg-file-form',
  imports: [
    CountPipe,
    DateField,
    Faults,
    FileButton,
    Findings,
    Form,
    MatButtonModule,
    MatCheckboxModule,
    PageTitle,
    ReactiveFormsModule,
    RouterLink,
    TextField,
  ],
  providers: [FileFormStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="files a form" />
          <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'consent', 'forms']">Not now</a>
        </div>
        @if (!store.session.isAdministrator()) {
          <div class="empty">
            <h2>An administrator files forms</h2>
            <p>They change what a person is taken to have agreed to. Ask an administrator of the business.</p>
          </div>
        } @else if (!store.whom()) {
          <div class="empty">
            <h2>For whom is it?</h2>
            <p>
              For one person, open their docket. For many, open a lot of claims, choose people in the list of contacts,
              or open a count of a dispatch’s gate; each has “File a form…”.
            </p>
            <a matButton="filled" [routerLink]="['/b', store.session.businessId(), 'contacts']">To the contacts</a>
          </div>
        } @else {
          @if (store.review.error(); as e) {
            <p class="stop" role="alert">{{ e.message }}</p>
          }
          @if (store.found(); as r) {
            <p class="whom">
              For
              <span class="strong">{{ r.name || (r.people | count) + (r.people === 1 ? ' person' : ' people') }}</span>
              @if (r.leftOut > 0) {
                <span class="hold"
                  >{{ r.leftOut | count }} more {{ r.leftOut === 1 ? 'is' : 'are' }} left as they are: they left,
                  dispute it, or have another number now, and only they can speak.</span
                >
              }
            </p>
            <form [lgForm]="form" (submit)="tried.set(true)" (sent)="file()">
              <div class="pair">
                <div>
                  <div class="field">
                    <span class="label">The form <span>PDF, PNG or JPEG up to 10 MB</span></span>
                    <lg-file-button accept="application/pdf,image/png,image/jpeg" (chosen)="document.set($event)">{{
                      document() ? 'Another file' : 'Choose the file'
                    }}</lg-file-button>
                    @if (document(); as d) {
                      <p role="status">“{{ d.name }}”</p>
                    } @else if (tried()) {
                      <p class="error" role="alert">Choose the form that was signed.</p>
                    }
                  </div>
                  <lg-date-field
                    label="Signed on"
                    hint="the latest day that stands on it"
                    name="signedOn"
                    [value]="form.controls.signedOn.value"
                    (changed)="form.controls.signedOn.setValue($event)"
                  />
                </div>
                <lg-findings [findings]="findings()" field="signedOn" />
              </div>
              <fieldset>
                <legend>They signed for</legend>
                <mat-checkbox [formControl]="kinds.controls.informational">informational texts</mat-checkbox>
                <mat-checkbox [formControl]="kinds.controls.promotional">promotional texts</mat-checkbox>
                @if (tried() && purposes().length === 0) {
                  <p class="error" role="alert">Say for which texts they signed.</p>
                }
              </fieldset>
              <div class="pair">
                <div>
                  <lg-text-field
                    [control]="form.controls.disclosure"
                    label="The words they were shown, to the letter"
                    name="disclosure"
                    [lines]="6"
                    [most]="4000"
                  />
                  @if (form.controls.disclosure.value === '') {
                    @for (w of papers(); track w.title) {
                      <button
                        type="button"
                        matButton
                        class="plain"
                        (click)="form.controls.disclosure.setValue(w.words)"
                      >
                        As on the paper form of “{{ w.title }}”
                      </button>
                    }
                  }
                  @if (r.lastWords && form.controls.disclosure.value === '') {
                    <button
                      type="button"
                      matButton
                      class="plain"
                      (click)="form.controls.disclosure.setValue(r.lastWords)"
                    >
                      As on the form filed last
                    </button>
                  }
                </div>
                <lg-findings [findings]="findings()" field="disclosure" />
              </div>
              <p class="soft small">
                It is kept with its SHA-256 digest and cannot be changed. Staff can file what a contact did, never do it
                for them.
              </p>
              <lg-faults [form]="form" />
              <button type="submit" matButton="filled" [disabled]="form.busy() || r.people === 0">
                {{ r.people === 0 ? 'Nobody is left for whom it could be filed' : 'File it for ' + who() }}
              </button>
            </form>
          } @else if (!store.review.error()) {
            <p class="soft">Reading…</p>
          }
        }
      </div>
    </div>
  `,
  styles: `
    .whom {
      margin-bottom: 12px;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 520px) minmax(0, 360px);
      gap: 28px;
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 14px;
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
      align-items: center;
    }
    @media (max-width: 900px) {
      .pair {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class FileFormPage {
  protected readonly store = inject(FileFormStore);
  private readonly router = inject(Router);
  protected readonly document = signal<File | null>(null);
  protected readonly tried = signal(false);
  protected readonly kinds = { controls: { informational: flag(), promotional: flag() } };
  private readonly informational = readOf(
    () => this.kinds.controls.informational,
    (c) => c.value,
  );
  private readonly promotional = readOf(
    () => this.kinds.controls.promotional,
    (c) => c.value,
  );
  protected readonly purposes = computed((): Kind[] => [
    ...(this.informational() ? (['informational'] as const) : []),
    ...(this.promotional() ? (['promotional'] as const) : []),
  ]);
  protected readonly form = new CheckedForm(
    { signedOn: text(), disclosure: text() },
    fileForm.body.pick({ signedOn: true, disclosure: true }),
  );
  private readonly signedOn = readOf(
    () => this.form.controls.signedOn,
    (c) => c.value,
  );
  private readonly disclosure = readOf(
    () => this.form.controls.disclosure,
    (c) => c.value,
  );
  protected readonly findings = computed(() => numbered((this.store.found()?.findings ?? []) as Finding[], ORDER));
  /** Words of our own paper forms for what was signed. */
  protected readonly papers = computed(() =>
    this.store
      .papers()
      .map((p) => ({ title: p.title, words: p.words(this.purposes()) }))
      .filter((p) => p.words !== ''),
  );
  protected readonly who = computed(() => {
    const r = this.store.found();
    return r?.name ? r.name : `${(r?.people ?? 0).toLocaleString('en-US')} ${r?.people === 1 ? 'person' : 'people'}`;
  });

  constructor() {
    effect((onCleanup) => {
      const [signedOn, disclosure, purposes] = [this.signedOn(), this.disclosure(), this.purposes()];
      const form = {
        ...(purposes.length > 0 ? { purposes } : {}),
        ...(signedOn ? { signedOn } : {}),
        ...(disclosure.trim() ? { disclosure } : {}),
      };
      const wait = setTimeout(() => untracked(() => this.store.words.set(form)), 300);
      onCleanup(() => {
        clearTimeout(wait);
      });
    });
  }

  protected async file(): Promise<void> {
    const [document, purposes] = [this.document(), this.purposes()];
    if (!document || purposes.length === 0) return;
    const filed = await this.form.send(async (words) =>
      this.store.file({ ...words, purposes, name: document.name, base64: await base64Of(document) }),
    );
    if (!filed) return;
    this.store.acting.done('The form is filed.');
    await this.router.navigate(['/b', this.store.session.businessId(), 'consent', 'forms'], {
      queryParams: { open: filed.id },
    });
  }
}
