import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, oneOf, refers, text, whole, index } from '../../platform/table.js';

export async function porting(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'port', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    state: oneOf(
      ['draft', 'submitted', 'rejected', 'accepted', 'cutting over', 'done', 'cancelled', 'returning', 'returned'],
      'draft',
    ),
    losingCarrier: text(''),
    facts: text(),
    secrets: text(''),
    acknowledged: text('[]'),
    record: text(''),
    recordState: text('not asked'),
    recordAt: maybe(big()),
    letter: maybe(text()),
    billDated: text(''),
    attempt: whole(0),
    reasons: text('[]'),
    lastSubmitted: maybe(text()),
    submitKey: text(''),
    focAt: maybe(big()),
    askedDate: text(''),
    runbook: text('{}'),
    charged: big(0),
    begunAt: big(),
    submittedAt: maybe(big()),
    answeredAt: maybe(big()),
    completedAt: maybe(big()),
    version: whole(1),
    lastSecrets: text(''),
  });
  await index(qi, 'port', 'port_business', ['business_id', 'begun_at DESC']);
  await createTable(qi, 'port_number', {
    portId: refers(key(text()), 'port'),
    e164: key(text()),
    kind: maybe(text()),
    losingCarrier: text(''),
    portable: maybe(flag()),
    whyNot: text(''),
    label: text(''),
    campaignId: maybe(text()),
    numberId: maybe(text()),
    open: flag(true),
    forwardTo: text(''),
  });
  await index(qi, 'port_number', 'port_number_open', ['e164'], { unique: true, where: 'open' });
  await createTable(qi, 'calendar_feed', {
    tokenHash: key(text()),
    token: text(),
    businessId: text(),
    userId: refers(text(), 'user'),
  });
  await index(qi, 'calendar_feed', 'calendar_feed_once', ['business_id', 'user_id'], { unique: true });
}
