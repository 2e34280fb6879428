import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { TextField } from '../parts/form/text-field';
import { SessionFacade } from '../state/session.facade';
import { ArrivalStore } from './arrival.store';

/** Has a link to a new password sent. */
@Component({
  selector: 'lg-forgot-password',
  imports: [MatButtonModule, RouterLink, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      @if (store.done()) {
        <h1>Look into your mail</h1>
        <p>
          If there is an account for {{ email.value }}, a link to a new password is on its way; it is good for an hour.
        </p>
        @if (session.mailbox(email.value); as url) {
          <p><a [href]="url" target="mailbox" rel="noopener">Open the mailbox</a></p>
        }
      } @else {
        <h1>A new password</h1>
        <form (submit)="store.forgot(email.value); $event.preventDefault()">
          <lg-text-field
            label="Your e-mail"
            name="email"
            hint="a link goes there"
            type="email"
            autocomplete="username"
            [control]="email"
            [wrong]="errors()['email'] || errors()['']"
          />
          <button type="submit" matButton="filled" [disabled]="store.form.busy()">Send the link</button>
          <a class="small beside" routerLink="/sign-in">Back to signing in</a>
        </form>
      }
    </main>
  `,
})
export class ForgotPassword {
  protected readonly store = inject(ArrivalStore);
  protected readonly session = inject(SessionFacade);
  protected readonly errors = this.store.form.errors;
  protected readonly email = inject(NonNullableFormBuilder).control('');
}
