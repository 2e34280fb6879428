import type { QueryInterface } from 'sequelize';
import { addColumn, big, createTable, index, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

/** Lists of numbers not to be texted, and what they keep from each contact number; nothing was on one before. */
export async function suppressionLists(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'contact_number', 'suppression', text('none'));
  await qi.sequelize.query(`UPDATE contact_number SET suppression = 'all' WHERE suppressed`);
  await qi.sequelize.query('ALTER TABLE contact_number DROP COLUMN suppressed');
  await index(qi, 'contact_number', 'contact_number_suppression', ['business_id', 'suppression', 'e164'], {
    where: `suppression <> 'none'`,
  });
  await createTable(qi, 'suppression_list', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    name: text(),
    kind: oneOf(['national', 'state', 'carrier', 'own']),
    state: oneOf(['reading', 'stands', 'going', 'gone'], 'reading'),
    source: text(),
    datedOn: text(),
    edition: whole(0),
    reading: whole(0),
    editions: whole(0),
    readingSource: text(''),
    readingDatedOn: text(''),
    parts: whole(0),
    read: whole(0),
    refused: whole(0),
    refusals: text(),
    numbers: whole(0),
    addedBy: text(),
    addedAt: big(),
    broughtAt: maybe(big()),
    version: whole(1),
  });
  await createTable(qi, 'suppression_number', {
    businessId: key(text()),
    e164: key(text()),
    listId: key(text()),
    edition: key(whole()),
  });
  await index(qi, 'suppression_number', 'suppression_number_list', ['list_id', 'edition', 'e164']);
}
