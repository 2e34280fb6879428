import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { acceptInvitation } from '@long-gate/contracts';
import { CheckedForm } from '../parts/form/checked-form';
import { text } from '../parts/form/controls';
import { Faults } from '../parts/form/faults';
import { Form } from '../parts/form/form';
import { TextField } from '../parts/form/text-field';
import { ArrivalStore } from './arrival.store';

/** What an invited person opens from their e-mail: they set a name and a password, or give those they have. */
@Component({
  selector: 'lg-invited',
  imports: [Faults, Form, MatButtonModule, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      @if (store.missing()) {
        <h1>This invitation is not good any more</h1>
        <p>It was used, withdrawn or has run out. Ask whoever invited you to send it again.</p>
      } @else if (store.invitation(); as i) {
        <h1>{{ i.business }}</h1>
        <p>
          You are invited as <span class="strong">{{ i.role }}</span>, under {{ i.email }}.
          {{
            i.known
              ? 'There is an account for this address: give its password.'
              : 'Choose a password; nobody but you will know it.'
          }}
        </p>
        <form [lgForm]="form" (sent)="accept()">
          @if (!i.known) {
            <lg-text-field label="Your name" name="name" autocomplete="name" [control]="form.controls.name" />
          }
          <lg-text-field
            name="password"
            [label]="i.known ? 'Your password' : 'A password of your own'"
            [hint]="i.known ? '' : 'at least 10 characters'"
            type="password"
            [autocomplete]="i.known ? 'current-password' : 'new-password'"
            [control]="form.controls.password"
          />
          @if (store.codeWanted()) {
            <lg-text-field
              label="Code of your authenticator"
              hint="or a recovery code"
              autocomplete="one-time-code"
              mono
              takesFocus
              [control]="form.controls.code"
            />
          }
          <lg-faults [form]="form" />
          <button type="submit" matButton="filled" [disabled]="form.busy()">Accept and sign in</button>
        </form>
      } @else {
        <p>…</p>
      }
    </main>
  `,
})
export class Invited {
  readonly token = input.required<string>();
  private readonly router = inject(Router);
  protected readonly store = inject(ArrivalStore);
  protected readonly form = new CheckedForm({ name: text(), password: text(), code: text() }, acceptInvitation.body);

  constructor() {
    effect(() => void this.store.seeInvitation(this.token()));
  }

  protected async accept(): Promise<void> {
    if (await this.form.send((body) => this.store.accept(this.token(), body))) await this.router.navigateByUrl('/');
  }
}
