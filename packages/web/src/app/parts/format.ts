import { inject, Pipe, type PipeTransform } from '@angular/core';
import { describeRate, formatAmount, formatCents, formatPhone, type Rate } from '@long-gate/core';
import { DateTime } from 'luxon';
import { SessionFacade } from '../state/session.facade';

@Pipe({ name: 'phone' })
export class PhonePipe implements PipeTransform {
  transform(e164: string | null | undefined): string {
    return formatPhone(e164 ?? '');
  }
}

/** `12.30`; `exact` keeps small unit prices such as 0.0055. */
@Pipe({ name: 'money' })
export class MoneyPipe implements PipeTransform {
  transform(micros: number | null | undefined, how: 'cents' | 'exact' = 'cents'): string {
    return how === 'exact' ? formatAmount(micros ?? 0) : formatCents(micros ?? 0);
  }
}

/** `12 Mar 2027, 14:05` in the business's zone; `day` for the date alone; `zone` adds the zone's name. */
@Pipe({ name: 'moment' })
export class MomentPipe implements PipeTransform {
  private readonly session = inject(SessionFacade);
  transform(ms: number | null | undefined, how: 'full' | 'day' | 'zone' | 'short' | 'clock' = 'full'): string {
    if (ms === null || ms === undefined) return '–';
    const at = DateTime.fromMillis(ms, { zone: this.session.business()?.timeZone ?? 'America/New_York' });
    return at.toFormat(
      {
        full: 'd LLL yyyy, HH:mm',
        day: 'd LLL yyyy',
        zone: 'd LLL yyyy, HH:mm ZZZZ',
        short: 'd LLL, HH:mm',
        clock: 'd LLL, HH:mm ZZZZ',
      }[how],
      { locale: 'en-US' },
    );
  }
}

@Pipe({ name: 'count' })
export class CountPipe implements PipeTransform {
  transform(n: number | null | undefined): string {
    return (n ?? 0).toLocaleString('en-US');
  }
}

/** `38 of 2,214 (1.7%, likely 1.2–2.3%)` */
@Pipe({ name: 'rate' })
export class RatePipe implements PipeTransform {
  transform(rate: Rate | null | undefined): string {
    return describeRate(rate ?? null);
  }
}
