import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { beginFactor, confirmFactor, endFactor, renewRecoveryCodes } from '@long-gate/contracts';
import { Say } from '../../parts/say';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { AccountStore } from './account.store';

/** A second factor: set up with an authenticator, renewed, taken away. */
@Component({
  selector: 'lg-own-factor',
  imports: [Faults, Form, MatButtonModule, TextField],
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
      <form [lgForm]="confirming" (sent)="confirm()">
        <lg-text-field
          label="Code"
          name="factor-code"
          autocomplete="one-time-code"
          inputmode="numeric"
          mono
          [control]="confirming.controls.code"
        />
        <lg-faults [form]="confirming" />
        <p class="ends">
          <button type="submit" matButton="filled" [disabled]="confirming.busy()">Confirm</button>
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
          <button type="button" matButton="outlined" (click)="turnTo('renew')">New recovery codes</button>
          <button type="button" matButton class="plain stop" (click)="turnTo('end')">Take it away</button>
        </p>
      } @else if (doing() === 'renew') {
        <form [lgForm]="renewing" (sent)="renew()">
          <lg-text-field
            label="Code of now"
            hint="or a recovery code"
            autocomplete="one-time-code"
            mono
            takesFocus
            [control]="renewing.controls.code"
          />
          <lg-faults [form]="renewing" />
          <p class="ends">
            <button type="submit" matButton="filled" [disabled]="renewing.busy()">Make new codes</button>
            <button type="button" matButton="outlined" (click)="turnTo('')">Not now</button>
          </p>
        </form>
      } @else {
        <form [lgForm]="ending" (sent)="end()">
          <lg-text-field
            label="Password"
            type="password"
            autocomplete="current-password"
            takesFocus
            [control]="ending.controls.password"
          />
          <lg-text-field
            label="Code of now"
            hint="or a recovery code"
            autocomplete="one-time-code"
            mono
            [control]="ending.controls.code"
          />
          <lg-faults [form]="ending" />
          <p class="ends">
            <button type="submit" matButton="filled" [disabled]="ending.busy()">Take it away</button>
            <button type="button" matButton="outlined" (click)="turnTo('')">Not now</button>
          </p>
        </form>
      }
    } @else {
      <p>None. With one, signing in asks for a code of your authenticator (RFC 6238) beside the password.</p>
      <form [lgForm]="beginning" (sent)="begin()">
        <lg-text-field
          label="Your password"
          name="factor-password"
          type="password"
          autocomplete="current-password"
          [control]="beginning.controls.password"
        />
        <lg-faults [form]="beginning" />
        <button type="submit" matButton="outlined" [disabled]="beginning.busy()">Set it up</button>
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
  protected readonly beginning = new CheckedForm({ password: text() }, beginFactor.body);
  protected readonly confirming = new CheckedForm({ code: text() }, confirmFactor.body);
  protected readonly renewing = new CheckedForm({ code: text() }, renewRecoveryCodes.body);
  protected readonly ending = new CheckedForm({ password: text(), code: text() }, endFactor.body);
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
    if (!(await this.beginning.send((body) => this.store.beginFactor(body)))) return;
    this.beginning.group.reset();
    this.confirming.group.reset();
  }
  protected async confirm(): Promise<void> {
    if (await this.confirming.send((body) => this.store.confirmFactor(body))) this.confirming.group.reset();
  }
  protected async renew(): Promise<void> {
    if (await this.renewing.send((body) => this.store.renewCodes(body))) this.turnTo('');
  }
  protected async end(): Promise<void> {
    if (await this.ending.send((body) => this.store.endFactor(body))) this.turnTo('');
  }
  /** What was typed is forgotten: a code is of its half minute, a password of its owner. */
  protected turnTo(doing: '' | 'renew' | 'end'): void {
    this.renewing.group.reset();
    this.ending.group.reset();
    this.doing.set(doing);
  }
}
