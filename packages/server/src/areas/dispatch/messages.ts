import type { MessageView } from '@long-gate/contracts';
import type { Reader } from '../../platform/db.js';
import { whyOf } from './texts.js';

export interface MessageRecord {
  id: string;
  direction: 'in' | 'out';
  kind: string;
  e164: string;
  name: string | null;
  text: string;
  segments: number;
  state: string;
  post: number | null;
  reason: string | null;
  hold_until: number | null;
  cost: number;
  carrier: string;
  failure_reason: string | null;
  created_at: number;
  sent_at: number | null;
  final_at: number | null;
}
export const MESSAGE_SELECT = `SELECT m.*, trim(c.first_name || ' ' || c.last_name) AS name FROM message m LEFT JOIN contact_number cn ON cn.id = m.contact_number_id LEFT JOIN contact c ON c.id = cn.contact_id`;

export function showMessage(m: MessageRecord): MessageView {
  const { why, lift } = whyOf(m.reason);
  return {
    id: m.id,
    direction: m.direction,
    kind: m.kind,
    e164: m.e164,
    name: m.name ?? '',
    text: m.text,
    segments: m.segments,
    state: m.state,
    post: m.post,
    why,
    lift,
    holdUntil: m.hold_until,
    cost: m.cost,
    carrier: m.carrier,
    failure: m.failure_reason ?? '',
    at: m.created_at,
    sentAt: m.sent_at,
    finalAt: m.final_at,
  };
}

/** The texts of one dispatch, by state where one or several are named. */
export async function messagesOf(
  r: Reader,
  id: string,
  state: string | undefined,
  cursor: string | undefined,
  limit: number,
): Promise<{ items: MessageView[]; next: string | null; total: number }> {
  const bind = [id, JSON.stringify(state ? state.split(',') : [])];
  const where = `m.dispatch_id = $1 AND ($2 = '[]' OR m.state IN (SELECT value FROM json_each($2)))`;
  const rows = await r.all<MessageRecord>(`${MESSAGE_SELECT} WHERE ${where} AND m.id > $3 ORDER BY m.id LIMIT $4`, [
    ...bind,
    cursor ?? '',
    limit + 1,
  ]);
  const total = await r.one<{ n: number }>(`SELECT count(*) AS n FROM message m WHERE ${where}`, bind);
  const items = rows.slice(0, limit);
  return {
    items: items.map(showMessage),
    next: rows.length > limit ? (items[items.length - 1]?.id ?? null) : null,
    total: total?.n ?? 0,
  };
}
