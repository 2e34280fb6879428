import { ChangeDetectionStrategy, Component, inject, input, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { changeLock, getGuard, refusePortOut, showReleasePin, type GuardView } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** Whether a number is locked against being ported away, who tried, and the PIN another carrier asks for. */
@Component({
  selector: 'lg-number-guard',
  imports: [MatButtonModule, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (guard.value(); as g) {
      @for (a of g.attempts; track a.key) {
        @if (a.state === 'open') {
          <div class="step" role="alert">
            <span class="strong">{{ a.carrier }} wants to take this number away.</span>
            {{
              a.locked
                ? 'It is locked; at the deadline it is refused by itself.'
                : 'It is unlocked: refuse before the deadline, or it leaves.'
            }}
            Deadline {{ a.deadline | moment: 'zone' }}.
            @if (session.isAdministrator()) {
              <div>
                <button type="button" matButton="filled" [disabled]="busy()" (click)="refuse(a.key)">Refuse it</button>
              </div>
            }
          </div>
        } @else {
          <p class="soft small">{{ a.carrier }} asked for it {{ a.at | moment: 'day' }}: {{ a.state }}.</p>
        }
      }
      <h3>Against leaving</h3>
      @switch (g.lock) {
        @case ('locked') {
          <p><span class="pass strong">Locked.</span> Nobody can port it away.</p>
          @if (session.isAdministrator()) {
            <button type="button" matButton="outlined" [disabled]="busy()" (click)="change('ask to unlock')">
              Unlock…
            </button>
          }
        }
        @case ('asked') {
          <p>
            <span class="hold strong">Unlocking asked for</span> by {{ g.askedBy || 'you' }},
            {{ g.askedAt | moment: 'short' }}.
            {{ g.whyNot }}
            @if (g.answered === false && session.mailbox(''); as box) {
              <a [href]="box" target="mailbox" rel="noopener">Open the mailbox</a>
            } @else if (g.answered) {
              The business agreed by mail.
            }
          </p>
          @if (session.isAdministrator()) {
            <p class="ends">
              <button
                type="button"
                matButton="outlined"
                [disabled]="busy() || !g.mayConfirm"
                (click)="change('say yes')"
              >
                Say yes, unlock it
              </button>
              <button type="button" matButton="outlined" [disabled]="busy()" (click)="change('lock')">
                Keep it locked
              </button>
            </p>
          }
        }
        @case ('unlocked') {
          <p>
            <span class="stop strong">Unlocked</span> until {{ g.unlockedUntil | moment }}; whoever has the PIN can port
            it away.
          </p>
          @if (session.isAdministrator()) {
            <button type="button" matButton="filled" [disabled]="busy()" (click)="change('lock')">Lock it</button>
          }
        }
      }
      @if (session.isAdministrator()) {
        <p class="small">
          @if (pin()) {
            Release PIN <span class="mono strong">{{ pin() }}</span>
          } @else {
            <button type="button" matButton class="plain" [disabled]="busy()" (click)="look()">
              Show the release PIN
            </button>
            <span class="soft"> each look is on the record</span>
          }
        </p>
      }
    }
  `,
  styles: `
    h3 {
      margin: 14px 0 4px;
    }
    p {
      margin: 4px 0;
    }
    .ends {
      display: flex;
      gap: 8px;
      flex-wrap: wrap;
    }
  `,
})
export class NumberGuard {
  readonly id = input.required<string>();
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly pin = linkedSignal({ source: () => this.id(), computation: () => '' });
  protected readonly guard = liveResource(
    ['numbers'],
    () => (this.session.businessId() ? { businessId: this.session.businessId(), id: this.id() } : undefined),
    (params) => this.api.call(getGuard, { params }),
  );

  private path(): { businessId: string; id: string } {
    return { businessId: this.session.businessId(), id: this.id() };
  }

  protected async change(wish: 'ask to unlock' | 'say yes' | 'lock'): Promise<void> {
    if (
      wish !== 'lock' &&
      !(await this.confirm.ask({
        title: wish === 'say yes' ? 'Unlock this number?' : 'Ask to unlock this number?',
        line:
          wish === 'say yes'
            ? 'No cost. For seven days whoever has the release PIN can port it away; then it locks itself again.'
            : 'No cost. Nothing changes before another administrator, of a day at least, says yes; where there is none, a day has to pass and the business has to agree by mail.',
        yes: wish === 'say yes' ? 'Unlock it' : 'Ask for it',
      }))
    )
      return;
    await this.act(() => this.api.call(changeLock, { params: this.path(), body: { wish } }));
  }
  protected async refuse(key: string): Promise<void> {
    await this.act(
      () => this.api.call(refusePortOut, { params: this.path(), body: { key } }),
      'Refused; the number stays.',
    );
  }
  protected async look(): Promise<void> {
    const got = await this.acting.run(() => this.api.call(showReleasePin, { params: this.path() }));
    if (got) this.pin.set(got.pin);
  }
  private async act(work: () => Promise<GuardView>, done = ''): Promise<void> {
    const guard = await this.acting.run(work, done);
    if (guard) this.guard.set(guard);
  }
}
