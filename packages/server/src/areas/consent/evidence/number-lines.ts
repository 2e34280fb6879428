import { lotsOf } from '../../../platform/bulk.js';
import type { Reader } from '../../../platform/db.js';
import { learntOf, numberHistory, shownTrouble } from '../../contacts/index.js';
import { allAnswers } from '../reassigned-store.js';
import { fileNames, relationshipsOf } from '../relationships/relationship-store.js';
import { listsNaming } from '../suppression/suppression-store.js';

/** What a pack tells of its numbers beside their events and texts: lines of its files, a fact each. */

const CHUNK = 500;

/** How numbers stand, and how they stood before, the first first. */
export interface LearntOfNumbers {
  now: Awaited<ReturnType<typeof learntOf>>;
  before: Awaited<ReturnType<typeof numberHistory>>;
}
export async function learntOfNumbers(
  r: Reader,
  businessId: string,
  numbers: readonly string[],
): Promise<LearntOfNumbers> {
  const now = (await Promise.all([...lotsOf(numbers, CHUNK)].map((part) => learntOf(r, businessId, part)))).flat();
  const ids = now.map(({ number }) => number.id);
  const before = (await Promise.all([...lotsOf(ids, CHUNK)].map((part) => numberHistory(r, part)))).flat();
  return { now, before };
}

/** What was asked about a number, and answered. */
export type LookupLine = { e164: string } & (
  | {
      asked: 'line type';
      /** Null where it was never looked up. */
      at: number | null;
      /** When another answer took its place; not there of the last. */
      until?: number;
      lineType: string;
      carrier: string;
      textable: string;
      reachable: boolean;
      /** What kept texts from it, by cause; of the last alone. */
      trouble?: ReturnType<typeof shownTrouble>[];
    }
  | { asked: 'given up since'; day: string; at: number | null; answer: string | null; query: string }
);

/** What line each number was at each lookup, and whether it was given up since its owner agreed. */
export async function lookupLines(
  r: Reader,
  businessId: string,
  numbers: readonly string[],
  { now, before }: LearntOfNumbers,
): Promise<LookupLine[]> {
  const e164s = new Map(now.map(({ number: x }) => [x.id, x.e164]));
  const out: LookupLine[] = lookupsAmong(
    before,
    now.map(({ number }) => number),
  ).map((x) => ({
    e164: e164s.get(x.contactNumberId) ?? '',
    asked: 'line type',
    at: x.lookedUpAt,
    until: x.untilAt,
    lineType: x.lineType,
    carrier: x.carrier,
    textable: x.textable,
    reachable: x.reachable,
  }));
  for (const { number: x, troubles } of now)
    out.push({
      e164: x.e164,
      asked: 'line type',
      at: x.lookedUpAt,
      lineType: x.lineType,
      carrier: x.carrier,
      textable: x.textable,
      reachable: x.reachable,
      trouble: troubles.map(shownTrouble),
    });
  for (const part of lotsOf(numbers, CHUNK))
    for (const { e164, ...a } of await allAnswers(r, businessId, part))
      out.push({ e164, asked: 'given up since', day: a.day, at: a.askedAt, answer: a.answer, query: a.id });
  return out;
}

/** Of how numbers stood, the last state of each lookup that was followed by another one. */
function lookupsAmong(
  history: LearntOfNumbers['before'],
  now: readonly { id: number; lookedUpAt: number | null }[],
): LearntOfNumbers['before'] {
  const last = new Map(now.map((x) => [x.id, x.lookedUpAt]));
  return history.filter((x, i) => {
    const next = history[i + 1];
    const after = next?.contactNumberId === x.contactNumberId ? next.lookedUpAt : last.get(x.contactNumberId);
    return x.lookedUpAt !== null && x.lookedUpAt !== after;
  });
}

/** What lists of numbers not to be texted, and purchases and inquiries, say of a number. */
export type SuppressionLine = { e164: string } & (
  | { what: 'on a list'; list: string; kind: string; source: string; datedOn: string; broughtAt: number | null }
  /** From when to when lists kept something from it, and what: `all`, or `solicitations` alone; null for still. */
  | { what: 'kept off'; keeps: string; from: number | null; until: number | null }
  | {
      what: 'purchase' | 'inquiry';
      on: string;
      about: string;
      exceptsUntil: number;
      /** When its owner left, or the number was somebody else’s, after it. */
      brokenAt: number | null;
      recordedAt: number;
      recordedBy: string;
      file: string;
      withdrawn: { at: number; by: string; why: string } | null;
    }
);

/** The lists that name each number, since when lists have kept something from it, and what excepts it from registries. */
export async function suppressionLines(
  r: Reader,
  businessId: string,
  numbers: readonly string[],
  learnt: LearntOfNumbers,
): Promise<SuppressionLine[]> {
  const out: SuppressionLine[] = [];
  for (const part of lotsOf(numbers, CHUNK)) {
    for (const x of await listsNaming(r, businessId, part)) out.push({ ...x, what: 'on a list' });
    const related = await relationshipsOf(r, businessId, part);
    const files = await fileNames(r, businessId, [...new Set(related.map((x) => x.fileId ?? '').filter(Boolean))]);
    for (const x of related)
      out.push({
        e164: x.e164,
        what: x.kind,
        on: x.happenedOn,
        about: x.reference,
        exceptsUntil: x.endsAt,
        brokenAt: x.brokenAt ?? null,
        recordedAt: x.recordedAt,
        recordedBy: x.recordedBy,
        file: files.get(x.fileId ?? '') ?? '',
        withdrawn:
          typeof x.withdrawnAt === 'number'
            ? { at: x.withdrawnAt, by: x.withdrawnBy ?? '', why: x.withdrawnWhy ?? '' }
            : null,
      });
  }
  return [...out, ...keptOffAmong(learnt)];
}

/** The times in which lists kept something from numbers. */
function keptOffAmong({ now, before }: LearntOfNumbers): SuppressionLine[] {
  const then = new Map<number, LearntOfNumbers['before']>();
  for (const x of before) then.set(x.contactNumberId, [...(then.get(x.contactNumberId) ?? []), x]);
  return now.flatMap(({ number }) => {
    const states: { keeps: string; until: number | null }[] = [
      ...(then.get(number.id) ?? []).map((x) => ({ keeps: x.suppression, until: x.untilAt })),
      { keeps: number.suppression, until: null },
    ];
    const lines: (SuppressionLine & { what: 'kept off' })[] = [];
    states.forEach(({ keeps, until }, i) => {
      const last = lines.at(-1);
      const from = states[i - 1]?.until ?? null;
      if (last?.keeps === keeps && last.until === from) last.until = until;
      else lines.push({ e164: number.e164, what: 'kept off', keeps, from, until });
    });
    return lines.filter((x) => x.keeps !== 'none');
  });
}
