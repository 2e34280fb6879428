import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormGroup } from '@angular/forms';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { setUp } from '@long-gate/contracts';
import { LEGAL_FORMS } from '@long-gate/core';
import { CheckedForm } from '../parts/form/checked-form';
import { ChoiceField } from '../parts/form/choice-field';
import { Faults } from '../parts/form/faults';
import { Form } from '../parts/form/form';
import { TextField } from '../parts/form/text-field';
import { ArrivalStore } from './arrival.store';
import { text } from '../parts/form/controls';

/** The first visit: the first administrator and the first business. */
@Component({
  selector: 'lg-set-up',
  imports: [ChoiceField, Faults, Form, TextField, MatButtonModule],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      <h1>The first administrator and business</h1>
      <form [lgForm]="form" (sent)="send()">
        <lg-text-field [control]="form.controls.name" label="Your name" name="name" autocomplete="name" />
        <lg-text-field
          [control]="form.controls.email"
          label="Your e-mail"
          name="email"
          type="email"
          autocomplete="username"
        />
        <lg-text-field
          [control]="form.controls.password"
          label="Password"
          hint="at least 10 characters"
          name="password"
          type="password"
          autocomplete="new-password"
        />
        <lg-text-field
          [control]="business.legalName"
          label="Legal name of the business"
          hint="as in the tax record"
          name="business.legalName"
        />
        <lg-text-field
          [control]="business.nameLine"
          label="Name line"
          hint="opens each text"
          name="business.nameLine"
        />
        <lg-choice-field [control]="business.form" label="Legal form" name="business.form" [choices]="forms" />
        <lg-faults [form]="form" />
        <button type="submit" matButton="filled" [disabled]="form.busy()">Set up</button>
      </form>
    </main>
  `,
})
export class SetUp {
  private readonly store = inject(ArrivalStore);
  private readonly router = inject(Router);
  protected readonly forms = LEGAL_FORMS.map((value) => ({ value, label: value }));
  protected readonly business = { legalName: text(), nameLine: text(), form: text('private company') };
  protected readonly form = new CheckedForm(
    { name: text(), email: text(), password: text(), business: new FormGroup(this.business) },
    setUp.body,
  );

  protected async send(): Promise<void> {
    if (await this.form.send((body) => this.store.setUp(body))) await this.router.navigateByUrl('/');
  }
}
