import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { changePassword } from '@long-gate/contracts';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { AccountStore } from './account.store';

/** Changing one's own password. */
@Component({
  selector: 'lg-own-password',
  imports: [Faults, Form, MatButtonModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Password</h2>
    <form [lgForm]="form" (sent)="change()">
      <lg-text-field
        label="Present password"
        name="present-password"
        type="password"
        autocomplete="current-password"
        [control]="form.controls.password"
      />
      <lg-text-field
        label="New password"
        name="next-password"
        hint="at least 10 characters"
        type="password"
        autocomplete="new-password"
        [control]="form.controls.next"
      />
      <lg-faults [form]="form" />
      <button type="submit" matButton="outlined" [disabled]="form.busy()">Change it</button>
      <p class="soft small">All your other sessions end.</p>
    </form>
  `,
  styles: `
    h2 {
      margin: 22px 0 8px;
    }
    form {
      max-width: 340px;
    }
    p {
      margin: 6px 0;
    }
  `,
})
export class OwnPassword {
  private readonly store = inject(AccountStore);
  protected readonly form = new CheckedForm({ password: text(), next: text() }, changePassword.body);

  protected async change(): Promise<void> {
    if (await this.form.send((body) => this.store.changePassword(body))) this.form.group.reset();
  }
}
