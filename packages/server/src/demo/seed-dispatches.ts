import { composeText, DEFAULT_PRICES, segmentText, type Purpose } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import type { App } from '../app.js';
import { draftOf } from '../areas/dispatch/drafts.js';
import { contactListTable, contactSenderTable } from '../areas/contacts/model.js';
import { dispatchTable, messageTable, type MessageModel } from '../areas/dispatch/model.js';
import { moneyEntryTable } from '../areas/settings/model.js';
import { record } from '../platform/audit.js';
import { insertMany } from '../platform/bulk.js';
import { idFrom } from '../platform/ids.js';
import { CARRIER_KINDS, DISPATCHES, PEOPLE, ROTA, type DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import { beforeLookup, changedAt } from './past-facts.js';
import { PastGate } from './past-gate.js';
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
    (await w.of(contactListTable).findOne({ where: { businessId: made.id, name } }))?.id ?? '';
  const senders = new Map<string, { row: number; number: string; first: number; at: number }>();
  const gate = await PastGate.open(s, made.id, contacts);
  for (const d of DISPATCHES.filter((x) => x.business === b.key)) {
    const id = idFrom('dis', made.id, d.title);
    // Sent at eleven in the morning, Eastern time.
    const sentAt = Math.floor((start - d.daysAgo * DAY) / DAY) * DAY + 15.2 * 3_600_000;
    const numberId = made.numbers.get(d.number) ?? '';
    const sender = await s.app.numbers.sender(w, made.id, numberId);
    await w.of(dispatchTable).create({
      id,
      businessId: made.id,
      title: d.title,
      text: d.text,
      purpose: d.purpose,
      numberId,
      audience: { include: [await listId(d.list)], exclude: [] },
      state: 'done',
      createdBy: ACTOR.name,
      createdAt: sentAt - 3_600_000,
      sentAt,
      endsAt: sentAt + 3 * DAY,
    });
    const rows: CreationAttributes<MessageModel>[] = [];
    let cost = 0;
    let slot = 0;
    for (const c of contacts.filter((x) => x.lists.includes(d.list) && x.createdAt < sentAt)) {
      const verdict = gate.judge(c, d, sender, sentAt, !senders.has(`${c.row}|${numberId}`));
      const left = verdict.leavesAt === null ? null : Math.round(verdict.leavesAt + slot++ * 25);
      const message = left === null ? null : fate(s, d, c);
      const finalAt =
        left === null ? null : left + Math.round(2000 + random.next() ** 4 * 240_000 + random.next() * 6000);
      const text =
        left === null ? '' : composeText(d.text, { nameLine: b.nameLine, stopLine: true }, { firstName: c.firstName });
      const segments = Math.max(1, segmentText(text).parts.length);
      if (left !== null && finalAt !== null && message) {
        cost += segments * DEFAULT_PRICES.segment;
        const key = `${c.row}|${numberId}`;
        senders.set(key, { row: c.row, number: numberId, first: senders.get(key)?.first ?? left, at: left });
        if (message.failure === 'not-textable' || message.failure === 'out-of-service') {
          await s.app.contacts.learnTrouble(
            w,
            made.id,
            [{ e164: c.e164, carrier: '', detail: message.why ?? '' }],
            message.failure,
            finalAt,
          );
          await changedAt(w, c.row, finalAt, start);
          await beforeLookup(w, c, message.failure, finalAt);
          gate.learn(c, message.failure);
        }
      }
      rows.push({
        id: `${id}-${c.row}`,
        businessId: made.id,
        dispatchId: id,
        direction: 'out',
        kind: 'dispatch',
        purpose: d.purpose,
        numberId,
        e164: c.e164,
        contactNumberId: c.row,
        text,
        segments,
        state: message?.state ?? 'stopped',
        post: verdict.post,
        reason: verdict.reason,
        judgedAt: sentAt,
        cost: left === null ? 0 : segments * DEFAULT_PRICES.segment,
        carrier: left === null ? '' : c.carrier,
        network: left === null ? '' : (CARRIER_KINDS[c.carrier] ?? 'A'),
        failure: message?.failure ?? null,
        failureReason: message?.why ?? null,
        createdAt: sentAt,
        sentAt: left,
        finalAt,
        sentBy: ACTOR.name,
      });
    }
    await insertMany(w, messageTable, rows);
    await s.app.businesses.move(w, made.id, -cost, 'texts of a dispatch', 'dispatch', id, idFrom('mon', id));
    await w.of(moneyEntryTable).update({ at: sentAt }, { where: { id: idFrom('mon', id) } });
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
  await insertMany(
    w,
    contactSenderTable,
    [...senders.values()].map((x) => ({
      contactNumberId: x.row,
      numberId: x.number,
      firstAt: x.first,
      stopLineAt: x.at,
    })),
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
      ROTA.title,
      ROTA.text,
      'informational',
      made.numbers.get('+12015550142') ?? null,
      [await listId('Crew')],
      [],
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

/** What goes out by itself on Monday: scheduled as a person does it, with whom it reaches and what it costs confirmed. */
export async function scheduleRota(app: App): Promise<void> {
  const r = app.platform.db;
  const row = await r.of(dispatchTable).findOne({ where: { title: ROTA.title, state: 'draft' } });
  if (!row) return;
  const when = { local: ROTA.leaves, zone: 'business' } as const;
  const { reach, costAtMost } = await app.preview.preview(row.businessId, draftOf(row), when);
  await app.scheduling.schedule(ACTOR, row.businessId, row.id, null, when, { reach, cost: costAtMost });
}

async function draft(
  s: Seeding,
  made: MadeBusiness,
  title: string,
  text: string,
  purpose: Purpose,
  numberId: string | null,
  include: string[],
  exclude: string[],
): Promise<void> {
  const id = idFrom('dis', made.id, title);
  await s.w.of(dispatchTable).create({
    id,
    businessId: made.id,
    title,
    text,
    purpose,
    numberId,
    audience: { include, exclude },
    state: 'draft',
    createdBy: ACTOR.name,
    createdAt: s.start - 3_600_000,
  });
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
  state: 'delivered' | 'failed';
  failure: string | null;
  why: string | null;
}

/** What the networks did with a text that left: worse on one carrier after the off-topic text. */
function fate(s: Seeding, d: (typeof DISPATCHES)[number], c: DemoContact): Fate {
  const { random } = s;
  const failed = (failure: string, why: string): Fate => ({ state: 'failed', failure, why });
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
  return { state: 'delivered', failure: null, why: null };
}
