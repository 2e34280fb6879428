import { inject, Pipe, type PipeTransform } from '@angular/core';
import { describeRate, formatAmount, formatCents, formatPhone, type Rate } from '@long-gate/core';
import { DateTime } from 'luxon';
import { SessionFacade } from '../state/session.facade';
import { zoneOf } from '../state/zone';

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

type MomentLooks = 'full' | 'day' | 'zone' | 'short' | 'clock';
const LOOKS: Record<MomentLooks, string> = {
  full: 'd LLL yyyy, HH:mm',
  day: 'd LLL yyyy',
  zone: 'd LLL yyyy, HH:mm ZZZZ',
  short: 'd LLL, HH:mm',
  clock: 'd LLL, HH:mm ZZZZ',
};

/** So many words are kept: those of the pages one goes to and fro between. */
const KEPT = 1000;
const kept = new Map<string, string>();

/** What was put into words once is not put into words again. @param key of what, and how. */
function once(key: string, words: () => string): string {
  const known = kept.get(key);
  if (known !== undefined) return known;
  if (kept.size >= KEPT) kept.clear();
  const said = words();
  kept.set(key, said);
  return said;
}

/** `12 Mar 2027, 14:05` in a zone; `day` for the date alone; `zone` adds the zone's name. */
export function momentIn(ms: number, zone: string, looks: MomentLooks = 'full'): string {
  return once(`${ms}|${zone}|${looks}`, () =>
    DateTime.fromMillis(ms, { zone }).toFormat(LOOKS[looks], { locale: 'en-US' }),
  );
}

/** A moment as {@link momentIn}, in the business's zone. */
@Pipe({ name: 'moment' })
export class MomentPipe implements PipeTransform {
  private readonly session = inject(SessionFacade);
  transform(ms: number | null | undefined, looks: MomentLooks = 'full'): string {
    return ms === null || ms === undefined ? '–' : momentIn(ms, zoneOf(this.session.business()), looks);
  }
}

/** A day, `2027-03-12`, as `12 Mar 2027`; `12 Mar` on an axis. */
export function dayInWords(day: string, looks: 'day' | 'axis' = 'day'): string {
  return once(`${day}|${looks}`, () =>
    DateTime.fromISO(day).toFormat(looks === 'axis' ? 'd LLL' : LOOKS.day, { locale: 'en-US' }),
  );
}
/** A day as {@link dayInWords}. */
@Pipe({ name: 'day' })
export class DayPipe implements PipeTransform {
  transform(day: string): string {
    return dayInWords(day);
  }
}

@Pipe({ name: 'count' })
export class CountPipe implements PipeTransform {
  transform(n: number | null | undefined): string {
    return (n ?? 0).toLocaleString('en-US');
  }
}

/** `1 matter`, `1,234 matters`, `2 people`. @param many where it is not `one` with an s. */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`;
}
@Pipe({ name: 'counted' })
export class CountedPipe implements PipeTransform {
  transform(n: number | null | undefined, one: string, many?: string): string {
    return counted(n ?? 0, one, many);
  }
}

/** `38 of 2,214 (1.7%, likely 1.2–2.3%)` */
@Pipe({ name: 'rate' })
export class RatePipe implements PipeTransform {
  transform(rate: Rate | null | undefined): string {
    return describeRate(rate ?? null);
  }
}
