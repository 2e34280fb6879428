import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, text, index } from '../../platform/table.js';

export async function letters(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'signing_link', {
    tokenHash: key(text()),
    objectKind: text(),
    objectId: text(),
    expiresAt: big(),
    usedAt: maybe(big()),
    ended: flag(false),
  });
  await index(qi, 'signing_link', 'signing_link_object', ['object_kind', 'object_id']);
}
