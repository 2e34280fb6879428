import type { QueryInterface } from 'sequelize';
import { KEPT_SINCE } from '../areas/contacts/history/model.js';
import { addColumn, big, createTable, flag, index, maybe, serial, text, trigger, whole } from '../platform/table.js';
import { keepFromNow, keepHistory, now, type KeptFacts } from './kept-history.js';

/** What the gate and evidence read of a contact number beside its consent, which the ledger says. */
const FACTS = [
  'country',
  'zones',
  'states',
  'line_type',
  'carrier',
  'carrier_kind',
  'reachable',
  'looked_up_at',
  'textable',
  'trouble',
  'faults_in_review',
  'suppression',
  'wish_in_review',
  'refused_elsewhere',
  'reassignment',
];
/** A release that can still be taken back is other than one that is final. */
const RELEASED: KeptFacts = {
  table: 'number',
  business: 'business_id',
  since: 'ordered_at',
  facts: ['before_release'],
  more: '_release',
};

/**
 * What the gate read of a contact number keeps its history: with each change a row of how it stood before, none for
 * numbers that come in, so that bringing in a million costs nothing. And when a text was judged that did not leave.
 */
export async function asOfADay(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'contact_number_was', {
    id: serial(),
    contactNumberId: whole(),
    untilAt: big(),
    country: text(),
    zones: text(),
    states: text(),
    lineType: text(),
    carrier: text(),
    carrierKind: text(),
    reachable: flag(),
    lookedUpAt: maybe(big()),
    textable: text(),
    trouble: text(),
    faultsInReview: flag(),
    suppression: text(),
    wishInReview: flag(),
    refusedElsewhere: whole(),
    reassignment: text(),
  });
  await index(qi, 'contact_number_was', 'contact_number_was_until', ['contact_number_id', 'until_at']);
  await trigger(qi, {
    name: 'contact_number_was_kept',
    table: 'contact_number',
    when: `AFTER UPDATE OF ${FACTS.join(', ')}`,
    only: FACTS.map((f) => `NEW.${f} IS DISTINCT FROM OLD.${f}`).join(' OR '),
    run: [
      `INSERT INTO contact_number_was (contact_number_id, until_at, ${FACTS.join(', ')}) VALUES (OLD.id, ${now(qi)}, ${FACTS.map((f) => `OLD.${f}`).join(', ')})`,
    ],
  });
  await trigger(qi, {
    name: 'contact_number_was_gone',
    table: 'contact_number',
    when: 'AFTER DELETE',
    run: ['DELETE FROM contact_number_was WHERE contact_number_id = OLD.id'],
  });
  // Of numbers that were there already nobody knows how they stood before now.
  await qi.sequelize.query(
    `INSERT INTO setting (name, value) SELECT '${KEPT_SINCE}', CAST(${now(qi)} AS TEXT) WHERE EXISTS (SELECT 1 FROM contact_number)`,
  );
  if (qi.sequelize.getDialect() === 'sqlite') {
    await qi.sequelize.query('INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ($1, $2, $3)', {
      bind: ['contact_number_was', 'contact_number_was_until', '2000000 2 1'],
    });
    await qi.sequelize.query('ANALYZE sqlite_schema');
  }
  await addColumn(qi, 'message', 'judgedAt', maybe(big()));
  await keepHistory(qi, RELEASED);
  await keepFromNow(qi, RELEASED);
}
