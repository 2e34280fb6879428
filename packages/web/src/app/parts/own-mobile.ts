import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { confirmOwnMobile, saveOwnMobile } from '@long-gate/contracts';
import { Api, type ApiProblem } from '../api/api';
import { SessionFacade } from '../state/session.facade';
import { PhonePipe } from './format';

/** Confirms the signed-in person's own mobile by the code that was sent to it. */
@Component({
  selector: 'lg-own-mobile',
  imports: [MatInputModule, MatButtonModule, RouterLink, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pending(); as mobile) {
      <form (submit)="confirm(); $event.preventDefault()">
        <label for="own-code">Code sent to {{ mobile | phone }}</label>
        <div class="line">
          <mat-form-field
            ><input
              matInput
              id="own-code"
              class="mono"
              inputmode="numeric"
              autocomplete="one-time-code"
              maxlength="7"
              [value]="code()"
              (input)="code.set($any($event.target).value)" /></mat-form-field
          ><button type="submit" matButton="outlined" [disabled]="busy() || !code()">Confirm</button>
        </div>
        @if (wrong()) {
          <p class="error" role="alert">{{ wrong() }}</p>
        }
        <p class="small">
          <button type="button" matButton class="plain" (click)="again()">Send a new code</button>
          @if (session.session()?.clock?.movable) {
            · <a [href]="handset()" target="handset" rel="noopener">open the handset</a>
          }
        </p>
      </form>
    } @else {
      <a [routerLink]="['/b', session.businessId(), 'settings', 'you']">Give your own mobile</a>
    }
  `,
  styles: `
    .line {
      display: flex;
      gap: 8px;
      margin-top: 3px;
    }
    .line mat-form-field {
      width: 130px;
    }
    form {
      margin-top: 6px;
    }
  `,
})
export class OwnMobile {
  readonly confirmed = output();
  private readonly api = inject(Api);
  protected readonly session = inject(SessionFacade);
  protected readonly pending = computed(() => this.session.session()?.user?.mobilePending ?? '');
  protected readonly code = signal('');
  protected readonly wrong = signal('');
  protected readonly busy = signal(false);
  protected readonly handset = computed(
    () => `${this.session.session()?.outsideUrl ?? ''}/handset?number=${encodeURIComponent(this.pending())}`,
  );

  protected async confirm(): Promise<void> {
    await this.act(async () => {
      this.session.take(await this.api.call(confirmOwnMobile, { body: { code: this.code() } }));
      this.confirmed.emit();
    });
  }
  protected async again(): Promise<void> {
    await this.act(async () =>
      this.session.take(
        await this.api.call(saveOwnMobile, {
          body: { mobile: this.pending(), businessId: this.session.businessId() },
        }),
      ),
    );
  }
  private async act(work: () => Promise<void>): Promise<void> {
    this.busy.set(true);
    this.wrong.set('');
    try {
      await work();
      this.code.set('');
    } catch (error) {
      this.wrong.set((error as ApiProblem).message);
    } finally {
      this.busy.set(false);
    }
  }
}
