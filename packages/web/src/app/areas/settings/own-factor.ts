import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { Say } from '../../parts/say';
import { TextField } from '../../parts/form/text-field';
import { AccountStore } from './account.store';

/** A second factor: set up with an authenticator, renewed, taken away. */
@Component({
  selector: 'lg-own-factor',
  imports: [MatButtonModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Second factor</h2>
    @if (store.recoveryCodes().length > 0) {
      <p>
        <span class="strong">Write these recovery codes down; they are shown this once.</span> Each signs you in once
        when the authenticator is lost.
      </p>
      <ol class="mono codes">
        @for (c of store.recoveryCodes(); track c) {
          <li>{{ c }}</li>
        }
      </ol>
      <p class="ends">
        <button type="button" matButton="outlined" (click)="copy()">Copy them</button>
        <button type="button" matButton="filled" (click)="store.putAway()">I have them</button>
      </p>
    } @else if (store.begun(); as b) {
      <p>Read this with an authenticator, then write the code it shows.</p>
      <img [src]="b.qr" width="200" height="200" alt="The secret as a QR code; it is written below" />
      <p class="small">
        or type <span class="mono">{{ groups(b.secret) }}</span>
      </p>
      <form (submit)="confirm(); $event.preventDefault()">
        <lg-text-field
          label="Code"
          name="factor-code"
          autocomplete="one-time-code"
          inputmode="numeric"
          [mono]="true"
          [control]="form.controls.code"
          [wrong]="errors()['code'] || errors()['']"
        />
        <p class="ends">
          <button type="submit" matButton="filled" [disabled]="busy()">Confirm</button>
          <button type="button" matButton="outlined" (click)="store.putAway()">Not now</button>
        </p>
      </form>
    } @else if (store.factorOn()) {
      <p>
        Set up. {{ store.codesLeft() }} recovery {{ store.codesLeft() === 1 ? 'code is' : 'codes are' }} left.
        @if (store.codesLeft() < 3) {
          <span class="hold strong">Make new ones.</span>
        }
      </p>
      @if (doing() === '') {
        <p class="ends">
          <button type="button" matButton="outlined" (click)="doing.set('renew')">New recovery codes</button>
          <button type="button" matButton class="plain stop" (click)="doing.set('end')">Take it away</button>
        </p>
      } @else {
        <form (submit)="act(); $event.preventDefault()">
          @if (doing() === 'end') {
            <lg-text-field
              label="Password"
              type="password"
              autocomplete="current-password"
              [control]="form.controls.password"
              [wrong]="errors()['password']"
            />
          }
          <lg-text-field
            label="Code of now"
            hint="or a recovery code"
            autocomplete="one-time-code"
            [mono]="true"
            [control]="form.controls.code"
            [wrong]="errors()['code'] || errors()['']"
          />
          <p class="ends">
            <button type="submit" matButton="filled" [disabled]="busy()">
              {{ doing() === 'end' ? 'Take it away' : 'Make new codes' }}
            </button>
            <button type="button" matButton="outlined" (click)="doing.set('')">Not now</button>
          </p>
        </form>
      }
    } @else {
      <p>None. With one, signing in asks for a code of your authenticator (RFC 6238) beside the password.</p>
      <form (submit)="begin(); $event.preventDefault()">
        <lg-text-field
          label="Your password"
          name="factor-password"
          type="password"
          autocomplete="current-password"
          [control]="form.controls.password"
          [wrong]="errors()['password'] || errors()['']"
        />
        <button type="submit" matButton="outlined" [disabled]="busy()">Set it up</button>
      </form>
    }
  `,
  styles: `
    h2 {
      margin: 0 0 8px;
    }
    form {
      max-width: 340px;
    }
    p {
      margin: 6px 0;
    }
    .codes {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 4px 16px;
      max-width: 340px;
    }
    .ends {
      display: flex;
      gap: 8px;
    }
    img {
      border: 1px solid var(--hairline);
    }
  `,
})
export class OwnFactor {
  private readonly say = inject(Say);
  protected readonly store = inject(AccountStore);
  protected readonly errors = this.store.factorForm.errors;
  protected readonly busy = this.store.factorForm.busy;
  protected readonly form = inject(NonNullableFormBuilder).group({ password: '', code: '' });
  protected readonly doing = signal<'' | 'renew' | 'end'>('');
  private readonly codes = computed(() => this.store.recoveryCodes().join('\n'));

  protected groups(secret: string): string {
    return secret.replace(/(.{4})(?=.)/g, '$1 ');
  }
  protected async copy(): Promise<void> {
    await navigator.clipboard.writeText(this.codes());
    this.say.done('Copied.');
  }
  protected async begin(): Promise<void> {
    if (await this.store.beginFactor(this.form.controls.password.value)) this.form.reset();
  }
  protected async confirm(): Promise<void> {
    if (await this.store.confirmFactor(this.form.controls.code.value)) this.form.reset();
  }
  protected async act(): Promise<void> {
    const { password, code } = this.form.getRawValue();
    const done = await (this.doing() === 'end'
      ? this.store.endFactor({ password, code })
      : this.store.renewCodes(code));
    if (!done) return;
    this.form.reset();
    this.doing.set('');
  }
}
