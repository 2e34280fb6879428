import { insertMany } from '../../../platform/bulk.js';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import type { Kept } from '../../../platform/kept-counts-store.js';
import * as ledger from '../ledger/ledger-store.js';
import { keywordTable } from '../keywords/model.js';
import { filedFormTable } from '../model.js';
import { optinPageTable } from '../pages/model.js';
import { consentRefusalTable, consentSourceTable } from './model.js';
import { Tally, type RefusalRow, type SourceRow } from './tally.js';

/** Adds what events changed to what is counted; a set, since a list brought in touches many weeks at once. */
export async function addTally(w: Writer, businessId: string, tally: Tally): Promise<void> {
  const { sources, refusals } = tally.rows();
  if (sources.length > 0)
    await w.run(
      `INSERT INTO consent_source (business_id, purpose, way, via, week, asked, agreed, soon, later, ended)
       SELECT $1, value->>0, value->>1, value->>2, CAST(value->>3 AS BIGINT), CAST(value->>4 AS BIGINT), CAST(value->>5 AS BIGINT), CAST(value->>6 AS BIGINT), CAST(value->>7 AS BIGINT), CAST(value->>8 AS BIGINT) FROM jsonb_each($2) WHERE true
       ON CONFLICT (business_id, purpose, way, via, week) DO UPDATE SET asked = consent_source.asked + excluded.asked, agreed = consent_source.agreed + excluded.agreed, soon = consent_source.soon + excluded.soon, later = consent_source.later + excluded.later, ended = consent_source.ended + excluded.ended`,
      [
        businessId,
        jsonRows(sources.map((x) => [x.purpose, x.way, x.via, x.week, x.asked, x.agreed, x.soon, x.later, x.ended])),
      ],
    );
  if (refusals.length > 0)
    await w.run(
      `INSERT INTO consent_refusal (business_id, purpose, how, came, stayed, week, n)
       SELECT $1, value->>0, value->>1, value->>2, value->>3, CAST(value->>4 AS BIGINT), CAST(value->>5 AS BIGINT) FROM jsonb_each($2) WHERE true
       ON CONFLICT (business_id, purpose, how, came, stayed, week) DO UPDATE SET n = consent_refusal.n + excluded.n`,
      [businessId, jsonRows(refusals.map((x) => [x.purpose, x.how, x.came, x.stayed, x.week, x.n]))],
    );
}

/** What became of who was asked, a row for each way and week from one week on. */
export function sourcesSince(r: Reader, businessId: string, purpose: string, week: number): Promise<SourceRow[]> {
  return r.all<SourceRow>(
    `SELECT purpose, way, via, week, asked, agreed, soon, later, ended FROM consent_source WHERE business_id = $1 AND purpose = $2 AND week >= $3 AND asked > 0`,
    [businessId, purpose, week],
  );
}

/** How often people refused, a row for each way of saying it and week from one week on. */
export function refusalsSince(r: Reader, businessId: string, purpose: string, week: number): Promise<RefusalRow[]> {
  return r.all<RefusalRow>(
    `SELECT purpose, how, came, stayed, week, n FROM consent_refusal WHERE business_id = $1 AND purpose = $2 AND week >= $3 AND n > 0`,
    [businessId, purpose, week],
  );
}

/** What pages, programmes and forms are called, by way and what it came by. */
export async function namesOfVia(
  r: Reader,
  businessId: string,
  ways: readonly { way: string; via: string }[],
): Promise<Map<string, string>> {
  const of = (...some: string[]): string[] =>
    ways.filter((x) => some.includes(x.way) && x.via !== '').map((x) => x.via);
  const pages = await r.of(optinPageTable).findAll({
    where: { businessId, slug: of('web page', 'preference page') },
    attributes: ['slug', 'title'],
  });
  const programmes = await r.of(keywordTable).findAll({
    where: { businessId, id: of('keyword') },
    attributes: ['id', 'title'],
  });
  const forms = await r.of(filedFormTable).findAll({
    where: { businessId, id: of('paper form') },
    attributes: ['id', 'name'],
  });
  const names = new Map<string, string>();
  for (const way of ['web page', 'preference page'])
    for (const { slug, title } of pages) names.set(`${way}\n${slug}`, title);
  for (const { id, title } of programmes) names.set(`keyword\n${id}`, title);
  for (const { id, name } of forms) names.set(`paper form\n${id}`, name);
  return names;
}

