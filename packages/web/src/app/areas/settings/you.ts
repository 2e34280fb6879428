import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { listNumbers, saveOwnMobile } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Api, type ApiProblem } from '../../api/api';
import { PhonePipe } from '../../parts/format';
import { Say } from '../../parts/say';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** The signed-in person, and the mobile that tests go to once its code came in from it. */
@Component({
  selector: 'lg-you-settings',
  imports: [PhonePipe],
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
          <span class="strong">Confirm {{ u.mobilePending | phone }}.</span> Text
          <strong class="mono">{{ u.mobileCode }}</strong> from it to
          @if (number(); as n) {
            <span class="mono">{{ n | phone }}</span>.
          } @else {
            one of our numbers, once there is an active one.
          }
          Until then no test goes there.
          @if (number() && session.session()?.clock?.movable) {
            <div><a class="do" [href]="handset()" target="handset" rel="noopener">Open the handset</a></div>
          }
        </div>
      }
      <form (submit)="save(); $event.preventDefault()">
        <div class="field" [class.wrong]="wrong()">
          <label for="mobile">{{ u.mobile ? 'Another mobile' : 'Your own mobile' }} <span>tests go to it</span></label
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
  private readonly numbers = liveResource(
    ['numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listNumbers, { params: { businessId } }),
  );
  protected readonly number = computed(() => this.numbers.value()?.items.find((n) => n.state === 'active')?.e164 ?? '');
  protected readonly handset = computed(
    () =>
      `${this.session.session()?.outsideUrl ?? ''}/handset?number=${encodeURIComponent(this.user()?.mobilePending ?? '')}&to=${encodeURIComponent(this.number())}`,
  );

  protected async save(): Promise<void> {
    try {
      this.session.take(await this.api.call(saveOwnMobile, { body: { mobile: this.mobile() } }));
      this.wrong.set('');
      this.say.done(this.user()?.mobilePending ? 'Saved; confirm it now.' : 'Taken away.');
    } catch (error) {
      this.wrong.set((error as ApiProblem).of('mobile') || (error as Error).message);
    }
  }
}
