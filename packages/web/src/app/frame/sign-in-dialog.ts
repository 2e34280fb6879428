import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { signIn } from '@long-gate/contracts';
import { CheckedForm } from '../parts/form/checked-form';
import { text } from '../parts/form/controls';
import { Faults } from '../parts/form/faults';
import { Form } from '../parts/form/form';
import { TextField } from '../parts/form/text-field';
import { ArrivalStore } from '../welcome/arrival.store';

/** The same person signs in again over the page they are on; what they typed stays behind it. */
@Component({
  selector: 'lg-sign-in-dialog',
  imports: [Faults, Form, MatButtonModule, MatDialogModule, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>Your session has ended</h2>
      <p>Sign in again as {{ email }}; what you were doing goes on, and what you typed is still there.</p>
      <form [lgForm]="form" (sent)="send()">
        <lg-text-field
          label="Password"
          name="password-again"
          type="password"
          autocomplete="current-password"
          takesFocus
          [control]="form.controls.password"
        />
        @if (store.codeWanted()) {
          <lg-text-field
            label="Code of your authenticator"
            name="code-again"
            hint="or a recovery code"
            autocomplete="one-time-code"
            mono
            takesFocus
            [control]="form.controls.code"
          />
        }
        <lg-faults [form]="form" />
        <div class="ends">
          <button type="button" matButton="outlined" (click)="leave()">Leave</button>
          <button type="submit" matButton="filled" [disabled]="form.busy()">
            {{ form.busy() ? 'Signing in…' : 'Sign in' }}
          </button>
        </div>
      </form>
    </div>
  `,
})
export class SignInDialog {
  protected readonly email = inject<string>(MAT_DIALOG_DATA);
  private readonly ref = inject<MatDialogRef<SignInDialog, boolean>>(MatDialogRef);
  protected readonly store = inject(ArrivalStore);
  protected readonly form = new CheckedForm({ password: text(), code: text() }, signIn.body, {
    body: (v) => ({ ...v, email: this.email }),
  });

  protected async send(): Promise<void> {
    const done = await this.form.send((body) => this.store.signIn(body));
    if (done) this.ref.close(true);
  }

  /** To the page for signing in, as anybody; what was typed and not saved is kept in this browser for this person. */
  protected leave(): void {
    const to = location.pathname + location.search;
    location.assign(`/sign-in?to=${encodeURIComponent(to)}`);
  }
}
