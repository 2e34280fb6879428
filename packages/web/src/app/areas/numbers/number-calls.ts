import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { CallHandlingShape, type CallHandling } from '@long-gate/contracts';
import { greetingTemplate } from '@long-gate/core';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { NumberCallsStore } from './number-calls.store';
import { flag, text } from '../../parts/form/controls';

const WAYS = [
  { value: 'none', label: 'rings; nobody answers' },
  { value: 'forward', label: 'is put through to another line' },
  { value: 'greet', label: 'is answered with a greeting' },
];

/** What happens to calls to a texting number. */
@Component({
  selector: 'lg-number-calls',
  imports: [ReactiveFormsModule, MatCheckboxModule, MatButtonModule, ChoiceField, Faults, Form, TextField],
  providers: [NumberCallsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h3>Calls</h3>
    @if (!editing()) {
      <p>{{ words() }}</p>
      @if (store.session.isAdministrator()) {
        <button type="button" matButton class="plain" (click)="edit()">Change call handling</button>
      }
    } @else {
      <form [lgForm]="form" (sent)="save()">
        <lg-choice-field [control]="form.controls.way" label="A call to this number" [choices]="ways" name="way" />
        @if (drafted().way === 'forward') {
          <lg-text-field [control]="form.controls.forwardTo" label="Line" name="forwardTo" mono />
        } @else if (drafted().way === 'greet') {
          <lg-text-field
            [control]="form.controls.greeting"
            label="Greeting, spoken"
            name="greeting"
            [lines]="4"
            [most]="600"
          />
          <lg-text-field
            [control]="form.controls.textBack"
            label="Text back to the caller"
            hint="through the gate"
            name="textBack"
            [lines]="2"
            [most]="480"
          />
          <p class="small">
            <button type="button" matButton class="plain" (click)="template()">
              {{
                drafted().invites ? 'Start from a greeting that tells all they agree to' : 'Start from a plain greeting'
              }}
            </button>
          </p>
          <mat-checkbox class="check" [formControl]="form.controls.invites"
            >It invites to join a list: pressing 1 is kept as consent to informational texts, with the greeting’s exact
            words. Offers need a written consent.</mat-checkbox
          >
          @if (drafted().invites) {
            <lg-choice-field
              [control]="form.controls.list"
              label="List"
              name="list"
              none="choose the list…"
              [choices]="lists()"
            />
            @if (store.lists().length === 0) {
              <p class="soft small">There is no list yet; make one in Contacts first.</p>
            }
          }
        }
        <lg-faults [form]="form" />
        <button type="submit" matButton="filled" [disabled]="form.busy()">Save</button>
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
  protected readonly store = inject(NumberCallsStore);
  protected readonly ways = WAYS;
  protected readonly editing = linkedSignal({ source: () => this.id(), computation: () => false });
  protected readonly form = new CheckedForm(
    {
      way: new FormControl<CallHandling['way']>('none', { nonNullable: true }) as FormControl<string>,
      forwardTo: text(),
      greeting: text(),
      textBack: text(),
      invites: flag(),
      list: text(),
    },
    CallHandlingShape,
  );
  protected readonly drafted = toSignal(this.form.group.valueChanges, { initialValue: this.form.group.value });

  constructor() {
    this.store.about(this.id);
  }

  /** Lists to choose from; one it was set to stays, also where it is gone meanwhile. */
  protected readonly lists = computed(() =>
    [...new Set([...this.store.lists(), ...[this.drafted().list ?? ''].filter((name) => name !== '')])].map(
      (value) => ({
        value,
        label: value,
      }),
    ),
  );

  /** Puts a greeting to start from: with all that people agree to, where it invites. */
  protected template(): void {
    const { greeting, invites } = this.form.controls;
    const b = this.store.session.business();
    greeting.setValue(greetingTemplate({ nameLine: b?.nameLine ?? '', website: b?.website ?? '' }, invites.value));
    greeting.markAsDirty();
  }

  protected words(): string {
    const h = this.store.handling();
    switch (h.way) {
      case 'none':
        return 'A call rings; nobody answers. It shows in the Inbox.';
      case 'forward':
        return `Put through to ${h.forwardTo}.`;
      case 'greet':
        return `Answered with a greeting${h.textBack ? ' and a text back' : ''}${h.invites ? `; pressing 1 joins “${h.list}”` : ''}.`;
    }
  }
  protected edit(): void {
    this.form.group.reset(this.store.handling());
    this.editing.set(true);
  }
  protected async save(): Promise<void> {
    const saved = await this.form.send((body) => this.store.save(body).then(() => true));
    if (!saved) return;
    this.editing.set(false);
    this.store.acting.done('Saved; the network is told.');
  }
}
