import type { AuditEntry, AuditFilter } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { countOfTrail, entriesBefore, inTrail, type TrailFilter } from './audit-store.js';
import { csvPart } from './csv.js';
import { numberCursor } from './cursor.js';
import type { Reader } from './db.js';
import type { Objects, Thing } from './objects.js';
import type { AuditModel } from './model.js';

const parse = (json: string | null): unknown => (json === null ? null : JSON.parse(json));
/** Saves of one thing by one person are one entry while no more than this lies between two of them. */
const ROW_MS = 30 * 60_000;
/** So many entries are read for one piece of a file. */
const PIECE = 2000;
const Named = z.object({ name: z.string().optional(), title: z.string().optional() });
const HEADS = ['when', 'who', 'what', 'kind', 'name', 'object', 'before', 'after', 'entry', 'hash'];

/** Who knows what things are called, and the zone in which days are. */
export interface TrailOf {
  objects: Objects;
  zone: string;
}

/** A filter as the store asks: days as moments in the business's zone, and a thing with all that belongs to it. */
async function narrowing(
  r: Reader,
  businessId: string,
  { from, to, whole, ...rest }: AuditFilter,
  { objects, zone }: TrailOf,
): Promise<TrailFilter> {
  const { objectKind: kind, objectId: id } = rest;
  return {
    ...rest,
    ...(whole && kind && id ? { things: await objects.whole(r, businessId, { kind, id }) } : {}),
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
  of: TrailOf,
): Promise<{ items: AuditEntry[]; next: string | null; total: number }> {
  const narrowed = await narrowing(r, businessId, filter, of);
  const before = numberCursor(cursor, Number.MAX_SAFE_INTEGER);
  const rows = await entriesBefore(r, businessId, { ...narrowed, before, limit: limit + 1 });
  const total = await countOfTrail(r, businessId, narrowed);
  const page = rows.slice(0, limit);
  const items = gathered(page);
  const nameOf = await of.objects.names(r, businessId, items.map(thingOf));
  for (const e of items) e.objectName = nameOf(thingOf(e)) || nameIn(e.after) || nameIn(e.before);
  return {
    items,
    next: rows.length > limit ? String(page[page.length - 1]?.n ?? '') : null,
    total,
  };
}

const thingOf = (a: { objectKind: string; objectId: string }): Thing => ({ kind: a.objectKind, id: a.objectId });

/** What something that is gone was called, where the entry itself says so. */
function nameIn(value: unknown): string {
  const named = Named.safeParse(value);
  return named.success ? (named.data.name ?? named.data.title ?? '') : '';
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
      objectName: '',
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
  of: TrailOf,
  piece = PIECE,
): AsyncGenerator<string> {
  const narrowed = await narrowing(r, businessId, filter, of);
  const time = (at: number): string =>
    DateTime.fromMillis(at, { zone: of.zone }).toFormat('d LLL yyyy, HH:mm:ss', { locale: 'en-US' });
  yield csvPart([HEADS], true);
  for (let before = Number.MAX_SAFE_INTEGER; ;) {
    const rows = await entriesBefore(r, businessId, { ...narrowed, before, limit: piece });
    const last = rows.at(-1);
    if (!last) return;
    const nameOf = await of.objects.names(r, businessId, rows.map(thingOf));
    yield csvPart(
      rows.map((a) => [
        time(a.at),
        a.actorName,
        a.action,
        a.objectKind,
        nameOf(thingOf(a)) || nameIn(parse(a.after)) || nameIn(parse(a.before)),
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
