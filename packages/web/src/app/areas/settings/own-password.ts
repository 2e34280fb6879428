import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { TextField } from '../../parts/form/text-field';
import { AccountStore } from './account.store';

/** Changing one's own password. */
@Component({
  selector: 'lg-own-password',
  imports: [MatButtonModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Password</h2>
    <form (submit)="change(); $event.preventDefault()">
      <lg-text-field
        label="Present password"
        name="present-password"
        type="password"
        autocomplete="current-password"
        [control]="form.controls.password"
        [wrong]="errors()['password']"
      />
      <lg-text-field
        label="New password"
        name="next-password"
        hint="at least 10 characters"
        type="password"
        autocomplete="new-password"
        [control]="form.controls.next"
        [wrong]="errors()['next'] || errors()['']"
      />
      <button type="submit" matButton="outlined" [disabled]="store.passwordForm.busy()">Change it</button>
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
  protected readonly store = inject(AccountStore);
  protected readonly errors = this.store.passwordForm.errors;
  protected readonly form = inject(NonNullableFormBuilder).group({ password: '', next: '' });

  protected async change(): Promise<void> {
    if (await this.store.changePassword(this.form.getRawValue())) this.form.reset();
  }
}
