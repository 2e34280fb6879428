import type { QueryInterface } from 'sequelize';

/** Scenario time, milliseconds: wall time and the offset that the clock keeps. */
const NOW = `(CAST((julianday('now') - 2440587.5) * 86400000 AS INTEGER) + CAST(coalesce((SELECT value FROM setting WHERE name = 'clock.offset'), '0') AS INTEGER))`;

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

/**
 * Whatever the gate reads of these keeps its history (from, to), so that evidence can say what stood on a day. The
 * database keeps it by itself, so that no write can forget it.
 */
export async function history(qi: QueryInterface): Promise<void> {
  for (const { table, business, since, facts } of KEPT) {
    const begin = (fact: string, from: string): string =>
      `INSERT INTO stood (business_id, object_kind, object_id, fact, value, from_at) VALUES (NEW.${business}, '${table}', NEW.id, '${fact}', CAST(NEW.${fact} AS TEXT), ${from})`;
    await qi.sequelize.query(
      `CREATE TRIGGER stood_${table} AFTER INSERT ON ${table} BEGIN ${facts.map((f) => `${begin(f, since === '' ? NOW : `NEW.${since}`)};`).join(' ')} END`,
    );
    for (const fact of facts)
      await qi.sequelize.query(
        `CREATE TRIGGER stood_${table}_${fact} AFTER UPDATE OF ${fact} ON ${table} WHEN NEW.${fact} IS NOT OLD.${fact}
         BEGIN
           UPDATE stood SET to_at = max(from_at, ${NOW}) WHERE business_id = NEW.${business} AND object_kind = '${table}' AND object_id = NEW.id AND fact = '${fact}' AND to_at IS NULL;
           ${begin(fact, NOW)};
         END`,
      );
  }
}
