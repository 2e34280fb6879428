import { composeText, DEFAULT_PRICES, segmentText } from '@long-gate/core';
import { record } from '../platform/audit.js';
import { jsonRows } from '../platform/db.js';
import { idFrom } from '../platform/ids.js';
import { DISPATCHES, PEOPLE, type DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import type { DemoContact } from './seed-contacts.js';
import type { Seeding } from './seed.js';

const DAY = 86_400_000;
const ACTOR = { id: 'demo', name: PEOPLE[1].name };

/** Past dispatches with every text's fate, and the drafts on the desk today. */
export async function seedDispatches(
  s: Seeding,
  b: DemoBusiness,
  made: MadeBusiness,
  contacts: DemoContact[],
): Promise<void> {
  const { w, random, start } = s;
  const listId = async (name: string): Promise<string> =>
    (await w.one<{ id: string }>('SELECT id FROM contact_list WHERE business_id = $1 AND name = $2', [made.id, name]))
      ?.id ?? '';
  const senders = new Map<string, { row: number; number: string; at: number }>();
  for (const d of DISPATCHES.filter((x) => x.business === b.key)) {
    const id = idFrom('dis', made.id, d.title);
    // Sent at eleven in the morning, Eastern time.
    const sentAt = Math.floor((start - d.daysAgo * DAY) / DAY) * DAY + 15.2 * 3_600_000;
    const numberId = made.numbers.get(d.number) ?? '';
    await w.run(
      `INSERT INTO dispatch (id, business_id, title, text, purpose, stop_line, number_id, audience, state, created_by, created_at, sent_at, ends_at) VALUES ($1,$2,$3,$4,$5,TRUE,$6,$7,'done',$8,$9,$10,$11)`,
      [
        id,
        made.id,
        d.title,
        d.text,
        d.purpose,
        numberId,
        JSON.stringify({ include: [await listId(d.list)], exclude: [] }),
        ACTOR.name,
        sentAt - 3_600_000,
        sentAt,
        sentAt + 3 * DAY,
      ],
    );
    const rows: unknown[][] = [];
    let cost = 0;
    let slot = 0;
    for (const c of contacts.filter((x) => x.lists.includes(d.list))) {
      const message = fate(s, d, c, sentAt);
      const text =
        message.state === 'stopped'
          ? ''
          : composeText(d.text, { nameLine: b.nameLine, stopLine: true }, { firstName: c.firstName });
      const segments = Math.max(1, segmentText(text).parts.length);
      const left = message.state === 'stopped' ? null : Math.round(sentAt + slot++ * 25);
      if (left !== null) {
        cost += segments * DEFAULT_PRICES.segment;
        senders.set(`${c.row}|${numberId}`, { row: c.row, number: numberId, at: left });
        if (message.failure === 'not-textable' || message.failure === 'out-of-service')
          await s.app.contacts.learnTrouble(w, made.id, [c.e164], message.failure);
      }
      rows.push([
        `${id}-${c.row}`,
        d.purpose,
        numberId,
        c.e164,
        c.row,
        text,
        segments,
        message.state,
        message.post,
        message.reason,
        left === null ? 0 : segments * DEFAULT_PRICES.segment,
        left === null ? '' : c.carrier,
        message.failure,
        message.why,
        sentAt,
        left,
        left === null ? null : left + Math.round(2000 + random.next() ** 4 * 240_000 + random.next() * 6000),
      ]);
    }
    await w.run(
      `INSERT INTO message (id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, post, reason, cost, carrier, failure, failure_reason, created_at, sent_at, final_at, sent_by)
       SELECT value->>0, $2, $3, 'out', 'dispatch', value->>1, value->>2, value->>3, CAST(value->>4 AS BIGINT), value->>5, CAST(value->>6 AS BIGINT), value->>7, CAST(value->>8 AS BIGINT), value->>9, CAST(value->>10 AS BIGINT), value->>11, value->>12, value->>13, CAST(value->>14 AS BIGINT), CAST(value->>15 AS BIGINT), CAST(value->>16 AS BIGINT), $4 FROM json_each($1)`,
      [jsonRows(rows), made.id, id, ACTOR.name],
    );
    await s.app.businesses.move(w, made.id, -cost, 'texts of a dispatch', 'dispatch', id, idFrom('mon', id));
    await w.run('UPDATE money_entry SET at = $2 WHERE id = $1', [idFrom('mon', id), sentAt]);
    await record(
      w,
      { now: () => sentAt },
      {
        businessId: made.id,
        actor: ACTOR,
        action: 'dispatch sent',
        objectKind: 'dispatch',
        objectId: id,
        before: { state: 'draft' },
        after: { state: 'sending', audience: rows.length },
      },
    );
  }
  await w.run(
    `INSERT INTO contact_sender (contact_number_id, number_id, first_at, stop_line_at) SELECT CAST(value->>0 AS BIGINT), value->>1, CAST(value->>2 AS BIGINT), CAST(value->>2 AS BIGINT) FROM json_each($1)`,
    [jsonRows([...senders.values()].map((x) => [x.row, x.number, x.at]))],
  );
  if (b.key === 'saltmarsh') {
    await draft(
      s,
      made,
      'Early-summer fares',
      'Hello [firstName|traveller], cabins to Aldersund from $19 until 30 April: saltmarsh.example/f4',
      'promotional',
      made.numbers.get('+12015550117') ?? null,
      [await listId('Fare list'), await listId('Counter list of January')],
      [await listId('Crew')],
    );
    await draft(
      s,
      made,
      'Easter timetable',
      'The Easter timetable begins on 25 March: saltmarsh.example/e',
      'informational',
      null,
      [await listId('Passengers')],
      [],
    );
  }
}

async function draft(
  s: Seeding,
  made: MadeBusiness,
  title: string,
  text: string,
  purpose: string,
  numberId: string | null,
  include: string[],
  exclude: string[],
): Promise<void> {
  const id = idFrom('dis', made.id, title);
  await s.w.run(
    `INSERT INTO dispatch (id, business_id, title, text, purpose, stop_line, number_id, audience, state, created_by, created_at) VALUES ($1,$2,$3,$4,$5,TRUE,$6,$7,'draft',$8,$9)`,
    [
      id,
      made.id,
      title,
      text,
      purpose,
      numberId,
      JSON.stringify({ include, exclude }),
      ACTOR.name,
      s.start - 3_600_000,
    ],
  );
  await record(
    s.w,
    { now: () => s.start - 3_600_000 },
    {
      businessId: made.id,
      actor: ACTOR,
      action: 'dispatch begun',
      objectKind: 'dispatch',
      objectId: id,
      after: { title },
    },
  );
}

interface Fate {
  state: 'delivered' | 'failed' | 'stopped';
  post: number | null;
  reason: string | null;
  failure: string | null;
  why: string | null;
}

/** What the gate said then, and what the networks did: worse on one carrier after the off-topic text. */
function fate(s: Seeding, d: (typeof DISPATCHES)[number], c: DemoContact, sentAt: number): Fate {
  const { random } = s;
  const stopped = (post: number, reason: string): Fate => ({
    state: 'stopped',
    post,
    reason,
    failure: null,
    why: null,
  });
  const failed = (failure: string, why: string): Fate => ({ state: 'failed', post: null, reason: null, failure, why });
  if (!c.lookedUp || c.lineType === 'landline' || c.lineType === 'none' || c.lineType === 'unknown')
    return stopped(3, 'not-textable');
  if (c.revokedAt !== null && c.revokedAt < sentAt && (c.backAt === null || c.backAt > sentAt))
    return stopped(5, 'opted-out');
  const granted = c.granted[d.purpose];
  if (granted === undefined || granted > sentAt) return stopped(6, 'consent-none');
  const after = d.daysAgo <= 28 && d.daysAgo > 5 && d.number === '+12015550117';
  const filtered = d.offTopic
    ? c.carrier === 'Nimbrel Mobile'
      ? 0.17
      : 0.02
    : after && c.carrier === 'Nimbrel Mobile'
      ? 0.06
      : 0.003;
  if (random.chance(filtered)) return failed('filtered', 'Filtered by the carrier.');
  if (!c.reachable && random.chance(0.5)) return failed('out-of-service', 'The number is out of service.');
  if (random.chance(0.009)) return failed('passing-fault', 'Expired before the phone was back.');
  return { state: 'delivered', post: null, reason: null, failure: null, why: null };
}
