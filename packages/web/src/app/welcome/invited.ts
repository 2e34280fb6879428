import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { TextField } from '../parts/form/text-field';
import { ArrivalStore } from './arrival.store';

/** What an invited person opens from their e-mail: they set a name and a password, or give those they have. */
@Component({
  selector: 'lg-invited',
  imports: [MatButtonModule, TextField],
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
        <form (submit)="accept(); $event.preventDefault()">
          @if (!i.known) {
            <lg-text-field
              label="Your name"
              name="name"
              autocomplete="name"
              [control]="form.controls.name"
              [wrong]="errors()['name']"
            />
          }
          <lg-text-field
            name="password"
            [label]="i.known ? 'Your password' : 'A password of your own'"
            [hint]="i.known ? '' : 'at least 10 characters'"
            type="password"
            [autocomplete]="i.known ? 'current-password' : 'new-password'"
            [control]="form.controls.password"
            [wrong]="errors()['password'] || errors()['']"
          />
          @if (store.codeWanted()) {
            <lg-text-field
              label="Code of your authenticator"
              hint="or a recovery code"
              autocomplete="one-time-code"
              [mono]="true"
              [control]="form.controls.code"
              [wrong]="errors()['code']"
            />
          }
          <button type="submit" matButton="filled" [disabled]="store.form.busy()">Accept and sign in</button>
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
  protected readonly errors = this.store.form.errors;
  protected readonly form = inject(NonNullableFormBuilder).group({ name: '', password: '', code: '' });

  constructor() {
    effect(() => void this.store.seeInvitation(this.token()));
  }

  protected async accept(): Promise<void> {
    if (await this.store.accept(this.token(), this.form.getRawValue())) await this.router.navigateByUrl('/');
  }
}
