import type { AuditEntry } from '@long-gate/contracts';
import { pageOfTrail } from './audit-store.js';
import { numberCursor } from './cursor.js';
import type { Reader } from './db.js';

const parse = (json: string | null): unknown => (json === null ? null : JSON.parse(json));

/** A page of the audit trail, newest first; of one object where one is named. */
export async function auditPage(
  r: Reader,
  businessId: string,
  q: { cursor?: string; limit: number; objectKind?: string; objectId?: string },
): Promise<{ items: AuditEntry[]; next: string | null; total: number }> {
  const before = numberCursor(q.cursor, Number.MAX_SAFE_INTEGER);
  const { rows, total } = await pageOfTrail(r, businessId, { ...q, before, limit: q.limit + 1 });
  const items = rows.slice(0, q.limit);
  return {
    items: items.map((a) => ({
      id: a.id,
      at: a.at,
      actor: a.actorName,
      action: a.action,
      objectKind: a.objectKind,
      objectId: a.objectId,
      before: parse(a.before),
      after: parse(a.after),
    })),
    next: rows.length > q.limit ? String(items[items.length - 1]?.n ?? '') : null,
    total,
  };
}
