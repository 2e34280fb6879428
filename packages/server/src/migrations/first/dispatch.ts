import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, oneOf, real, refers, text, whole, index } from '../../platform/table.js';

export async function dispatch(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'dispatch', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    title: text(),
    text: text(),
    purpose: maybe(text()),
    transactional: flag(false),
    stopLine: flag(true),
    numberId: maybe(text()),
    audience: text(),
    state: oneOf(['draft', 'sending', 'done', 'cancelled']),
    createdBy: text(),
    createdAt: big(),
    sentAt: maybe(big()),
    endsAt: maybe(big()),
    facts: maybe(text()),
    version: whole(1),
    overrideReason: text(''),
    overrideBy: text(''),
  });
  await index(qi, 'dispatch', 'dispatch_business', ['business_id', 'created_at DESC']);
  await createTable(qi, 'message', {
    id: key(text()),
    businessId: text(),
    dispatchId: maybe(text()),
    direction: oneOf(['out', 'in']),
    kind: text(),
    purpose: text(''),
    numberId: text(),
    e164: text(),
    contactNumberId: maybe(whole()),
    text: text(),
    segments: whole(1),
    state: oneOf([
      'judging',
      'waiting',
      'held',
      'stopped',
      'leaving',
      'unsure',
      'sent',
      'delivered',
      'failed',
      'received',
      'cancelled',
    ]),
    post: maybe(whole()),
    reason: maybe(text()),
    holdUntil: maybe(big()),
    cost: big(0),
    carrier: text(''),
    failure: maybe(text()),
    failureCode: maybe(text()),
    failureReason: maybe(text()),
    createdAt: big(),
    sentAt: maybe(big()),
    finalAt: maybe(big()),
    sentBy: text(''),
    paceKey: text(''),
    dueAt: maybe(big()),
    tries: whole(0),
    network: text(''),
    expiresAt: maybe(big()),
  });
  await index(qi, 'message', 'message_once', ['dispatch_id', 'e164'], {
    unique: true,
    where: 'dispatch_id IS NOT NULL',
  });
  await index(qi, 'message', 'message_thread', ['business_id', 'e164', 'created_at']);
  await index(qi, 'message', 'message_dispatch', ['dispatch_id', 'state', 'id']);
  await index(qi, 'message', 'message_of_dispatch', ['dispatch_id', 'id'], { where: 'dispatch_id IS NOT NULL' });
  await index(qi, 'message', 'message_held_until', ['dispatch_id', 'hold_until'], { where: "state = 'held'" });
  await index(qi, 'message', 'message_number', ['business_id', 'number_id', 'sent_at']);
  await index(qi, 'message', 'message_promotional', ['contact_number_id', 'sent_at'], {
    where: "purpose = 'promotional' AND direction = 'out'",
  });
  await index(qi, 'message', 'message_waiting', ['pace_key', 'due_at', 'id'], { where: "state = 'waiting'" });
  await index(qi, 'message', 'message_unsure', ['due_at'], { where: "state = 'unsure'" });
  await index(qi, 'message', 'message_leaving', ['sent_at'], { where: "state = 'leaving'" });
  await index(qi, 'message', 'message_held', ['business_id', 'reason'], { where: "state = 'held'" });
  await index(qi, 'message', 'message_faults', ['contact_number_id', 'final_at'], {
    where: "failure = 'passing-fault'",
  });
  await index(qi, 'message', 'message_in', ['number_id', 'kind', 'created_at'], { where: "direction = 'in'" });
  await createTable(qi, 'pace', {
    key: key(text()),
    freeAt: real(0),
  });
  // What waits behind nothing.
  await qi.bulkInsert('pace', [{ key: '' }]);
  await createTable(qi, 'day_use', {
    businessId: key(text()),
    day: key(big()),
    segments: whole(),
  });
  await createTable(qi, 'text_count', {
    dispatchId: key(text()),
    state: key(text()),
    post: key(whole()),
    reason: key(text()),
    n: whole(),
  });
  await createTable(qi, 'text_day', {
    businessId: key(text()),
    day: key(whole()),
    numberId: key(text()),
    carrier: key(text()),
    outcome: key(text()),
    failure: key(text()),
    reason: key(text()),
    n: whole(),
  });
  await createTable(qi, 'text_latency', {
    businessId: key(text()),
    numberId: key(text()),
    day: key(whole()),
    step: key(whole()),
    n: whole(),
  });
  await createTable(qi, 'text_waiting', {
    businessId: key(text()),
    network: key(text()),
    segments: whole(),
  });
}
