import { ChangeDetectionStrategy, Component, inject, linkedSignal, signal } from '@angular/core';
import { saveOwnMobile } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Api, type ApiProblem } from '../../api/api';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';

@Component({
  selector: 'lg-you-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <dl class="facts">
      <dt>Name</dt>
      <dd>{{ session.session()?.user?.name }}</dd>
      <dt>E-mail</dt>
      <dd>{{ session.session()?.user?.email }}</dd>
      <dt>Role here</dt>
      <dd>{{ session.role() }}</dd>
    </dl>
    <form (submit)="save(); $event.preventDefault()">
      <div class="field" [class.wrong]="wrong()">
        <label for="mobile">Your own mobile <span>tests go to it</span></label
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
  protected readonly mobile = linkedSignal(() => formatPhone(this.session.session()?.user?.mobile ?? ''));
  protected readonly wrong = signal('');

  protected async save(): Promise<void> {
    try {
      this.session.take(await this.api.call(saveOwnMobile, { body: { mobile: this.mobile() } }));
      this.wrong.set('');
      this.say.done('Saved.');
    } catch (error) {
      this.wrong.set((error as ApiProblem).of('mobile') || (error as Error).message);
    }
  }
}
