import {
  afterNextRender,
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
} from '@angular/core';
import { ReactiveFormsModule, type FormControl } from '@angular/forms';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatInputModule } from '@angular/material/input';
import { faultOf } from './checked-form';
import { readOf } from './control-state';

let made = 0;

/** Text with its label above, a hint beside the label and what is wrong below: one line, or several. */
@Component({
  selector: 'lg-text-field',
  imports: [ReactiveFormsModule, MatInputModule, MatAutocompleteModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="field" [class.in-cell]="inCell()" [class.wrong]="said() || troubled()">
      <label [for]="id()" [class.visually-hidden]="inCell()"
        >{{ label() }}
        @if (hint()) {
          <span>{{ hint() }}</span>
        }
      </label>
      @if (lines() > 1) {
        <mat-form-field>
          <textarea
            matInput
            [id]="id()"
            [name]="id()"
            [rows]="lines()"
            [attr.maxlength]="most() || null"
            [placeholder]="placeholder()"
            [formControl]="control()"
            [aria-describedby]="said() ? id() + '-wrong' : ''"
          ></textarea>
        </mat-form-field>
      } @else {
        <mat-form-field
          ><input
            matInput
            [class.mono]="mono()"
            [id]="id()"
            [name]="id()"
            [type]="type()"
            [placeholder]="placeholder()"
            [formControl]="control()"
            [attr.maxlength]="most() || null"
            [attr.autocomplete]="autocomplete()"
            [matAutocomplete]="auto"
            [matAutocompleteDisabled]="suggestions().length === 0"
            [attr.inputmode]="inputmode() || null"
            [aria-describedby]="said() ? id() + '-wrong' : ''"
        /></mat-form-field>
        <mat-autocomplete #auto="matAutocomplete">
          @for (s of suggested(); track s) {
            <mat-option [value]="s">{{ s }}</mat-option>
          }
        </mat-autocomplete>
      }
      @if (said(); as words) {
        <p class="error" role="alert" [id]="id() + '-wrong'">{{ words }}</p>
      }
    </div>
  `,
})
export class TextField {
  readonly control = input.required<FormControl<string>>();
  readonly label = input.required<string>();
  readonly hint = input('');
  readonly type = input('text');
  readonly lines = input(1);
  readonly placeholder = input('');
  readonly autocomplete = input('off');
  readonly inputmode = input('');
  readonly mono = input(false, { transform: booleanAttribute });
  /** Characters it takes at most; 0 where the contract says so instead. */
  readonly most = input(0);
  /** It stands in a cell of a table, whose head says to the eye what it is. */
  readonly inCell = input(false, { transform: booleanAttribute });
  /** What is wrong, where the control does not know itself. */
  readonly wrong = input<string | undefined>('');
  /** Something beside it says what is wrong. */
  readonly troubled = input(false);
  /** It appeared because it is asked for now. */
  readonly takesFocus = input(false, { transform: booleanAttribute });
  /** What it could be, offered while it is typed; anything else can be typed too. */
  readonly suggestions = input<readonly string[]>([]);
  /** Names it for the browser, which may fill it in; unique on its page. */
  readonly name = input('');
  private readonly made = `field-${++made}`;
  private readonly fault = readOf(this.control, faultOf);
  protected readonly said = computed(() => this.fault() || this.wrong() || '');
  private readonly typed = readOf(this.control, (c) => c.value);
  protected readonly suggested = computed(() => {
    const words = this.typed().trim().toLowerCase();
    return this.suggestions().filter((s) => s.toLowerCase().includes(words));
  });
  protected readonly id = computed(() => this.name() || this.made);

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    afterNextRender(() => {
      if (this.takesFocus()) host.querySelector<HTMLElement>('input, textarea')?.focus();
    });
  }
}
