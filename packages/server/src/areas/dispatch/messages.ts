import { TEXT_OUTCOMES, type MessageView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { csvPart } from '../../platform/csv.js';
import type { Reader } from '../../platform/db.js';
import type { Contacts } from '../contacts/index.js';
import { statesOf } from './recipient-store.js';
import { pageOfTexts } from './shown-store.js';
import { whyOf } from './texts.js';

export interface MessageRecord {
  id: string;
  direction: 'in' | 'out';
  kind: string;
  e164: string;
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
  judged_at: number | null;
}
export function showMessage(m: MessageRecord, name: string): MessageView {
  const { why, lift } = whyOf(m.reason);
  return {
    id: m.id,
    direction: m.direction,
    kind: m.kind,
    e164: m.e164,
    name,
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

const FILE_HEADS = ['phone', 'name', 'what became of it', 'why', 'left', 'final'];
const FILE_LOT = 1000;
const moment = (at: number | null): string => (at === null ? '' : new Date(at).toISOString());

/** The recipients of a dispatch as CSV with a heading row, some at a time. */
export async function* recipientsFile(
  r: Reader,
  contacts: Contacts,
  businessId: string,
  id: string,
  state: string | undefined,
): AsyncGenerator<string> {
  yield csvPart([FILE_HEADS], true);
  for (let cursor: string | undefined = ''; cursor !== undefined;) {
    const page: Awaited<ReturnType<typeof messagesOf>> = await messagesOf(
      r,
      contacts,
      businessId,
      id,
      state,
      cursor,
      FILE_LOT,
    );
    if (page.items.length > 0)
      yield csvPart(
        page.items.map((m) => [
          formatPhone(m.e164),
          m.name,
          TEXT_OUTCOMES.find((o) => o.states.some((s) => s === m.state))?.label ?? m.state,
          m.failure || m.why,
          moment(m.sentAt),
          moment(m.finalAt),
        ]),
      );
    cursor = page.next ?? undefined;
  }
}

/** The texts of one dispatch, by state where one or several are named. */
export async function messagesOf(
  r: Reader,
  contacts: Contacts,
  businessId: string,
  id: string,
  state: string | undefined,
  cursor: string | undefined,
  limit: number,
): Promise<{ items: MessageView[]; next: string | null; total: number }> {
  const states = state ? state.split(',') : [];
  const rows = await pageOfTexts(r, id, states, cursor ?? '', limit + 1);
  const counts = await statesOf(r, id);
  const total = Object.entries(counts).reduce(
    (n, [of, count]) => n + (states.length === 0 || states.includes(of) ? count : 0),
    0,
  );
  const items = rows.slice(0, limit);
  const names = await contacts.names(
    r,
    businessId,
    items.map((m) => m.e164),
  );
  return {
    items: items.map((m) => showMessage(m, names.get(m.e164)?.name ?? '')),
    next: rows.length > limit ? (items.at(-1)?.id ?? null) : null,
    total,
  };
}
