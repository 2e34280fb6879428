import { booleanAttribute, ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ReactiveFormsModule, type FormControl } from '@angular/forms';
import { MatInputModule } from '@angular/material/input';
import { faultOf } from './checked-form';
import { readOf } from './control-state';

export interface Choice {
  value: string;
  label: string;
  disabled?: boolean;
}
let made = 0;

/** One of several, with its label above and what is wrong below. */
@Component({
  selector: 'lg-choice-field',
  imports: [ReactiveFormsModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="field" [class.in-cell]="inCell()" [class.wrong]="said()">
      <label [for]="name() || id" [class.visually-hidden]="inCell()">{{ label() }}</label>
      <mat-form-field
        ><select
          matNativeControl
          [id]="name() || id"
          [formControl]="control()"
          [aria-describedby]="said() ? id + '-wrong' : ''"
        >
          @if (none()) {
            <option value="">{{ none() }}</option>
          }
          @for (o of choices(); track o.value) {
            <option [value]="o.value" [disabled]="o.disabled">{{ o.label }}</option>
          }
        </select></mat-form-field
      >
      @if (said(); as words) {
        <p class="error" role="alert" [id]="id + '-wrong'">{{ words }}</p>
      }
    </div>
  `,
})
export class ChoiceField {
  readonly control = input.required<FormControl<string>>();
  readonly label = input.required<string>();
  readonly choices = input.required<readonly Choice[]>();
  /** What stands for nothing chosen; something always is where it is empty. */
  readonly none = input('');
  readonly name = input('');
  /** It stands in a cell of a table, whose head says to the eye what it is. */
  readonly inCell = input(false, { transform: booleanAttribute });
  protected readonly said = readOf(this.control, faultOf);
  protected readonly id = `choice-${++made}`;
}
