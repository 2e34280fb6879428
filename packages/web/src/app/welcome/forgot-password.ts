import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { forgotPassword } from '@long-gate/contracts';
import { CheckedForm } from '../parts/form/checked-form';
import { text } from '../parts/form/controls';
import { Faults } from '../parts/form/faults';
import { Form } from '../parts/form/form';
import { TextField } from '../parts/form/text-field';
import { SessionFacade } from '../state/session.facade';
import { ArrivalStore } from './arrival.store';

/** Has a link to a new password sent. */
@Component({
  selector: 'lg-forgot-password',
  imports: [Faults, Form, MatButtonModule, RouterLink, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      @if (store.done()) {
        <h1>Look into your mail</h1>
        <p>
          If there is an account for {{ form.controls.email.value }}, a link to a new password is on its way; it is good
          for an hour.
        </p>
        @if (session.mailbox(form.controls.email.value); as url) {
          <p><a [href]="url" target="mailbox" rel="noopener">Open the mailbox</a></p>
        }
      } @else {
        <h1>A new password</h1>
        <form [lgForm]="form" (sent)="send()">
          <lg-text-field
            label="Your e-mail"
            name="email"
            hint="a link goes there"
            type="email"
            autocomplete="username"
            [control]="form.controls.email"
          />
          <lg-faults [form]="form" />
          <button type="submit" matButton="filled" [disabled]="form.busy()">Send the link</button>
          <a class="small beside" routerLink="/sign-in">Back to signing in</a>
        </form>
      }
    </main>
  `,
})
export class ForgotPassword {
  protected readonly store = inject(ArrivalStore);
  protected readonly session = inject(SessionFacade);
  protected readonly form = new CheckedForm({ email: text() }, forgotPassword.body);

  protected async send(): Promise<void> {
    await this.form.send((body) => this.store.forgot(body));
  }
}
