import { ChangeDetectionStrategy, Component, inject, input, linkedSignal, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { CallHandlingShape, getCallHandling, setCallHandling, type CallHandling } from '@long-gate/contracts';
import { Api, type ApiProblem } from '../../api/api';
import { Say } from '../../parts/say';
import { checkWith, problemsInto } from '../../parts/schema-form';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

const NONE: CallHandling = { way: 'none', forwardTo: '', greeting: '', textBack: '', invites: false, list: '' };

/** What happens to calls to a texting number. */
@Component({
  selector: 'lg-number-calls',
  imports: [MatCheckboxModule, MatInputModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h3>Calls</h3>
    @if (!editing()) {
      <p>{{ words() }}</p>
      @if (session.isAdministrator()) {
        <button type="button" matButton class="plain" (click)="editing.set(true)">Change call handling</button>
      }
    } @else {
      <form (submit)="save(); $event.preventDefault()">
        <div class="field">
          <label for="way">A call to this number</label>
          <mat-form-field
            ><select matNativeControl id="way" (change)="set({ way: $any($event.target).value })">
              <option value="none" [selected]="draft().way === 'none'">rings; nobody answers</option>
              <option value="forward" [selected]="draft().way === 'forward'">is put through to another line</option>
              <option value="greet" [selected]="draft().way === 'greet'">is answered with a greeting</option>
            </select></mat-form-field
          >
        </div>
        @if (draft().way === 'forward') {
          <div class="field" [class.wrong]="errors()['forwardTo']">
            <label for="forwardTo">Line</label
            ><mat-form-field
              ><input
                matInput
                id="forwardTo"
                class="mono"
                [value]="draft().forwardTo"
                (input)="set({ forwardTo: $any($event.target).value })"
            /></mat-form-field>
            @if (errors()['forwardTo']) {
              <p class="error" role="alert">{{ errors()['forwardTo'] }}</p>
            }
          </div>
        } @else if (draft().way === 'greet') {
          <div class="field" [class.wrong]="errors()['greeting']">
            <label for="greeting">Greeting, spoken</label
            ><mat-form-field>
              <textarea
                matInput
                id="greeting"
                rows="4"
                maxlength="600"
                [value]="draft().greeting"
                (input)="set({ greeting: $any($event.target).value })"
              ></textarea>
            </mat-form-field>
            @if (errors()['greeting']) {
              <p class="error" role="alert">{{ errors()['greeting'] }}</p>
            }
          </div>
          <div class="field">
            <label for="textBack">Text back to the caller <span>through the gate</span></label
            ><mat-form-field>
              <textarea
                matInput
                id="textBack"
                rows="2"
                maxlength="480"
                [value]="draft().textBack"
                (input)="set({ textBack: $any($event.target).value })"
              ></textarea>
            </mat-form-field>
          </div>
          <mat-checkbox class="check" [checked]="draft().invites" (change)="set({ invites: $event.checked })"
            >It invites to join a list: pressing 1 is kept as consent to informational texts, with the greeting’s exact
            words. Offers need a written consent.</mat-checkbox
          >
          @if (draft().invites) {
            <div class="field" [class.wrong]="errors()['list']">
              <label for="list">List</label
              ><mat-form-field
                ><input matInput id="list" [value]="draft().list" (input)="set({ list: $any($event.target).value })"
              /></mat-form-field>
              @if (errors()['list']) {
                <p class="error" role="alert">{{ errors()['list'] }}</p>
              }
            </div>
          }
        }
        @if (errors()['']) {
          <p class="error" role="alert">{{ errors()[''] }}</p>
        }
        <button type="submit" matButton="filled" [disabled]="busy()">Save</button>
        <button type="button" matButton="outlined" (click)="editing.set(false)">Cancel</button>
      </form>
    }
  `,
  styles: `
    h3 {
      margin: 14px 0 4px;
    }
    .check {
      margin: 6px 0 10px;
    }
  `,
})
export class NumberCalls {
  readonly id = input.required<string>();
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly busy = signal(false);
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly editing = linkedSignal({ source: () => this.id(), computation: () => false });
  private readonly handling = liveResource(
    ['numbers'],
    () => (this.session.businessId() ? { businessId: this.session.businessId(), id: this.id() } : undefined),
    (params) => this.api.call(getCallHandling, { params }),
  );
  protected readonly draft = linkedSignal(() => this.handling.value() ?? NONE);

  protected words(): string {
    const h = this.draft();
    switch (h.way) {
      case 'none':
        return 'A call rings; nobody answers. It shows in the Inbox.';
      case 'forward':
        return `Put through to ${h.forwardTo}.`;
      case 'greet':
        return `Answered with a greeting${h.textBack ? ' and a text back' : ''}${h.invites ? `; pressing 1 joins “${h.list}”` : ''}.`;
    }
  }
  protected set(part: Partial<CallHandling>): void {
    this.draft.update((d) => ({ ...d, ...part }));
  }

  protected async save(): Promise<void> {
    this.errors.set(checkWith(CallHandlingShape, this.draft()));
    if (Object.keys(this.errors()).length > 0) return;
    this.busy.set(true);
    try {
      await this.api.call(setCallHandling, {
        params: { businessId: this.session.businessId(), id: this.id() },
        body: this.draft(),
      });
      this.editing.set(false);
      this.say.done('Saved; the network is told.');
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    } finally {
      this.busy.set(false);
    }
  }
}
