import { DateTime } from 'luxon';
import type { IsoDay } from '../porting/business-days.js';
import { readDay } from './consent-day.js';
import { readSuppressionLine } from './suppression.js';

export const OPT_OUT_ORIGINS = ['carrier', 'earlier provider', 'own records'] as const;
/** Who kept a list of people who had opted out. */
export type OptOutOrigin = (typeof OPT_OUT_ORIGINS)[number];

/** A line of such a list: a number and the day it says, if any; nothing (empty, or the heading); or why it is none. */
export type OptOutLine = { e164: string; on: IsoDay | null } | { why: string } | null;

/** Reads a line of a list of people who opted out: the number, and in any later cell the day on which they did. */
export function readOptOutLine(line: string, allowFictional: boolean): OptOutLine {
  const read = readSuppressionLine(line, allowFictional);
  if (read === null || 'why' in read) return read;
  const on = line
    .split(/[,;\t]/)
    .slice(1)
    .map((x) => readDay(x.replaceAll('"', '').trim().slice(0, 10)))
    .find((x) => x !== null);
  return { e164: read.e164, on: on ?? null };
}

/**
 * When somebody on a list opted out, where its hour is not known: as the day they did ends, or that of the list where it
 * says none, so that whatever was agreed before on that day came before it; never a moment to come.
 * @param zone where the business is, an IANA name. @returns milliseconds.
 */
export function optedOutAt(on: IsoDay | null, listOf: IsoDay, zone: string, now: number): number {
  const day = on !== null && on < listOf ? on : listOf;
  return Math.min(DateTime.fromISO(day, { zone }).endOf('day').toMillis(), now);
}
