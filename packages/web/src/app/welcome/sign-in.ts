import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { signIn } from '@long-gate/contracts';
import { Api } from '../api/api';
import { SessionFacade } from '../state/session.facade';

@Component({
  selector: 'lg-sign-in',
  imports: [ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      <h1>Sign in</h1>
      <form [formGroup]="form" (ngSubmit)="send()">
        <div class="field">
          <label for="email">E-mail</label
          ><input id="email" class="text" type="email" autocomplete="username" formControlName="email" />
        </div>
        <div class="field" [class.wrong]="error()">
          <label for="password">Password</label
          ><input
            id="password"
            class="text"
            type="password"
            autocomplete="current-password"
            formControlName="password"
          />
          @if (error()) {
            <p class="error" role="alert">{{ error() }}</p>
          }
        </div>
        <button type="submit" class="do main" [disabled]="busy()">{{ busy() ? 'Signing in…' : 'Sign in' }}</button>
      </form>
      @if (session.session()?.demoSignIns?.length) {
        <div class="sign-ins">
          <p class="soft small">The demo’s sign-ins; everything in it is made up.</p>
          <ul>
            @for (s of session.session()?.demoSignIns; track s.role) {
              <li>
                <span>{{ s.email }}</span><button type="button" class="plain" (click)="use(s.email, s.password)">
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
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  protected readonly form = inject(NonNullableFormBuilder).group({ email: '', password: '' });
  protected readonly error = signal('');
  protected readonly busy = signal(false);

  constructor() {
    if (this.session.session()?.setupNeeded) void this.router.navigateByUrl('/set-up');
  }

  protected use(email: string, password: string): void {
    this.form.setValue({ email, password });
    void this.send();
  }

  protected async send(): Promise<void> {
    this.busy.set(true);
    this.error.set('');
    try {
      this.session.take(await this.api.call(signIn, { body: this.form.getRawValue() }));
      const to = this.to();
      await this.router.navigateByUrl(to?.startsWith('/') ? to : '/');
    } catch (error) {
      this.error.set((error as Error).message);
    } finally {
      this.busy.set(false);
    }
  }
}
