import { ChangeDetectionStrategy, Component, inject, input, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { NumberGuardStore } from './number-guard.store';

/** Whether a number is locked against being ported away, who tried, and the PIN another carrier asks for. */
@Component({
  selector: 'lg-number-guard',
  imports: [MatButtonModule, MomentPipe],
  providers: [NumberGuardStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.guard.value(); as g) {
      @for (a of g.attempts; track a.key) {
        @if (a.state === 'open') {
          <div class="step" role="alert">
            <span class="strong">{{ a.carrier }} wants to take this number away.</span>
            {{
              a.locked
                ? 'It is locked; at the deadline it is refused by itself.'
                : 'It is unlocked: refuse it, or lock the number, before the deadline, or it leaves.'
            }}
            Deadline {{ a.deadline | moment: 'zone' }}.
            @if (store.session.isAdministrator()) {
              <div>
                <button type="button" matButton="filled" [disabled]="busy()" (click)="store.refuse(a.key)">
                  Refuse it
                </button>
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
          @if (store.session.isAdministrator()) {
            <button type="button" matButton="outlined" [disabled]="busy()" (click)="change('ask to unlock')">
              Unlock…
            </button>
          }
        }
        @case ('asked') {
          <p>
            <span class="hold strong">Unlocking asked for</span> by {{ g.askedBy || 'you' }},
            {{ g.askedAt | moment: 'short' }}. It lapses {{ g.lapsesAt | moment: 'short' }}, unless it is answered.
            {{ g.whyNot }}
            @if (g.answered === false && store.session.mailbox(''); as box) {
              <a [href]="box" target="mailbox" rel="noopener">Open the mailbox</a>
            } @else if (g.answered) {
              The business agreed by mail.
            }
          </p>
          @if (store.session.isAdministrator()) {
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
          @if (store.session.isAdministrator()) {
            <button type="button" matButton="filled" [disabled]="busy()" (click)="change('lock')">Lock it</button>
          }
        }
      }
      @if (store.session.isAdministrator()) {
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
  protected readonly store = inject(NumberGuardStore);
  private readonly confirm = inject(Confirm);
  protected readonly busy = this.store.acting.busy;
  protected readonly pin = linkedSignal({ source: () => this.id(), computation: () => '' });

  constructor() {
    this.store.about(this.id);
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
    await this.store.change(wish);
  }
  protected async look(): Promise<void> {
    this.pin.set(await this.store.look());
  }
}
