import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { signIn } from '@long-gate/contracts';
import { CheckedForm } from '../parts/form/checked-form';
import { text } from '../parts/form/controls';
import { Faults } from '../parts/form/faults';
import { Form } from '../parts/form/form';
import { TextField } from '../parts/form/text-field';
import { SessionFacade } from '../state/session.facade';
import { ArrivalStore } from './arrival.store';

@Component({
  selector: 'lg-sign-in',
  imports: [Faults, Form, MatButtonModule, RouterLink, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      <h1>Sign in</h1>
      <form [lgForm]="form" (sent)="send()">
        <lg-text-field
          label="E-mail"
          name="email"
          type="email"
          autocomplete="username"
          [control]="form.controls.email"
        />
        <lg-text-field
          label="Password"
          name="password"
          type="password"
          autocomplete="current-password"
          [control]="form.controls.password"
        />
        @if (store.codeWanted()) {
          <lg-text-field
            label="Code of your authenticator"
            name="code"
            hint="or a recovery code"
            autocomplete="one-time-code"
            mono
            takesFocus
            [control]="form.controls.code"
          />
        }
        <lg-faults [form]="form" />
        <button type="submit" matButton="filled" [disabled]="form.busy()">
          {{ form.busy() ? 'Signing in…' : 'Sign in' }}
        </button>
        <a class="small beside" routerLink="/forgot-password">Forgot your password?</a>
      </form>
      @if (session.session()?.demoSignIns?.length) {
        <div class="sign-ins">
          <p class="soft small">The demo’s sign-ins; everything in it is made up.</p>
          <ul>
            @for (s of session.session()?.demoSignIns; track s.role) {
              <li>
                <span>{{ s.email }}</span><button
                  type="button"
                  matButton
                  class="plain"
                  (click)="use(s.email, s.password)"
                >
                  Sign in as {{ s.role }}
                </button>
              </li>
            }
          </ul>
        </div>
      }
    </main>
  `,
})
export class SignIn {
  readonly to = input<string>();
  private readonly router = inject(Router);
  protected readonly store = inject(ArrivalStore);
  protected readonly session = inject(SessionFacade);
  protected readonly form = new CheckedForm({ email: text(), password: text(), code: text() }, signIn.body);

  constructor() {
    if (this.session.session()?.setupNeeded) void this.router.navigateByUrl('/set-up');
  }

  protected use(email: string, password: string): void {
    this.form.group.setValue({ email, password, code: '' });
    void this.send();
  }

  protected async send(): Promise<void> {
    if (!(await this.form.send((body) => this.store.signIn(body)))) return;
    const to = this.to();
    await this.router.navigateByUrl(to?.startsWith('/') ? to : '/');
  }
}
