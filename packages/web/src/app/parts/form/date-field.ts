import { booleanAttribute, ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { DateAdapter, MAT_DATE_FORMATS, MAT_DATE_LOCALE, type MatDateFormats } from '@angular/material/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDatepickerModule, type MatDatepickerInputEvent } from '@angular/material/datepicker';
import { MatInputModule } from '@angular/material/input';
import { LuxonDateAdapter } from '@angular/material-luxon-adapter';
import { DateTime } from 'luxon';

/** As days are written here; read as they are written by other hands too. */
const FORMATS: MatDateFormats = {
  parse: { dateInput: ['d LLL yyyy', 'd LLLL yyyy', 'yyyy-LL-dd', 'L/d/yyyy', 'LLL d, yyyy', 'LLL d yyyy'] },
  display: {
    dateInput: 'd LLL yyyy',
    monthYearLabel: 'LLL yyyy',
    dateA11yLabel: 'd LLLL yyyy',
    monthYearA11yLabel: 'LLLL yyyy',
  },
};
let made = 0;

/** A day, typed or chosen; given and taken as `2027-03-24`, or the empty string for none. */
@Component({
  selector: 'lg-date-field',
  imports: [MatInputModule, MatDatepickerModule, MatButtonModule],
  providers: [
    { provide: MAT_DATE_LOCALE, useValue: 'en-US' },
    { provide: DateAdapter, useClass: LuxonDateAdapter },
    { provide: MAT_DATE_FORMATS, useValue: FORMATS },
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styles: `
    button {
      margin-right: 12px;
    }
  `,
  template: `
    <div class="field" [class.wrong]="said()">
      @if (label()) {
        <label [for]="id()"
          >{{ label() }}
          @if (hint()) {
            <span>{{ hint() }}</span>
          }
        </label>
      }
      <mat-form-field>
        <input
          matInput
          [id]="id()"
          autocomplete="off"
          [placeholder]="empty()"
          [matDatepicker]="picker"
          [min]="first()"
          [max]="last()"
          [value]="day()"
          [disabled]="disabled()"
          [attr.aria-label]="label() ? null : name()"
          [attr.aria-describedby]="describedBy() || null"
          (dateChange)="take($event)"
        />
        <button
          matSuffix
          type="button"
          matButton
          class="plain small"
          [disabled]="disabled()"
          [attr.aria-label]="'Choose the day: ' + label()"
          (click)="picker.open()"
        >
          choose
        </button>
        <mat-datepicker #picker />
      </mat-form-field>
      @if (said(); as s) {
        <p class="error" role="alert">{{ s }}</p>
      }
    </div>
  `,
})
export class DateField {
  readonly label = input('');
  readonly hint = input('');
  readonly value = input('');
  /** What stands in it while it is empty. */
  readonly empty = input('such as 24 Mar 2027');
  readonly disabled = input(false);
  /** Names it for the browser; unique on its page. */
  readonly name = input('');
  readonly describedBy = input('');
  readonly wrong = input<string | undefined>('');
  /** It narrows a list, which is not asked for what is no day. */
  readonly narrowing = input(false, { transform: booleanAttribute });
  /** The first and the last day that may be chosen. */
  readonly from = input('');
  readonly to = input('');
  readonly changed = output<string>();
  private readonly made = `day-${++made}`;
  protected readonly id = computed(() => this.name() || this.made);
  protected readonly day = computed(() => read(this.value()));
  protected readonly first = computed(() => read(this.from()));
  protected readonly last = computed(() => read(this.to()));

  /** What was typed and is no day. */
  private readonly odd = signal('');
  protected readonly said = computed(
    () => this.wrong() || (this.odd() && `“${this.odd()}” is no day. Write it as 24 Mar 2027.`),
  );

  protected take(event: MatDatepickerInputEvent<DateTime>): void {
    const typed = (event.targetElement as HTMLInputElement).value;
    const day = event.value?.toISODate() ?? '';
    const odd = day === '' && this.narrowing() ? typed.trim().slice(0, 30) : '';
    this.odd.set(odd);
    // In a form what is no day is handed on as it was typed, so that the contract can say what is wrong with it.
    if (odd === '') this.changed.emit(day || typed.trim());
  }
}

function read(day: string): DateTime | null {
  const at = DateTime.fromISO(day);
  return day !== '' && at.isValid ? at : null;
}
