import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { Preview, When } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { ChoiceField } from '../../parts/form/choice-field';
import { text } from '../../parts/form/controls';
import { DateField } from '../../parts/form/date-field';
import { isTime, TimeField } from '../../parts/form/time-field';
import { CountPipe, MomentPipe } from '../../parts/format';
import { SessionFacade } from '../../state/session.facade';
import { HourStrip } from './hour-strip';
import { zoneOf } from '../../state/zone';

/** What is chosen, also half: no time for now. */
export interface Chosen {
  zone: 'now' | When['zone'];
  day: string;
  time: string;
}
export const NOW: Chosen = { zone: 'now', day: '', time: '' };

/** The time that was chosen; null for now, and for one that is only half chosen. */
export function whenOf({ zone, day, time }: Chosen): When | null {
  const local = `${day}T${time}`;
  return zone === 'now' || !DateTime.fromISO(local).isValid || !isTime(time) ? null : { local, zone };
}

/** When a dispatch is to leave: now, or at a date and time, whose hours are drawn under it with a better one. */
@Component({
  selector: 'lg-when-field',
  imports: [ChoiceField, DateField, HourStrip, MatButtonModule, TimeField, CountPipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-choice-field class="when" [control]="zone" label="It leaves" name="when" [choices]="zones()" />
    @if (chosen().zone !== 'now') {
      <div class="row-fields">
        <lg-date-field
          label="Day"
          name="when-day"
          [from]="today()"
          [disabled]="disabled()"
          [value]="chosen().day"
          (changed)="changed.emit({ zone: chosen().zone, day: $event, time: chosen().time })"
        />
        <lg-time-field
          label="Time"
          name="when-time"
          [disabled]="disabled()"
          [value]="chosen().time"
          (changed)="changed.emit({ zone: chosen().zone, day: chosen().day, time: $event })"
        />
      </div>
      @if (preview()?.later; as l) {
        @if (l.at <= session.now()) {
          <p class="stop small" role="alert">This moment has passed. Choose a time to come.</p>
        } @else {
          <p class="small" role="status">
            Begins {{ l.at | moment: 'zone' }}.
            @if (l.held === 0) {
              <span class="pass">By their hours nobody would be held.</span>
            } @else {
              <span class="hold"
                >By their hours {{ l.held | count }} would be held{{ l.heldUntil ? ', the last until ' : ''
                }}{{ l.heldUntil ? (l.heldUntil | moment: 'zone') : '' }}.</span
              >
            }
            @if (l.better; as b) {
              <button type="button" matButton class="plain" [disabled]="disabled()" (click)="take(b.local)">
                {{ b.held === 0 ? 'Nobody is held' : (b.held | count) + ' are held' }} at {{ shown(b.local) }}: take it
              </button>
            }
          </p>
          @if (preview()!.hours.length > 0) {
            <lg-hour-strip [hours]="preview()!.hours" [from]="l.at" [most]="preview()!.reach" />
          }
        }
      }
    }
  `,
})
export class WhenField {
  readonly chosen = input.required<Chosen>();
  readonly disabled = input(false);
  /** The gate's answer for what is chosen. */
  readonly preview = input<Preview | undefined>();
  readonly changed = output<Chosen>();
  protected readonly session = inject(SessionFacade);
  private readonly zoneName = computed(() => zoneOf(this.session.business()));
  private now(): DateTime {
    return DateTime.fromMillis(this.session.now(), { zone: this.zoneName() });
  }
  protected readonly today = computed(() => this.now().toISODate() ?? '');

  protected readonly zone = text('now');
  protected readonly zones = computed(() => [
    { value: 'now', label: 'now' },
    { value: 'business', label: `at a time here (${this.now().toFormat('ZZZZ', { locale: 'en-US' })})` },
    { value: 'own', label: 'at a time where each of them is' },
  ]);

  constructor() {
    effect(() => {
      this.zone.setValue(this.chosen().zone, { emitEvent: false });
      if (this.disabled()) this.zone.disable({ emitEvent: false });
      else this.zone.enable({ emitEvent: false });
    });
    this.zone.valueChanges.pipe(takeUntilDestroyed()).subscribe((zone) => {
      this.begin(zone as Chosen['zone']);
    });
  }

  /** A time in an hour's time is there to begin with. */
  private begin(zone: Chosen['zone']): void {
    const { day, time } = this.chosen();
    const soon = this.now().plus({ hours: 1 }).startOf('hour').plus({ hours: 1 });
    this.changed.emit(
      zone === 'now' ? NOW : { zone, day: day || (soon.toISODate() ?? ''), time: time || soon.toFormat('HH:mm') },
    );
  }
  protected take(local: string): void {
    const [day = '', time = ''] = local.split('T');
    this.changed.emit({ zone: this.chosen().zone, day, time });
  }
  protected shown(local: string): string {
    return DateTime.fromISO(local).toFormat('ccc d LLL, HH:mm', { locale: 'en-US' });
  }
}
