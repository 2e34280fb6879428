import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { resetPassword } from '@long-gate/contracts';
import { CheckedForm } from '../parts/form/checked-form';
import { text } from '../parts/form/controls';
import { Faults } from '../parts/form/faults';
import { Form } from '../parts/form/form';
import { TextField } from '../parts/form/text-field';
import { ArrivalStore } from './arrival.store';

/** Sets a new password by the link that was mailed. */
@Component({
  selector: 'lg-new-password',
  imports: [Faults, Form, MatButtonModule, RouterLink, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      @if (store.done()) {
        <h1>Your password is set</h1>
        <p>Every session of yours has ended. <a routerLink="/sign-in">Sign in with the new password</a>.</p>
      } @else if (store.missing()) {
        <h1>This link is not good any more</h1>
        <p>It was used, or is older than an hour. <a routerLink="/forgot-password">Have another one sent</a>.</p>
      } @else if (store.email()) {
        <h1>A new password</h1>
        <p>For {{ store.email() }}.</p>
        <form [lgForm]="form" (sent)="send()">
          <lg-text-field
            label="New password"
            name="password"
            hint="at least 10 characters"
            type="password"
            autocomplete="new-password"
            [control]="form.controls.password"
          />
          <lg-faults [form]="form" />
          <button type="submit" matButton="filled" [disabled]="form.busy()">Set it</button>
        </form>
      } @else {
        <p>…</p>
      }
    </main>
  `,
})
export class NewPassword {
  readonly token = input.required<string>();
  protected readonly store = inject(ArrivalStore);
  protected readonly form = new CheckedForm({ password: text() }, resetPassword.body);

  constructor() {
    effect(() => void this.store.seeReset(this.token()));
  }

  protected async send(): Promise<void> {
    await this.form.send((body) => this.store.reset(this.token(), body));
  }
}
