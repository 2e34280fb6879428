import { ChangeDetectionStrategy, Component, computed, effect, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { saveOwnMobile } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { PhonePipe } from '../../parts/format';
import { OwnMobile } from '../../parts/own-mobile';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { SessionFacade } from '../../state/session.facade';
import { AccountStore } from './account.store';
import { OwnPassword } from './own-password';
import { OwnSessions } from './own-sessions';
import { OwnFactor } from './own-factor';

/** The signed-in person: the mobile that tests go to, password, second factor, and where they are signed in. */
@Component({
  selector: 'lg-you-settings',
  imports: [Faults, Form, MatButtonModule, OwnMobile, OwnPassword, OwnFactor, OwnSessions, PhonePipe, TextField],
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
          <form [lgForm]="form" (sent)="save()">
            <lg-text-field
              [label]="u.mobile ? 'Another mobile' : 'Your own mobile'"
              name="mobile"
              hint="tests go to it; it confirms who buys"
              type="tel"
              autocomplete="tel"
              [control]="form.controls.mobile"
            />
            <lg-faults [form]="form" />
            <p class="soft small">The code costs {{ session.business()?.nameLine }} what a text costs, 0.7 cents.</p>
            <button type="submit" matButton="outlined" [disabled]="form.busy()">Save</button>
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
      grid-template-columns: repeat(auto-fit, minmax(min(280px, 100%), 1fr));
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
  private readonly store = inject(AccountStore);
  protected readonly user = computed(() => this.session.session()?.user ?? null);
  protected readonly form = new CheckedForm({ mobile: text() }, saveOwnMobile.body, {
    body: (typed) => ({ ...typed, businessId: this.session.businessId() }),
  });

  constructor() {
    effect(() => this.form.controls.mobile.setValue(formatPhone(this.user()?.mobilePending ?? '')));
  }

  protected async save(): Promise<void> {
    await this.form.send((body) => this.store.saveMobile(body));
  }
}
