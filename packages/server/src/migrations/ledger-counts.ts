import type { QueryInterface } from 'sequelize';
import { createTable, index, key, text, whole } from '../platform/table.js';
import { tellFigures } from './figures-of-indexes.js';

/**
 * Events were counted by kind and way; a purpose, or words with a kind, were looked for event by event, which took a
 * third of a second among a million where few have them. Counted by all four, each sort of events there are is one
 * stretch of an index, merged with others as they are asked for, and what they hold is known.
 */
export async function ledgerCounts(qi: QueryInterface): Promise<void> {
  await qi.dropTable('consent_count');
  await createTable(qi, 'consent_count', {
    businessId: key(text()),
    kind: key(text()),
    how: key(text()),
    purposes: key(text()),
    words: key(text()),
    n: whole(),
  });
  await qi.sequelize.query(
    `INSERT INTO consent_count (business_id, kind, how, purposes, words, n)
     SELECT business_id, kind, how, purposes, disclosure_version, count(*) FROM consent_event GROUP BY 1, 2, 3, 4, 5`,
  );
  for (const name of ['way', 'words']) await qi.removeIndex('consent_event', `consent_event_${name}`);
  const sort = ['kind', 'how', 'purposes', 'seq'];
  await index(qi, 'consent_event', 'consent_event_way', ['business_id', ...sort]);
  await index(qi, 'consent_event', 'consent_event_words', ['business_id', 'disclosure_version', ...sort]);
  await tellFigures(qi, {
    consent_event: {
      consent_event_way: '2000000 1000000 400000 200000 100000 1',
      consent_event_words: '2000000 1000000 50000 40000 40000 30000 1',
    },
  });
}
