import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { addSuppression, renewSuppression } from '@long-gate/contracts';
import { SUPPRESSION_KINDS, type SuppressionKind } from '@long-gate/core';
import { FileButton } from '../../../parts/file-button';
import { CheckedForm, faultOf } from '../../../parts/form/checked-form';
import { readOf } from '../../../parts/form/control-state';
import { ChoiceField } from '../../../parts/form/choice-field';
import { text } from '../../../parts/form/controls';
import { DateField } from '../../../parts/form/date-field';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { CountedPipe, CountPipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { KIND_WORDS } from './suppression';
import { SuppressionStore } from './suppression.store';

/** Brings in a list of numbers not to be texted, or a newer file of one: handed in part by part, as it is read. */
@Component({
  selector: 'lg-bring-list',
  imports: [
    ChoiceField,
    CountedPipe,
    CountPipe,
    DateField,
    Faults,
    FileButton,
    Form,
    MatButtonModule,
    MatProgressBarModule,
    PageTitle,
    RouterLink,
    TextField,
  ],
  providers: [SuppressionStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="brings in a suppression list" />
          @if (!form.busy()) {
            <a
              matButton="outlined"
              [routerLink]="['/b', store.session.businessId(), 'consent', 'suppression']"
              [queryParams]="store.open() ? { open: store.open() } : {}"
              >Not now</a
            >
          }
        </div>
        @if (!store.session.isAdministrator()) {
          <div class="empty">
            <h2>An administrator brings in lists</h2>
            <p>They change who can be texted. Ask an administrator of the business.</p>
          </div>
        } @else {
          @if (store.handing(); as h) {
            <p class="strong">Stay on this page until the file is read.</p>
            <mat-progress-bar mode="determinate" [value]="100 * h.share" aria-label="Lines read" />
            <p role="status">
              {{ h.lines | counted: 'line' }} read
              @if (h.refused > 0) {
                <span class="hold">{{ h.refused | count }} of them no number</span>
              }
            </p>
            <p class="soft">What is read keeps off at once.</p>
          }
          <!-- It stays while the file is handed in, so that what goes wrong is said where it can be mended. -->
          <form [lgForm]="form" (submit)="tried.set(true)" (sent)="bring()" [hidden]="store.handing() !== null">
            @if (store.open() && of()) {
              <p>
                A newer file of <span class="strong">{{ of()?.name }}</span>. The one that stands keeps off until this
                one is read to its end.
              </p>
            } @else if (!store.open()) {
              <lg-text-field [control]="form.controls.name" label="Name of the list" name="name" />
              <lg-choice-field [control]="form.controls.kind" label="What it is" name="kind" [choices]="kinds" />
            }
            <lg-text-field
              [control]="form.controls.source"
              label="Where it is from"
              hint="who gave it out, and how you got it"
              name="source"
            />
            <lg-date-field
              label="The day it is of"
              name="datedOn"
              [wrong]="dayWrong()"
              [value]="form.controls.datedOn.value"
              (changed)="form.controls.datedOn.setValue($event)"
            />
            <div class="field">
              <span class="label">The file <span>text or CSV, a number on each line, any size</span></span>
              <lg-file-button accept=".txt,.csv,.tsv,text/plain,text/csv" (chosen)="file.set($event)">{{
                file() ? 'Another file' : 'Choose the file'
              }}</lg-file-button>
              @if (file(); as f) {
                <p role="status">“{{ f.name }}”, {{ f.size | count }} bytes</p>
              } @else if (tried()) {
                <p class="error" role="alert">Choose the file with the numbers.</p>
              }
            </div>
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy()">Bring it in</button>
          </form>
        }
      </div>
    </div>
  `,
  styles: `
    form {
      max-width: 460px;
    }
    mat-progress-bar {
      max-width: 460px;
      margin: 12px 0;
    }
  `,
})
export class BringListPage {
  protected readonly store = inject(SuppressionStore);
  private readonly router = inject(Router);
  protected readonly kinds = SUPPRESSION_KINDS.map((value) => ({ value, label: KIND_WORDS[value] }));
  protected readonly file = signal<File | null>(null);
  protected readonly tried = signal(false);
  /** The list of which a newer file is brought in; none where one begins. */
  protected readonly of = computed(() => this.store.chosen());
  protected readonly form = new CheckedForm(
    {
      name: text(),
      kind: new FormControl<SuppressionKind>('national', { nonNullable: true }),
      source: text(),
      datedOn: text(),
    },
    addSuppression.body,
    {
      // A list that is there has its name and kind.
      body: (value) => ({ ...value, name: this.of()?.name ?? value.name, kind: this.of()?.kind ?? value.kind }),
    },
  );

  protected readonly dayWrong = readOf(() => this.form.controls.datedOn, faultOf);

  protected async bring(): Promise<void> {
    const file = this.file();
    if (!file) return;
    const list = this.of();
    const stands = await this.form.send((wish) =>
      list ? this.store.renew(list, renewSuppression.body.parse(wish), file) : this.store.add(wish, file),
    );
    if (!stands) return;
    this.store.acting.done(`${stands.numbers.toLocaleString('en-US')} numbers are kept off.`);
    await this.router.navigate(['/b', this.store.session.businessId(), 'consent', 'suppression'], {
      queryParams: { open: stands.id },
    });
  }
}
