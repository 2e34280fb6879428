import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormControl } from '@angular/forms';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { addBusiness } from '@long-gate/contracts';
import { LEGAL_FORMS } from '@long-gate/core';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { BusinessesStore } from './businesses.store';
import { text } from '../../parts/form/controls';

/** Adds a legal entity that sends. */
@Component({
  selector: 'lg-new-business',
  imports: [ChoiceField, Faults, Form, TextField, MatButtonModule],
  providers: [BusinessesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Add a business</h2>
    <p class="soft">A legal entity that sends. Its contacts and consent never cross to another.</p>
    <form [lgForm]="form" (sent)="add()">
      <lg-text-field
        [control]="form.controls.legalName"
        label="Legal name"
        hint="as in the tax record"
        name="legalName"
      />
      <lg-text-field [control]="form.controls.nameLine" label="Name line" hint="opens each text" name="nameLine" />
      <lg-choice-field [control]="form.controls.form" label="Legal form" name="form" [choices]="forms" />
      <lg-faults [form]="form" />
      <button type="submit" matButton="filled" [disabled]="form.busy()">Add the business</button>
    </form>
  `,
  styles: `
    form {
      max-width: 380px;
      margin-top: 14px;
    }
  `,
})
export class NewBusiness {
  private readonly store = inject(BusinessesStore);
  private readonly router = inject(Router);
  protected readonly forms = LEGAL_FORMS.map((value) => ({ value, label: value }));
  protected readonly form = new CheckedForm(
    {
      legalName: text(),
      nameLine: text(),
      form: new FormControl('private company', { nonNullable: true }),
    },
    addBusiness.body,
  );

  protected async add(): Promise<void> {
    const id = await this.form.send((body) => this.store.add(body));
    if (id) await this.router.navigate(['/b', id, 'settings', 'business']);
  }
}
