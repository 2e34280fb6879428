import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { addField, FIELD_KINDS, type ContactField } from '@long-gate/contracts';
import { Confirm } from '../../parts/confirm';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ContactsTabs } from './contacts-tabs';
import { FieldsStore } from './fields.store';

const lines = (typed: string): string[] =>
  typed
    .split('\n')
    .map((x) => x.trim())
    .filter(Boolean);

/** The fields of its own that a business keeps of its contacts. */
@Component({
  selector: 'lg-fields',
  imports: [
    Cell,
    ChoiceField,
    ContactsTabs,
    Faults,
    Form,
    MatButtonModule,
    MatCheckboxModule,
    PageTitle,
    ReactiveFormsModule,
    Table,
    TextField,
  ],
  providers: [FieldsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="contacts:" of="own fields" />
          @if (store.session.mayEdit() && !form()) {
            <button type="button" matButton="filled" (click)="begin(null)">Add a field</button>
          }
        </div>
        <lg-contacts-tabs />
        @if (store.read.error(); as e) {
          <div class="problem" role="alert">{{ e.message }}</div>
        }
        @if (form(); as f) {
          <form [lgForm]="f" (sent)="save()" class="narrow">
            <h2>{{ edited() ? 'Change “' + edited()?.name + '”' : 'A new field' }}</h2>
            <lg-text-field [control]="f.controls.name" label="Name" name="field-name" [most]="60" takesFocus />
            @if (!edited()) {
              <lg-choice-field [control]="f.controls.kind" label="What stands in it" [choices]="kinds" />
            }
            @if (kind() === 'choice') {
              <lg-text-field
                [control]="f.controls.choices"
                label="Choices"
                hint="one a line"
                name="field-choices"
                [lines]="4"
              />
            }
            <mat-checkbox [formControl]="f.controls.outcome"
              >Says how appointments or bookings fared: shown against whether texts reach people</mat-checkbox
            >
            <lg-faults [form]="f" />
            <p class="ends">
              <button type="submit" matButton="filled" [disabled]="f.busy()">
                {{ edited() ? 'Save' : 'Add the field' }}
              </button>
              <button type="button" matButton="outlined" (click)="form.set(null)">Cancel</button>
            </p>
          </form>
        }
        @if (store.fields().length > 0) {
          <lg-table label="Own fields" [rows]="store.fields()" [columns]="columns" [key]="id">
            <ng-template lgCell="acts" [of]="store.fields()" let-f>
              @if (store.session.mayEdit()) {
                <button type="button" matButton class="plain" (click)="begin(f)">Change</button>
              }
              @if (store.session.isAdministrator()) {
                <button type="button" matButton class="plain stop" (click)="drop(f)">Take away…</button>
              }
            </ng-template>
          </lg-table>
        } @else if (store.read.hasValue() && !form()) {
          <div class="empty">
            <h2>No fields of your own yet</h2>
            <p>
              A field holds what only this business knows of its contacts: a berth, a season pass, whether the last
              booking was kept. Fields are filled in a contact’s docket and by columns of a list that is brought in, and
              searched with everything else.
            </p>
            @if (store.session.mayEdit()) {
              <button type="button" matButton="filled" (click)="begin(null)">Add a field</button>
            }
          </div>
        }
      </div>
    </div>
  `,
  styles: `
    .narrow {
      max-width: 460px;
      margin-bottom: 20px;
    }
    td button + button {
      margin-left: 14px;
    }
    .ends {
      display: flex;
      gap: 8px;
      margin-top: 8px;
    }
  `,
})
export class FieldsPage {
  protected readonly store = inject(FieldsStore);
  private readonly confirm = inject(Confirm);
  protected readonly kinds = FIELD_KINDS.map((value) => ({
    value,
    label: { text: 'a text', number: 'a number', date: 'a date', choice: 'one of some choices' }[value],
  }));
  protected readonly form = signal<ReturnType<FieldsPage['made']> | null>(null);
  protected readonly edited = signal<ContactField | null>(null);
  protected readonly kind = readOf(
    () => this.form()?.controls.kind ?? NONE,
    (c) => c.value,
  );
  protected readonly id = (f: ContactField): string => f.id;
  protected readonly columns: readonly Column<ContactField>[] = [
    { id: 'name', head: 'Field', text: (f) => f.name, face: 'strong', by: (f) => f.name },
    { id: 'kind', head: 'What stands in it', text: (f) => f.kind, by: (f) => f.kind },
    { id: 'choices', head: 'Choices', text: (f) => f.choices.join(', ') },
    { id: 'outcome', head: 'About bookings', text: (f) => (f.outcome ? 'yes' : '') },
    { id: 'acts', head: 'What can be done', quiet: true, right: true },
  ];

  private made(f: ContactField | null) {
    return new CheckedForm(
      {
        name: text(f?.name ?? ''),
        kind: new FormControl<ContactField['kind']>(f?.kind ?? 'text', { nonNullable: true }) as FormControl<string>,
        choices: text(f?.choices.join('\n') ?? ''),
        outcome: new FormControl(f?.outcome ?? false, { nonNullable: true }),
      },
      addField.body,
      { body: (v) => ({ ...v, choices: v.kind === 'choice' ? lines(v.choices) : [] }) },
    );
  }
  protected begin(f: ContactField | null): void {
    this.edited.set(f);
    this.form.set(this.made(f));
  }
  protected async save(): Promise<void> {
    const [form, edited] = [this.form(), this.edited()];
    const done = await form?.send(({ kind, ...rest }) =>
      edited ? this.store.edit(edited.id, rest) : this.store.add({ kind, ...rest }),
    );
    if (done) this.form.set(null);
  }
  protected async drop(f: ContactField): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Take “${f.name}” away?`,
      line: 'No cost. What stands in it goes with it, for every contact, and cannot be brought back.',
      yes: 'Take it away',
    });
    if (yes) await this.store.drop(f);
  }
}
const NONE = text('');
