import { ChangeDetectionStrategy, Component, computed, Injectable, input, linkedSignal, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { DateAdapter, MAT_DATE_FORMATS, MAT_DATE_LOCALE, type MatDateFormats } from '@angular/material/core';
import { MatInputModule } from '@angular/material/input';
import { MatTimepickerModule, type MatTimepickerOption } from '@angular/material/timepicker';
import { LuxonDateAdapter, MAT_LUXON_DATE_ADAPTER_OPTIONS } from '@angular/material-luxon-adapter';
import { DateTime } from 'luxon';

const SHOWN = 'HH:mm';
const MIDNIGHT = DateTime.utc(2000);
/** As times are written here; read as they are written by other hands too. */
const FORMATS: MatDateFormats = {
  parse: { dateInput: [], timeInput: ['H:mm', 'h:mm a', 'h:mma', 'h a', 'ha', 'H.mm', 'HHmm'] },
  display: {
    dateInput: SHOWN,
    monthYearLabel: '',
    dateA11yLabel: '',
    monthYearA11yLabel: '',
    timeInput: SHOWN,
    timeOptionLabel: SHOWN,
  },
};
let made = 0;

/** The adapter of Luxon takes four figures for a year, and so for midnight. */
@Injectable()
class TimeAdapter extends LuxonDateAdapter {
  override parseTime(text: string, formats: string[]): DateTime | null {
    const at = formats.map((f) => DateTime.fromFormat(text.trim(), f, { zone: 'utc', locale: 'en-US' }));
    return text.trim() === '' ? null : (at.find((x) => x.isValid) ?? this.invalid());
  }
}

/** A time of day, typed or chosen; given and taken as `14:05`, or the empty string for none. */
@Component({
  selector: 'lg-time-field',
  imports: [MatInputModule, MatTimepickerModule, MatButtonModule],
  providers: [
    { provide: MAT_DATE_LOCALE, useValue: 'en-US' },
    // A time alone is of no zone: in that of the person who looks an hour may be missing today.
    { provide: MAT_LUXON_DATE_ADAPTER_OPTIONS, useValue: { useUtc: true } },
    { provide: DateAdapter, useClass: TimeAdapter },
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
      <label [for]="id()">{{ label() }}</label>
      <mat-form-field>
        <input
          matInput
          #text
          #input="matTimepickerInput"
          [id]="id()"
          autocomplete="off"
          placeholder="such as 14:05"
          [matTimepicker]="picker"
          [matTimepickerOpenOnClick]="false"
          [value]="at()"
          [disabled]="disabled()"
          [attr.aria-describedby]="said() ? id() + '-wrong' : null"
          (change)="take(input.value(), text.value)"
          (keydown.escape)="take(null, '')"
        />
        <button
          matSuffix
          type="button"
          matButton
          class="plain small"
          [disabled]="disabled()"
          [attr.aria-label]="'Choose the time: ' + label()"
          (click)="picker.open()"
        >
          choose
        </button>
        <mat-timepicker #picker [options]="options()" (selected)="take($event.value, '')" />
      </mat-form-field>
      @if (said(); as s) {
        <p class="error" role="alert" [id]="id() + '-wrong'">{{ s }}</p>
      }
    </div>
  `,
})
export class TimeField {
  readonly label = input.required<string>();
  readonly value = input('');
  readonly disabled = input(false);
  /** Names it for the browser; unique on its page. */
  readonly name = input('');
  readonly wrong = input<string | undefined>('');
  readonly changed = output<string>();
  private readonly made = `time-${++made}`;
  protected readonly id = computed(() => this.name() || this.made);
  /** Where what was typed is no time the picker keeps what it had, and so what was typed stands in the field. */
  protected readonly at = linkedSignal<string, DateTime | null>({
    source: this.value,
    computation: (text, before) =>
      isTime(text) ? DateTime.fromISO(text, { zone: 'utc' }) : text === '' ? null : (before?.value ?? null),
  });
  /** The half hours of a day, and what it is now among them, so that they open there. */
  protected readonly options = computed((): MatTimepickerOption<DateTime>[] => {
    const times = Array.from({ length: 48 }, (_, i) => MIDNIGHT.plus({ minutes: 30 * i }).toFormat(SHOWN));
    const now = this.at()?.toFormat(SHOWN) ?? '00:00';
    return [...new Set([...times, now])]
      .sort()
      .map((label) => ({ label, value: DateTime.fromISO(label, { zone: 'utc' }) }));
  });
  protected readonly said = computed(() => {
    const text = this.value();
    return this.wrong() || (text === '' || isTime(text) ? '' : `“${text.slice(0, 30)}” is no time. Write it as 14:05.`);
  });

  /** What is no time is handed on as it was typed, so that nothing goes by another one. */
  protected take(at: DateTime | null, typed: string): void {
    this.changed.emit(at?.isValid ? at.toFormat(SHOWN) : typed.trim());
  }
}

/** A time of day as it is handed on: `09:05`. */
export const isTime = (text: string): boolean => /^([01]\d|2[0-3]):[0-5]\d$/.test(text);
