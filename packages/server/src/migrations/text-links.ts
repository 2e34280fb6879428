import type { QueryInterface } from 'sequelize';
import { big, createTable, index, key, maybe, once, refers, text, whole } from '../platform/table.js';

/** Links in texts to the page of the number they went to, and what came of them. */
export async function textLinks(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'text_link_policy', {
    businessId: key(refers(text(), 'business')),
    domain: text(),
    earlier: text(''),
    pageId: text(),
    version: whole(1),
  });
  await createTable(qi, 'text_link', {
    messageId: key(text()),
    businessId: refers(text(), 'business'),
    dispatchId: text(),
    pageId: text(),
    keyHash: once(text()),
    e164: text(),
    sentAt: big(),
    expiresAt: big(),
    openedAt: maybe(big()),
    answeredAt: maybe(big()),
    chose: text(''),
    withdrawnAt: maybe(big()),
  });
  await index(qi, 'text_link', 'text_link_number', ['business_id', 'e164']);
  // Taking back those of a dispatch that nobody answered.
  await index(qi, 'text_link', 'text_link_open', ['business_id', 'dispatch_id'], {
    where: 'answered_at IS NULL AND withdrawn_at IS NULL',
  });
  await createTable(qi, 'text_link_count', {
    businessId: refers(key(text()), 'business'),
    dispatchId: key(text()),
    lastAt: big(0),
    sent: whole(0),
    opened: whole(0),
    kept: whole(0),
    joined: whole(0),
    awaited: whole(0),
    ended: whole(0),
  });
  await index(qi, 'text_link_count', 'text_link_count_last', ['business_id', 'last_at', 'dispatch_id']);
}
