import type { AuditEntry, AuditFilter } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { countOfTrail, entriesBefore, inTrail, type TrailFilter } from './audit-store.js';
import { csvPart } from './csv.js';
import { numberCursor } from './cursor.js';
import type { Reader } from './db.js';
import type { AuditModel } from './model.js';

const parse = (json: string | null): unknown => (json === null ? null : JSON.parse(json));
/** Saves of one thing by one person are one entry while no more than this lies between two of them. */
const ROW_MS = 30 * 60_000;
/** So many entries are read for one piece of a file. */
const PIECE = 2000;
const HEADS = ['when', 'who', 'what', 'kind', 'object', 'before', 'after', 'entry', 'hash'];

/** Days of a filter as moments, in the business's zone. */
function momentsOf({ from, to, ...rest }: AuditFilter, zone: string): TrailFilter {
  return {
    ...rest,
    ...(from ? { from: DateTime.fromISO(from, { zone }).toMillis() } : {}),
    ...(to ? { to: DateTime.fromISO(to, { zone }).plus({ days: 1 }).toMillis() } : {}),
  };
}

/**
 * A page of the audit trail, newest first, as a filter leaves it. A row of saves is one entry, with what changed from its
 * beginning to its end; nothing of the trail itself is changed by that.
 */
export async function auditPage(
  r: Reader,
  businessId: string,
  { cursor, limit, ...filter }: AuditFilter & { cursor?: string; limit: number },
  zone: string,
): Promise<{ items: AuditEntry[]; next: string | null; total: number }> {
  const narrowed = momentsOf(filter, zone);
  const before = numberCursor(cursor, Number.MAX_SAFE_INTEGER);
  const rows = await entriesBefore(r, businessId, { ...narrowed, before, limit: limit + 1 });
  const total = await countOfTrail(r, businessId, narrowed);
  const page = rows.slice(0, limit);
  return {
    items: gathered(page),
    next: rows.length > limit ? String(page[page.length - 1]?.n ?? '') : null,
    total,
  };
}

/** Newest first: a save that follows another of the same thing by the same person belongs to it. */
function gathered(rows: readonly AuditModel[]): AuditEntry[] {
  const out: AuditEntry[] = [];
  for (const a of rows) {
    const last = out.at(-1);
    if (
      last &&
      / edited$/.test(a.action) &&
      last.action === a.action &&
      last.actor === a.actorName &&
      last.objectKind === a.objectKind &&
      last.objectId === a.objectId &&
      last.since - a.at <= ROW_MS
    ) {
      last.before = parse(a.before);
      last.since = a.at;
      last.saves++;
      continue;
    }
    out.push({
      id: a.id,
      at: a.at,
      actor: a.actorName,
      action: a.action,
      objectKind: a.objectKind,
      objectId: a.objectId,
      before: parse(a.before),
      after: parse(a.after),
      saves: 1,
      since: a.at,
    });
  }
  return out;
}

export const auditFacets = inTrail;

/** The trail as a filter leaves it as CSV, entry by entry, newest first, in pieces: a file of it has no end but its own. */
export async function* auditCsv(
  r: Reader,
  businessId: string,
  filter: AuditFilter,
  zone: string,
  piece = PIECE,
): AsyncGenerator<string> {
  const narrowed = momentsOf(filter, zone);
  const time = (at: number): string =>
    DateTime.fromMillis(at, { zone }).toFormat('d LLL yyyy, HH:mm:ss', { locale: 'en-US' });
  yield csvPart([HEADS], true);
  for (let before = Number.MAX_SAFE_INTEGER; ;) {
    const rows = await entriesBefore(r, businessId, { ...narrowed, before, limit: piece });
    const last = rows.at(-1);
    if (!last) return;
    yield csvPart(
      rows.map((a) => [
        time(a.at),
        a.actorName,
        a.action,
        a.objectKind,
        a.objectId,
        a.before ?? '',
        a.after ?? '',
        a.n,
        a.hash ?? '',
      ]),
    );
    before = last.n;
  }
}
