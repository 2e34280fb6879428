import type { AuditEntry, AuditFilter } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { inTrail, pageOfTrail, type TrailFilter } from './audit-store.js';
import { csv } from './csv.js';
import { numberCursor } from './cursor.js';
import type { Reader } from './db.js';
import type { AuditModel } from './model.js';

const parse = (json: string | null): unknown => (json === null ? null : JSON.parse(json));
/** Saves of one thing by one person are one entry while no more than this lies between two of them. */
const ROW_MS = 30 * 60_000;
/** A file holds no more than this. */
const FILE_MOST = 50_000;

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
  const before = numberCursor(cursor, Number.MAX_SAFE_INTEGER);
  const { rows, total } = await pageOfTrail(r, businessId, { ...momentsOf(filter, zone), before, limit: limit + 1 });
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

/** The trail as a filter leaves it, entry by entry, newest first. */
export async function auditCsv(r: Reader, businessId: string, filter: AuditFilter, zone: string): Promise<string> {
  const before = Number.MAX_SAFE_INTEGER;
  const { rows } = await pageOfTrail(r, businessId, { ...momentsOf(filter, zone), before, limit: FILE_MOST });
  const time = (at: number): string =>
    DateTime.fromMillis(at, { zone }).toFormat('d LLL yyyy, HH:mm:ss', { locale: 'en-US' });
  return csv(
    ['when', 'who', 'what', 'kind', 'object', 'before', 'after', 'entry', 'hash'],
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
}
