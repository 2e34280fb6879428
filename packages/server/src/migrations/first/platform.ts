import type { QueryInterface } from 'sequelize';
import {
  createTable,
  big,
  bytes,
  flag,
  key,
  maybe,
  once,
  oneOf,
  serial,
  text,
  whole,
  index,
} from '../../platform/table.js';

export async function platform(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'setting', {
    name: key(text()),
    value: text(),
  });
  await createTable(qi, 'audit', {
    n: serial(),
    id: once(text()),
    at: big(),
    businessId: text(),
    actorId: text(),
    actorName: text(),
    action: text(),
    objectKind: text(),
    objectId: text(),
    before: maybe(text()),
    after: maybe(text()),
    prevHash: maybe(text()),
    hash: maybe(text()),
  });
  await index(qi, 'audit', 'audit_business', ['business_id', 'n DESC']);
  await index(qi, 'audit', 'audit_object', ['object_kind', 'object_id', 'n DESC']);
  await createTable(qi, 'stood', {
    id: serial(),
    businessId: text(),
    objectKind: text(),
    objectId: text(),
    fact: text(),
    value: maybe(text()),
    fromAt: big(),
    toAt: maybe(big()),
  });
  await index(qi, 'stood', 'stood_object', ['business_id', 'object_kind', 'object_id', 'fact', 'from_at']);
  await createTable(qi, 'job', {
    id: key(text()),
    key: once(text()),
    kind: text(),
    businessId: text(),
    payload: text(),
    title: text(''),
    state: oneOf(['waiting', 'running', 'paused', 'done', 'failed', 'cancelled'], 'waiting'),
    runAt: big(),
    leaseOwner: maybe(text()),
    leaseUntil: maybe(big()),
    attempts: whole(0),
    doneCount: whole(0),
    totalCount: whole(0),
    result: maybe(text()),
    error: maybe(text()),
    createdAt: big(),
    finishedAt: maybe(big()),
    woken: flag(false),
  });
  await index(qi, 'job', 'job_due', ['state', 'run_at']);
  await index(qi, 'job', 'job_business', ['business_id', 'created_at DESC']);
  await createTable(qi, 'outbox', {
    key: key(text()),
    kind: text(),
    payload: text(),
    state: oneOf(['waiting', 'delivered', 'refused', 'set aside'], 'waiting'),
    dueAt: big(),
    attempts: whole(0),
    error: maybe(text()),
  });
  await index(qi, 'outbox', 'outbox_due', ['due_at', 'key'], { where: "state = 'waiting'" });
  await createTable(qi, 'set_aside', {
    key: key(text()),
    lane: oneOf(['feed', 'outbox', 'job']),
    kind: text(),
    body: text(),
    cause: text(),
    at: big(),
    state: oneOf(['open', 'done', 'left'], 'open'),
  });
  await index(qi, 'set_aside', 'set_aside_open', ['at'], { where: "state = 'open'" });
  await createTable(qi, 'document', {
    id: key(text()),
    businessId: text(),
    objectKind: text(),
    objectId: text(),
    what: text(),
    name: text(),
    type: text(),
    size: big(),
    sha256: text(),
    body: bytes(),
    uploadedBy: text(),
    at: big(),
  });
  await index(qi, 'document', 'document_object', ['object_kind', 'object_id', 'at']);
  await createTable(qi, 'public_act', {
    who: text(),
    wallAt: big(),
  });
  await index(qi, 'public_act', 'public_act_who', ['who', 'wall_at']);
  await index(qi, 'public_act', 'public_act_wall', ['wall_at']);
}
