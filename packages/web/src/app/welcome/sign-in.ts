import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { TextField } from '../parts/form/text-field';
import { SessionFacade } from '../state/session.facade';
import { ArrivalStore } from './arrival.store';

@Component({
  selector: 'lg-sign-in',
  imports: [MatButtonModule, RouterLink, TextField],
  providers: [ArrivalStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      <h1>Sign in</h1>
      <form (submit)="send(); $event.preventDefault()">
        <lg-text-field
          label="E-mail"
          name="email"
          type="email"
          autocomplete="username"
          [control]="form.controls.email"
          [wrong]="errors()['email']"
        />
        <lg-text-field
          label="Password"
          name="password"
          type="password"
          autocomplete="current-password"
          [control]="form.controls.password"
          [wrong]="errors()['password'] || errors()['']"
        />
        @if (store.codeWanted()) {
          <lg-text-field
            label="Code of your authenticator"
            name="code"
            hint="or a recovery code"
            autocomplete="one-time-code"
            [mono]="true"
            [control]="form.controls.code"
            [wrong]="codeWrong()"
          />
        }
        <button type="submit" matButton="filled" [disabled]="busy()">{{ busy() ? 'Signing in…' : 'Sign in' }}</button>
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
  protected readonly form = inject(NonNullableFormBuilder).group({ email: '', password: '', code: '' });
  protected readonly errors = this.store.form.errors;
  protected readonly busy = this.store.form.busy;
  /** That a code is wanted is no fault yet; only a wrong one is. */
  protected readonly codeWrong = computed(() => (this.form.controls.code.value ? this.errors()['code'] : ''));

  constructor() {
    if (this.session.session()?.setupNeeded) void this.router.navigateByUrl('/set-up');
  }

  protected use(email: string, password: string): void {
    this.form.setValue({ email, password, code: '' });
    void this.send();
  }

  protected async send(): Promise<void> {
    if (!(await this.store.signIn(this.form.getRawValue()))) return;
    const to = this.to();
    await this.router.navigateByUrl(to?.startsWith('/') ? to : '/');
  }
}
