import { DateTime } from 'luxon';
import { readDate } from '../contacts/read-date.js';
import type { IsoDay } from '../porting/business-days.js';
import { readSuppressionLine } from './suppression.js';

export const OPT_OUT_ORIGINS = ['carrier', 'earlier provider', 'own records'] as const;
/** Who kept a list of people who had opted out. */
export type OptOutOrigin = (typeof OPT_OUT_ORIGINS)[number];

/** A line of such a list: a number and the day it says, if any; nothing (empty, or the heading); or why it is none. */
export type OptOutLine = { e164: string; on: IsoDay | null } | { why: string } | null;

/**
 * Reads a line of a list of people who opted out: the number, and the last of the days in later cells. A day that could be
 * two is none: then the list's own counts, by which they had opted out.
 */
export function readOptOutLine(line: string, allowFictional: boolean): OptOutLine {
  const read = readSuppressionLine(line, allowFictional);
  if (read === null || 'why' in read) return read;
  const cells = line.split(/[,;\t]/).slice(1);
  // Five figures alone are a postal code sooner than a spreadsheet's day.
  const days = cells.map((x) => x.replaceAll('"', '').trim()).flatMap((x) => (/^\d*$/.test(x) ? [] : [readDate(x)]));
  const doubtful = days.some((x) => !x.ok && x.reason === 'doubtful');
  const on = days.flatMap((x) => (x.ok ? [x.date] : [])).sort();
  return { e164: read.e164, on: doubtful ? null : (on.at(-1) ?? null) };
}

/**
 * When somebody on a list opted out, where its hour is not known: as the day they did ends, or that of the list where it
 * says none, so that whatever was agreed before on that day came before it; never a moment to come.
 * @param zone where the business is, an IANA name. @returns milliseconds.
 */
export function optedOutAt(on: IsoDay | null, listOf: IsoDay, zone: string, now: number): number {
  return Math.min(
    DateTime.fromISO(on ?? listOf, { zone })
      .endOf('day')
      .toMillis(),
    now,
  );
}
