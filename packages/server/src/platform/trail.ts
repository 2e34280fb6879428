import type { AuditEntry } from '@long-gate/contracts';
import { numberCursor } from './cursor.js';
import type { Reader } from './db.js';

interface AuditRow {
  n: number;
  id: string;
  at: number;
  actor_name: string;
  action: string;
  object_kind: string;
  object_id: string;
  before: string | null;
  after: string | null;
}

const parse = (json: string | null): unknown => (json === null ? null : JSON.parse(json));

/** A page of the audit trail, newest first; of one object where one is named. */
export async function auditPage(
  r: Reader,
  businessId: string,
  q: { cursor?: string; limit: number; objectKind?: string; objectId?: string },
): Promise<{ items: AuditEntry[]; next: string | null; total: number }> {
  const where = `business_id = $1 AND ($2 = '' OR object_kind = $2) AND ($3 = '' OR object_id = $3)`;
  const bind = [businessId, q.objectKind ?? '', q.objectId ?? ''];
  const rows = await r.all<AuditRow>(`SELECT * FROM audit WHERE ${where} AND n < $4 ORDER BY n DESC LIMIT $5`, [
    ...bind,
    numberCursor(q.cursor, Number.MAX_SAFE_INTEGER),
    q.limit + 1,
  ]);
  const total = await r.one<{ n: number }>(`SELECT count(*) AS n FROM audit WHERE ${where}`, bind);
  const items = rows.slice(0, q.limit);
  return {
    items: items.map((a) => ({
      id: a.id,
      at: a.at,
      actor: a.actor_name,
      action: a.action,
      objectKind: a.object_kind,
      objectId: a.object_id,
      before: parse(a.before),
      after: parse(a.after),
    })),
    next: rows.length > q.limit ? String(items[items.length - 1]?.n ?? '') : null,
    total: total?.n ?? 0,
  };
}
