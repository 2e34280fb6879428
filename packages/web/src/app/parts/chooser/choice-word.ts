import { booleanAttribute, ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import type { Choice } from '../form/choice-field';

/** One choice as a part of a sentence, which takes hold with the word chosen. */
@Component({
  selector: 'lg-choice-word',
  imports: [MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field
      ><select
        matNativeControl
        #word
        [class.small]="small()"
        [id]="name()"
        [attr.aria-label]="label() || null"
        (change)="pick(word)"
      >
        @if (none()) {
          <option value="" [selected]="!chosen()">{{ none() }}</option>
        }
        @for (c of choices(); track c.value) {
          <option [value]="c.value" [disabled]="c.disabled" [selected]="c.value === chosen()">{{ c.label }}</option>
        }
      </select></mat-form-field
    >
  `,
})
export class ChoiceWord<T extends string> {
  /** What is chosen, for a screen reader; not needed where a label names it. */
  readonly label = input('');
  /** By which a label names it. */
  readonly name = input('');
  readonly choices = input.required<readonly (Choice & { value: T })[]>();
  readonly chosen = input<T | null>();
  /** What stands for nothing chosen; something always is where it is empty. */
  readonly none = input('');
  /** Each choice is something to be done: then the word is free for the next one. */
  readonly acts = input(false, { transform: booleanAttribute });
  readonly small = input(false, { transform: booleanAttribute });
  /** Null for nothing. */
  readonly picked = output<T | null>();

  protected pick(word: HTMLSelectElement): void {
    const choice = this.choices().find((c) => c.value === word.value);
    if (this.acts()) word.value = '';
    this.picked.emit(choice?.value ?? null);
  }
}
