import type { QueryInterface } from 'sequelize';
import { createTable, big, key, maybe, once, oneOf, refers, text, whole, index } from '../../platform/table.js';

export async function registration(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'brand', {
    id: key(text()),
    businessId: once(refers(text(), 'business')),
    body: text(),
    taxNumber: text(''),
    state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
    score: maybe(whole()),
    attempt: whole(0),
    submittedAt: maybe(big()),
    decidedAt: maybe(big()),
    reasons: text('[]'),
    lastSubmitted: maybe(text()),
    version: whole(1),
  });
  await createTable(qi, 'campaign', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    name: text(),
    body: text(),
    state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
    attempt: whole(0),
    submittedAt: maybe(big()),
    decidedAt: maybe(big()),
    reasons: text('[]'),
    lastSubmitted: maybe(text()),
    createdAt: big(),
    version: whole(1),
  });
  await index(qi, 'campaign', 'campaign_business', ['business_id']);
}
