import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, oneOf, refers, text, whole, index } from '../../platform/table.js';

export async function numbers(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'number', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    e164: text(),
    label: text(''),
    description: text(''),
    kind: text('local'),
    capabilities: text('[]'),
    source: text('bought'),
    state: oneOf(['ordered', 'active', 'failed', 'paused', 'released']),
    note: text(''),
    setup: big(0),
    monthly: big(0),
    campaignId: maybe(text()),
    tieState: oneOf(['none', 'attaching', 'attached'], 'none'),
    orderedAt: big(),
    activeAt: maybe(big()),
    nextFeeAt: maybe(big()),
    version: whole(1),
    signature: text(''),
    countries: text(''),
    unpaidSince: maybe(big()),
    orderId: text(''),
    lastUsedAt: maybe(big()),
    releasedAt: maybe(big()),
    beforeRelease: maybe(text()),
    lockState: text('locked'),
    unlockAskedBy: text(''),
    unlockAskedAt: maybe(big()),
    unlockedUntil: maybe(big()),
    releasePin: text(''),
    calls: text(''),
    unlockMailHash: text(''),
    unlockAnsweredAt: maybe(big()),
  });
  await index(qi, 'number', 'number_owned', ['e164'], {
    unique: true,
    where: "state IN ('ordered','active','paused')",
  });
  await index(qi, 'number', 'number_business', ['business_id']);
  await index(qi, 'number', 'number_order', ['business_id', 'order_id'], { where: "order_id <> ''" });
  await createTable(qi, 'basket_item', {
    businessId: refers(key(text()), 'business'),
    e164: key(text()),
    kind: text(),
    setup: big(),
    monthly: big(),
    capabilities: text(),
    heldUntil: big(),
  });
  await createTable(qi, 'default_number', {
    businessId: refers(key(text()), 'business'),
    purpose: key(text()),
    numberId: refers(text(), 'number'),
  });
  await createTable(qi, 'port_out', {
    key: key(text()),
    businessId: text(),
    numberId: refers(text(), 'number'),
    carrier: text(),
    at: big(),
    deadline: big(),
    state: oneOf(['open', 'refused', 'left'], 'open'),
    locked: flag(),
  });
  await index(qi, 'port_out', 'port_out_open', ['business_id', 'state']);
}
