import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { ReactiveFormsModule, type FormControl } from '@angular/forms';
import { MatInputModule } from '@angular/material/input';

let made = 0;

/** One line of text with its label above, a hint beside the label and what is wrong below. */
@Component({
  selector: 'lg-text-field',
  imports: [ReactiveFormsModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="field" [class.wrong]="wrong()">
      <label [for]="id()"
        >{{ label() }}
        @if (hint()) {
          <span>{{ hint() }}</span>
        }
      </label>
      <mat-form-field
        ><input
          matInput
          [class.mono]="mono()"
          [id]="id()"
          [name]="id()"
          [type]="type()"
          [formControl]="control()"
          [attr.autocomplete]="autocomplete()"
          [attr.inputmode]="inputmode() || null"
          [aria-describedby]="wrong() ? id() + '-wrong' : ''"
      /></mat-form-field>
      @if (wrong()) {
        <p class="error" role="alert" [id]="id() + '-wrong'">{{ wrong() }}</p>
      }
    </div>
  `,
})
export class TextField {
  readonly control = input.required<FormControl<string>>();
  readonly label = input.required<string>();
  readonly hint = input('');
  readonly type = input('text');
  readonly autocomplete = input('off');
  readonly inputmode = input('');
  readonly mono = input(false);
  readonly wrong = input<string | undefined>('');
  /** Names it for the browser, which may fill it in; unique on its page. */
  readonly name = input('');
  private readonly made = `field-${++made}`;
  protected readonly id = computed(() => this.name() || this.made);
}
