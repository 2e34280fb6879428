import { ChangeDetectionStrategy, Component, computed, inject, resource, signal } from '@angular/core';
import { FormControl } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { bringOptOuts } from '@long-gate/contracts';
import { OPT_OUT_ORIGINS, readOptOutLine, type OptOutOrigin } from '@long-gate/core';
import { base64Of } from '../../../parts/base64-of';
import { Confirm } from '../../../parts/confirm';
import { FileButton } from '../../../parts/file-button';
import { CheckedForm, faultOf } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { text } from '../../../parts/form/controls';
import { DateField } from '../../../parts/form/date-field';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { counted, CountedPipe } from '../../../parts/format';
import { linesOf } from '../../../parts/lines-of';
import { PageTitle } from '../../../parts/page-title';
import { ORIGIN_WORDS } from './opt-outs';
import { OptOutsStore } from './opt-outs.store';

/** More than the server takes. */
const MOST_BYTES = 10 * 1024 * 1024;
const LOT = 2000;
/** From so many on, how many has to be written before they are opted out. */
const MANY = 100;

/** What is in a file, before it is handed in. */
interface Found {
  numbers: number;
  /** Lines that are no number, nor empty or a heading. */
  others: number;
}
async function lookInto(file: File): Promise<Found> {
  const [numbers, found] = [new Set<string>(), { others: 0 }];
  for await (const lines of linesOf(file, LOT)) {
    for (const line of lines) {
      const read = readOptOutLine(line, true);
      if (read === null) continue;
      if ('e164' in read) numbers.add(read.e164);
      else found.others++;
    }
    // The page has its turn.
    await new Promise((later) => setTimeout(later));
  }
  return { numbers: numbers.size, others: found.others };
}

/** Brings in a list of people who had opted out elsewhere. */
@Component({
  selector: 'lg-bring-opt-outs',
  imports: [
    ChoiceField,
    CountedPipe,
    DateField,
    Faults,
    FileButton,
    Form,
    MatButtonModule,
    PageTitle,
    RouterLink,
    TextField,
  ],
  providers: [OptOutsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="brings in opt-outs" />
          <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'consent', 'sources', 'opt-outs']"
            >Not now</a
          >
        </div>
        @if (!store.session.isAdministrator()) {
          <div class="empty">
            <h2>An administrator brings in opt-outs</h2>
            <p>They change who can be texted, and nobody here can take that back. Ask an administrator.</p>
          </div>
        } @else {
          <form [lgForm]="form" (submit)="tried.set(true)" (sent)="bring()">
            <lg-choice-field
              [control]="form.controls.origin"
              label="Who kept the list"
              name="origin"
              [choices]="origins"
            />
            <lg-text-field
              [control]="form.controls.source"
              label="Where it is from"
              hint="who gave it out, and how you got it"
              name="source"
            />
            <lg-date-field
              label="The day it is of"
              hint="whoever is on it had opted out by then"
              name="datedOn"
              [wrong]="dayWrong()"
              [value]="form.controls.datedOn.value"
              (changed)="form.controls.datedOn.setValue($event)"
            />
            <div class="field">
              <span class="label">The file <span>text or CSV in UTF-8, up to 10 MB</span></span>
              <lg-file-button accept=".txt,.csv,.tsv,text/plain,text/csv" (chosen)="file.set($event)">{{
                file() ? 'Another file' : 'Choose the file'
              }}</lg-file-button>
              @if (tooLarge()) {
                <p class="error" role="alert">It has more than 10 MB. Cut it into several files.</p>
              } @else if (found.value(); as f) {
                <p role="status">
                  “{{ file()?.name }}”: <span class="strong">{{ f.numbers | counted: 'number' }}</span>
                  @if (f.others > 0) {
                    <span class="hold">, {{ f.others | counted: 'line' }} without one</span>
                  }
                </p>
                @if (f.numbers === 0) {
                  <p class="error" role="alert">There is no number in it. Choose another file.</p>
                }
              } @else if (found.isLoading()) {
                <p role="status">Reading…</p>
              } @else if (tried()) {
                <p class="error" role="alert">Choose the file with the numbers.</p>
              }
              <p class="soft small">
                A number on each line, and behind it the day on which they opted out, where the list says it. Who agreed
                after that day stays in.
              </p>
            </div>
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy() || found.isLoading()">
              {{ form.busy() ? 'Handing it in…' : 'Opt them out' }}
            </button>
            <p class="soft small after">
              It counts for every number of yours and every text, also on its way. Only they can come back. The file is
              kept with its digest, and each no with the line that says it.
            </p>
          </form>
        }
      </div>
    </div>
  `,
  styles: `
    form {
      max-width: 460px;
    }
    .after {
      margin-top: 12px;
    }
  `,
})
export class BringOptOutsPage {
  protected readonly store = inject(OptOutsStore);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  protected readonly origins = OPT_OUT_ORIGINS.map((value) => ({ value, label: ORIGIN_WORDS[value] }));
  protected readonly file = signal<File | null>(null);
  protected readonly tried = signal(false);
  protected readonly tooLarge = computed(() => (this.file()?.size ?? 0) > MOST_BYTES);
  protected readonly found = resource({
    params: () => (this.tooLarge() ? undefined : (this.file() ?? undefined)),
    loader: ({ params }) => lookInto(params),
  });
  protected readonly form = new CheckedForm(
    {
      origin: new FormControl<OptOutOrigin>('earlier provider', { nonNullable: true }),
      source: text(),
      datedOn: text(),
    },
    bringOptOuts.body.pick({ origin: true, source: true, datedOn: true }),
  );
  protected readonly dayWrong = readOf(() => this.form.controls.datedOn, faultOf);

  protected async bring(): Promise<void> {
    const file = this.file();
    const numbers = this.found.hasValue() ? (this.found.value()?.numbers ?? 0) : 0;
    if (!file || numbers === 0) return;
    const made = await this.form.send(async (wish) => {
      const people = counted(numbers, 'person', 'people');
      const sure = await this.confirm.ask({
        title: `Opt out ${people}?`,
        line: 'From every text of this business, at once. Nobody here can take it back: only they can.',
        facts: [
          { name: 'File', value: file.name },
          { name: 'Kept by', value: ORIGIN_WORDS[wish.origin] },
        ],
        yes: `Opt out ${people}`,
        ...(numbers > MANY ? { written: { label: `Write ${numbers} to go on`, is: String(numbers) } } : {}),
      });
      return sure ? this.store.bring({ ...wish, name: file.name, base64: await base64Of(file) }) : null;
    });
    if (!made) return;
    this.store.acting.done('They are being opted out.');
    await this.router.navigate(['/b', this.store.session.businessId(), 'consent', 'sources', 'opt-outs'], {
      queryParams: { open: made.id },
    });
  }
}
