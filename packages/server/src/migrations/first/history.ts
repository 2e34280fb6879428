import type { QueryInterface } from 'sequelize';
import { trigger } from '../../platform/table.js';

/** Scenario time, milliseconds: wall time and the offset that the clock keeps. */
const now = (qi: QueryInterface): string => {
  const wall =
    qi.sequelize.getDialect() === 'sqlite'
      ? `CAST((julianday('now') - 2440587.5) * 86400000 AS INTEGER)`
      : 'CAST(extract(epoch FROM clock_timestamp()) * 1000 AS BIGINT)';
  return `(${wall} + CAST(coalesce((SELECT value FROM setting WHERE name = 'clock.offset'), '0') AS BIGINT))`;
};

/** What the gate reads of a business and its numbers and filings: by table, whose it is, since when, and which columns. */
const KEPT: { table: string; business: string; since: string; facts: readonly string[] }[] = [
  {
    table: 'business',
    business: 'id',
    since: 'created_at',
    facts: [
      'legal_name',
      'name_line',
      'account_state',
      'texts_off',
      'transactional_any_hour',
      'open_countries',
      'time_zone',
    ],
  },
  {
    table: 'number',
    business: 'business_id',
    since: 'ordered_at',
    facts: ['state', 'campaign_id', 'tie_state', 'countries', 'signature'],
  },
  { table: 'campaign', business: 'business_id', since: 'created_at', facts: ['state', 'body'] },
  { table: 'brand', business: 'business_id', since: '', facts: ['state', 'score', 'body'] },
];

/** Those that are a yes or no: kept as 1 or 0, whatever the database calls them. */
const FLAGS = new Set(['texts_off', 'transactional_any_hour']);

/**
 * Whatever the gate reads of these keeps its history (from, to), so that evidence can say what stood on a day. The
 * database keeps it by itself, so that no write can forget it.
 */
export async function history(qi: QueryInterface): Promise<void> {
  const at = now(qi);
  for (const { table, business, since, facts } of KEPT) {
    const begin = (fact: string, from: string): string =>
      `INSERT INTO stood (business_id, object_kind, object_id, fact, value, from_at) VALUES (NEW.${business}, '${table}', NEW.id, '${fact}', ${FLAGS.has(fact) ? `CASE WHEN NEW.${fact} THEN '1' ELSE '0' END` : `CAST(NEW.${fact} AS TEXT)`}, ${from})`;
    await trigger(qi, {
      name: `stood_${table}`,
      table,
      when: 'AFTER INSERT',
      run: facts.map((f) => begin(f, since === '' ? at : `NEW.${since}`)),
    });
    for (const fact of facts)
      await trigger(qi, {
        name: `stood_${table}_${fact}`,
        table,
        when: `AFTER UPDATE OF ${fact}`,
        only: `NEW.${fact} IS DISTINCT FROM OLD.${fact}`,
        run: [
          `UPDATE stood SET to_at = CASE WHEN from_at > ${at} THEN from_at ELSE ${at} END WHERE business_id = NEW.${business} AND object_kind = '${table}' AND object_id = NEW.id AND fact = '${fact}' AND to_at IS NULL`,
          begin(fact, at),
        ],
      });
  }
}
