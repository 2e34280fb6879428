import type { QueryInterface } from 'sequelize';

/** As in `first/statistics.ts`, for the indexes that came after it. */
const FIGURES: Record<string, Record<string, string>> = {
  consent_event: {
    consent_event_happened: '2000000 1000000 1 1',
    consent_event_words: '2000000 1000000 50000 1',
  },
  contact: { contact_email: '700000 350000 1', contact_intake: '1000000 50000 1' },
  contact_number: {
    contact_number_reassignment: '100000 50000 25000',
    contact_number_suppression: '100000 50000 25000 1',
  },
  job: { sqlite_autoindex_job_1: '10000 1' },
  number: { number_order: '20 10 1', number_owned: '50 1' },
  thread: { thread_handled: '50000 25000 1', thread_waiting: '1000 500 1' },
};

/**
 * What SQLite's planner is to reckon with in indexes made since the first figures. An index without them passes for a
 * narrow one: by that of when something happened the end of a chain was looked for among all its events.
 */
export function figuresOfIndexes(qi: QueryInterface): Promise<void> {
  return tellFigures(qi, FIGURES);
}

/** Tells SQLite's planner what to reckon with in some indexes, by their tables. */
export async function tellFigures(
  qi: QueryInterface,
  figuresOf: Record<string, Record<string, string>>,
): Promise<void> {
  const { sequelize } = qi;
  if (sequelize.getDialect() !== 'sqlite') return;
  for (const [table, indexes] of Object.entries(figuresOf))
    for (const [index, figures] of Object.entries(indexes)) {
      await sequelize.query('DELETE FROM sqlite_stat1 WHERE idx = $1', { bind: [index] });
      await sequelize.query('INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ($1, $2, $3)', {
        bind: [table, index, figures],
      });
    }
  await sequelize.query('ANALYZE sqlite_schema');
}
