import type { QueryInterface } from 'sequelize';
import { QueryTypes } from 'sequelize';
import type { ConsentEventKind, ConsentRoute, Purpose } from '@long-gate/core';
import { Tally } from '../areas/consent/sources/tally.js';
import { createTable, key, text, whole } from '../platform/table.js';

interface Row {
  business_id: string;
  id: string;
  seq: number;
  e164: string;
  purposes: string;
  kind: ConsentEventKind;
  awaits_confirmation: number | boolean;
  happened_at: number | string;
  how: ConsentRoute;
  evidence: string;
}
const LOT = 5000;

/** What became of who was asked, and who refused: from here on counted with each event, before that from the ledger. */
export async function consentSources(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'consent_source', {
    businessId: key(text()),
    purpose: key(text()),
    way: key(text()),
    via: key(text()),
    week: key(whole()),
    asked: whole(),
    agreed: whole(),
    soon: whole(),
    later: whole(),
    ended: whole(),
  });
  await createTable(qi, 'consent_refusal', {
    businessId: key(text()),
    purpose: key(text()),
    how: key(text()),
    came: key(text()),
    stayed: key(text()),
    week: key(whole()),
    n: whole(),
  });
  await countSources(qi);
}

/** Counts what the ledgers say, into tables that are empty. */
export async function countSources(qi: QueryInterface): Promise<void> {
  let tally = new Tally();
  let of: Row[] = [];
  const all = async (sql: string, bind: unknown[]): Promise<Row[]> =>
    qi.sequelize.query<Row>(sql, { bind, type: QueryTypes.SELECT });
  const take = (): void => {
    tally.take(
      of.map((x) => ({
        id: x.id,
        purposes: x.purposes.split(',') as Purpose[],
        kind: x.kind,
        awaitsConfirmation: Boolean(x.awaits_confirmation),
        happenedAt: Number(x.happened_at),
        how: x.how,
        evidence: JSON.parse(x.evidence) as Record<string, string>,
      })),
    );
    of = [];
  };
  const keep = async (businessId: string): Promise<void> => {
    const { sources, refusals } = tally.rows();
    for (const x of sources)
      await qi.sequelize.query(
        'INSERT INTO consent_source (business_id, purpose, way, via, week, asked, agreed, soon, later, ended) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$10)',
        { bind: [businessId, x.purpose, x.way, x.via, x.week, x.asked, x.agreed, x.soon, x.later, x.ended] },
      );
    for (const x of refusals)
      await qi.sequelize.query(
        'INSERT INTO consent_refusal (business_id, purpose, how, came, stayed, week, n) VALUES ($1,$2,$3,$4,$5,$6,$7)',
        { bind: [businessId, x.purpose, x.how, x.came, x.stayed, x.week, x.n] },
      );
    tally = new Tally();
  };
  let last: Row | undefined;
  for (;;) {
    const rows: Row[] = await all(
      `SELECT business_id, id, seq, e164, purposes, kind, awaits_confirmation, happened_at, how, evidence FROM consent_event
       WHERE (business_id, e164, seq) > ($1, $2, $3) ORDER BY business_id, e164, seq LIMIT ${LOT}`,
      [last?.business_id ?? '', last?.e164 ?? '', last?.seq ?? 0],
    );
    for (const row of rows) {
      if (last && (row.business_id !== last.business_id || row.e164 !== last.e164)) take();
      if (last && row.business_id !== last.business_id) await keep(last.business_id);
      of.push(row);
      last = row;
    }
    if (rows.length < LOT) break;
  }
  if (!last) return;
  take();
  await keep(last.business_id);
}
