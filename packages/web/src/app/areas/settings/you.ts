import { ChangeDetectionStrategy, Component, computed, effect, inject } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { formatPhone } from '@long-gate/core';
import { PhonePipe } from '../../parts/format';
import { OwnMobile } from '../../parts/own-mobile';
import { TextField } from '../../parts/form/text-field';
import { SessionFacade } from '../../state/session.facade';
import { AccountStore } from './account.store';
import { OwnPassword } from './own-password';
import { OwnSessions } from './own-sessions';
import { OwnFactor } from './own-factor';

/** The signed-in person: the mobile that tests go to, password, second factor, and where they are signed in. */
@Component({
  selector: 'lg-you-settings',
  imports: [MatButtonModule, OwnMobile, OwnPassword, OwnFactor, OwnSessions, PhonePipe, TextField],
  providers: [AccountStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (user(); as u) {
      <dl class="facts">
        <dt>Name</dt>
        <dd>{{ u.name }}</dd>
        <dt>E-mail</dt>
        <dd>{{ u.email }}</dd>
        <dt>Role here</dt>
        <dd>{{ session.role() }}</dd>
        <dt>Own mobile</dt>
        <dd>{{ u.mobile ? (u.mobile | phone) + ', confirmed' : 'none confirmed' }}</dd>
      </dl>
      @if (u.mobilePending) {
        <div class="step hold">
          <span class="strong">Confirm {{ u.mobilePending | phone }}.</span> A code was sent to it; give it back here.
          Until then no test goes there and nothing can be bought.
          <lg-own-mobile />
        </div>
      }
      <div class="two">
        <section>
          <form (submit)="store.saveMobile(mobile.value); $event.preventDefault()">
            <lg-text-field
              [label]="u.mobile ? 'Another mobile' : 'Your own mobile'"
              name="mobile"
              hint="tests go to it; it confirms who buys"
              type="tel"
              autocomplete="tel"
              [control]="mobile"
              [wrong]="mobileWrong()"
            />
            <p class="soft small">The code costs {{ session.business()?.nameLine }} what a text costs, 0.7 cents.</p>
            <button type="submit" matButton="outlined" [disabled]="store.mobileForm.busy()">Save</button>
          </form>
          <lg-own-password />
        </section>
        <section><lg-own-factor /></section>
      </div>
      <lg-own-sessions />
    }
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
      gap: 0 40px;
      margin-top: 18px;
    }
    form {
      max-width: 340px;
    }
    p {
      margin: 0 0 8px;
    }
  `,
})
export class YouSettings {
  protected readonly session = inject(SessionFacade);
  protected readonly store = inject(AccountStore);
  protected readonly user = computed(() => this.session.session()?.user ?? null);
  protected readonly mobile = inject(NonNullableFormBuilder).control('');
  protected readonly mobileWrong = computed(() => {
    const errors = this.store.mobileForm.errors();
    return errors['mobile'] ?? Object.values(errors)[0];
  });

  constructor() {
    effect(() => this.mobile.setValue(formatPhone(this.user()?.mobilePending ?? '')));
  }
}
