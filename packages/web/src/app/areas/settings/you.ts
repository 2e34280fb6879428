import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { saveOwnMobile } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Api, type ApiProblem } from '../../api/api';
import { PhonePipe } from '../../parts/format';
import { OwnMobile } from '../../parts/own-mobile';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';

/** The signed-in person, and the mobile that tests go to once the code sent to it was given back. */
@Component({
  selector: 'lg-you-settings',
  imports: [OwnMobile, PhonePipe],
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
      <form (submit)="save(); $event.preventDefault()">
        <div class="field" [class.wrong]="wrong()">
          <label for="mobile"
            >{{ u.mobile ? 'Another mobile' : 'Your own mobile' }}
            <span>tests go to it; it confirms who buys</span></label
          ><input
            id="mobile"
            class="text"
            type="tel"
            [value]="mobile()"
            (input)="mobile.set($any($event.target).value)"
          />
          @if (wrong()) {
            <p class="error" role="alert">{{ wrong() }}</p>
          }
        </div>
        <button type="submit" class="do main">Save</button>
      </form>
    }
  `,
  styles: `
    form {
      max-width: 320px;
      margin-top: 18px;
    }
  `,
})
export class YouSettings {
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly user = computed(() => this.session.session()?.user ?? null);
  protected readonly mobile = linkedSignal(() => formatPhone(this.user()?.mobilePending ?? ''));
  protected readonly wrong = signal('');
  protected async save(): Promise<void> {
    try {
      this.session.take(await this.api.call(saveOwnMobile, { body: { mobile: this.mobile() } }));
      this.wrong.set('');
      this.say.done(this.user()?.mobilePending ? 'A code is on its way to it.' : 'Taken away.');
    } catch (error) {
      this.wrong.set((error as ApiProblem).of('mobile') || (error as Error).message);
    }
  }
}
