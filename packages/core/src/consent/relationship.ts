import { DateTime } from 'luxon';
import { readDate } from '../contacts/read-date.js';
import { parsePhone, PHONE_REFUSALS } from '../phone/parse-phone.js';
import type { IsoDay } from '../porting/business-days.js';
import type { LedgerEvent } from './ledger.js';

export const RELATIONSHIP_KINDS = ['purchase', 'inquiry'] as const;
/** How somebody came to have a relationship with the business: they bought something, or asked about it. */
export type RelationshipKind = (typeof RELATIONSHIP_KINDS)[number];

/** Calendar months for which each excepts its person from a registry. Source: 47 CFR 64.1200(f)(5). */
export const RELATIONSHIP_MONTHS: Record<RelationshipKind, number> = { purchase: 18, inquiry: 3 };

/**
 * When a purchase or an inquiry no longer excepts anybody: as the same day so many months later begins, the last of the
 * month where it has no such day.
 * @param zone where the business is, an IANA name. @returns milliseconds.
 */
export function relationshipEnds(kind: RelationshipKind, happenedOn: IsoDay, zone: string): number {
  return DateTime.fromISO(happenedOn, { zone }).plus({ months: RELATIONSHIP_MONTHS[kind] }).startOf('day').toMillis();
}

/**
 * The last moment at which a number's owner told the business not to solicit them, or was found to be somebody else: what
 * they bought or asked before, and on that day, excepts nobody any more. Null where neither ever was.
 * Source: 47 CFR 64.1200(f)(5)(i).
 */
export function relationshipBroken(
  events: readonly Pick<LedgerEvent, 'kind' | 'purposes' | 'happenedAt'>[],
): number | null {
  const ends = events.filter(
    (e) => e.kind === 'voided' || (e.kind === 'revoked' && e.purposes.includes('promotional')),
  );
  return ends.length > 0 ? Math.max(...ends.map((e) => e.happenedAt)) : null;
}

/** Whether a purchase or inquiry of a day came after a moment, so that it stands in spite of what ended then. */
export function standsAfter(happenedOn: IsoDay, broken: number | null, zone: string): boolean {
  return broken === null || DateTime.fromISO(happenedOn, { zone }).startOf('day').toMillis() > broken;
}

/** A line of a file of purchases and inquiries: one of them, nothing (empty, or the heading), or why it is none. */
export type RelationshipLine =
  { e164: string; kind: RelationshipKind; happenedOn: IsoDay; reference: string } | { why: string } | null;

const WORDS: Record<string, RelationshipKind> = { purchase: 'purchase', inquiry: 'inquiry', enquiry: 'inquiry' };
/** So long what it was about may be. */
export const REFERENCE_LENGTH = 80;

/**
 * Reads a line of a file of purchases and inquiries, in its cells: the number, the day as {@link readDate} reads
 * it, which of both it was, and what it was about, which may be left out.
 * @param today the day it is where the business is: nothing happened after it.
 */
export function readRelationshipLine(
  cells: readonly string[],
  { allowFictional, today }: { allowFictional: boolean; today: IsoDay },
): RelationshipLine {
  const [phone = '', day = '', what = '', reference = ''] = cells.map((x) => x.trim());
  if (!/\d/.test(cells.join(''))) return null;
  const read = parsePhone(phone, { defaultRegion: 'US', allowFictional });
  if (!read.ok) return { why: PHONE_REFUSALS[read.reason] };
  const date = readDate(day);
  if (!date.ok)
    return {
      why: `“${day}” ${date.reason === 'doubtful' ? 'could be two days' : 'is no day'}. Write it as 2027-03-10.`,
    };
  const happenedOn = date.date;
  if (happenedOn > today) return { why: 'Its day is still to come.' };
  const kind = WORDS[what.toLowerCase()];
  if (!kind) return { why: `“${what}” says neither purchase nor inquiry.` };
  return { e164: read.e164, kind, happenedOn, reference: reference.slice(0, REFERENCE_LENGTH) };
}