/** What sources of words are called, where they do not say so themselves: opt-in pages, and filed forms. */
export async function namesOfSources(
  r: Reader,
  businessId: string,
  sources: readonly string[],
): Promise<Map<string, string>> {
  const pages = await r.of(optinPageTable).findAll({
    where: { businessId, slug: [...sources] },
    attributes: ['slug', 'title'],
  });
  const forms = await r.of(filedFormTable).findAll({
    where: { businessId, id: sources.flatMap((x) => (x.startsWith('form ') ? [x.slice(5)] : [])) },
    attributes: ['id', 'name'],
  });
  return new Map([
    ...pages.map((x): [string, string] => [x.slug, x.title]),
    ...forms.map((x): [string, string] => [`form ${x.id}`, `form “${x.name}”`]),
  ]);
}

/** So many events are read at once where all are counted anew. */
const CHUNK = 5000;

/** All of a business's ledger, counted anew. */
async function countedAnew(r: Reader, businessId: string): Promise<Tally> {
  const tally = new Tally();
  for (let after = ''; ;) {
    const { events, upTo } = await ledger.nextByNumber(r, businessId, after, null, CHUNK, ledger.TOLD);
    for (const of of events.values()) tally.take(of);
    if (upTo === null) return tally;
    after = upTo;
    await new Promise((others) => setImmediate(others));
  }
}

type Rows = ReturnType<Tally['rows']>;
async function keptRows(r: Reader, businessId: string): Promise<Rows> {
  return {
    sources: await r.of(consentSourceTable).findAll({ where: { businessId }, raw: true }),
    refusals: await r.of(consentRefusalTable).findAll({ where: { businessId }, raw: true }),
  };
}
/** Each count under its name, so that two sets can be held against each other. */
function byName({ sources, refusals }: Rows): Map<string, string> {
  return new Map([
    ...sources
      .filter((x) => x.asked > 0)
      .map((x): [string, string] => [
        [x.purpose, x.way, x.via, x.week].join('\n'),
        [x.asked, x.agreed, x.soon, x.later, x.ended].join(' '),
      ]),
    ...refusals
      .filter((x) => x.n > 0)
      .map((x): [string, string] => [[x.purpose, x.how, x.came, x.stayed, x.week, ''].join('\n'), String(x.n)]),
  ]);
}
/** Whose ledgers hold anything. */
async function withEvents(r: Reader): Promise<string[]> {
  return (await r.all<{ id: string }>('SELECT DISTINCT business_id AS id FROM consent_count ORDER BY 1')).map(
    (x) => x.id,
  );
}

/** What is kept of ways in and refusals, held against the ledger, number by number. */
export const SOURCE_COUNTS: Kept = {
  what: 'what became of who was asked, and refusals, by way and week',
  async differing(r) {
    let n = 0;
    for (const id of await withEvents(r)) {
      const kept = byName(await keptRows(r, id));
      const counted = byName((await countedAnew(r, id)).rows());
      for (const name of new Set([...kept.keys(), ...counted.keys()])) if (kept.get(name) !== counted.get(name)) n++;
    }
    return n;
  },
  async recount(r, w) {
    for (const id of await withEvents(r)) {
      const { sources, refusals } = (await countedAnew(r, id)).rows();
      await w.of(consentSourceTable).destroy({ where: { businessId: id } });
      await w.of(consentRefusalTable).destroy({ where: { businessId: id } });
      await insertMany(
        w,
        consentSourceTable,
        sources.map((x) => ({ businessId: id, ...x })),
      );
      await insertMany(
        w,
        consentRefusalTable,
        refusals.map((x) => ({ businessId: id, ...x })),
      );
    }
  },
};
