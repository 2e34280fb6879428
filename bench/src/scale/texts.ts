import { report } from '../measure.js';
import type { World } from './world.js';

const DAY_MS = 86_400_000;
/** To so many people at most went each dispatch of the past. */
const A_DISPATCH = 20_000;
const NUMBERS = 10;
/** So many in a transaction, so that the journal stays short. */
const LOT = 500_000;

/**
 * What was sent and received before: ten texts a person over the last ninety days, by ten numbers and three carriers,
 * with failures, stops and answers, and the conversations they are in. The indexes of texts are made afterwards, and all
 * that is counted of them is counted anew, as `npm run counts -- rebuild` does.
 */
export async function texts(world: World): Promise<void> {
  const { app, business, n, bare } = world;
  const { db, clock, keptCounts } = app.platform;
  const many = n * 10;
  // Nobody is twice in one.
  const each = Math.min(n, A_DISPATCH);
  const from = clock.now() - 89 * DAY_MS;
  const span = 88 * DAY_MS;
  const parts = await bare.all<{ type: string; name: string; sql: string }>(
    `SELECT type, name, sql FROM sqlite_schema WHERE tbl_name = 'message' AND type IN ('index', 'trigger') AND sql IS NOT NULL`,
  );
  // What the planner reckons with goes with an index.
  const figures = await bare.all<{ tbl: string; idx: string; stat: string }>(
    `SELECT tbl, idx, stat FROM sqlite_stat1 WHERE tbl = 'message'`,
  );
  await db.write(async (w) => {
    for (const { type, name } of parts) await w.run(`DROP ${type} ${name}`);
    await w.run(
      `INSERT INTO number (id, business_id, e164, state, ordered_at, active_at) SELECT 'num_' || value, $1, '+1201555020' || value, 'active', 0, 0 FROM json_each($2)`,
      [business, JSON.stringify(Array.from({ length: NUMBERS }, (_, i) => i))],
    );
  });
  for (let at = 0; at < many; at += LOT)
    await db.write((w) =>
      w.run(
        `INSERT INTO message (id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, post, reason, cost, carrier, failure, failure_reason, created_at, sent_at, final_at, network)
         WITH RECURSIVE i(k) AS (SELECT $1 UNION ALL SELECT k + 1 FROM i WHERE k + 1 < $2),
         t AS (SELECT k, (k + k / $3) % 100 AS fate, $4 + CAST(k * ($5 * 1.0 / $6) AS INTEGER) AS at FROM i)
         SELECT printf('msg_%010d', k), $7, CASE WHEN fate IN (3, 4, 5, 6) THEN NULL ELSE printf('dsp_%06d', k / ${each}) END,
           CASE WHEN fate IN (3, 4, 5, 6) THEN 'in' ELSE 'out' END, CASE WHEN fate IN (3, 4, 5, 6) THEN 'reply' ELSE 'dispatch' END,
           CASE WHEN fate IN (3, 4, 5, 6) THEN '' WHEN k % 2 = 0 THEN 'promotional' ELSE 'informational' END,
           'num_' || (k / ${each} % ${NUMBERS}), cn.e164, cn.id, CASE WHEN fate IN (3, 4, 5, 6) THEN 'When does the boat leave?' ELSE 'The nine o’clock boat leaves at ten today.' END, 1,
           CASE fate WHEN 0 THEN 'failed' WHEN 1 THEN 'failed' WHEN 2 THEN 'stopped' WHEN 3 THEN 'received' WHEN 4 THEN 'received' WHEN 5 THEN 'received' WHEN 6 THEN 'received' ELSE 'delivered' END,
           CASE fate WHEN 2 THEN 5 END, CASE fate WHEN 2 THEN 'opted-out' END, 8000,
           CASE WHEN fate IN (2, 3, 4, 5, 6) THEN '' WHEN k % 7 < 3 THEN 'Tessary Wireless' WHEN k % 7 < 5 THEN 'Nimbrel Mobile' ELSE 'Ostrane Cellular' END,
           CASE fate WHEN 0 THEN 'filtered' WHEN 1 THEN 'not-textable' END, CASE fate WHEN 0 THEN 'filtered by the carrier' WHEN 1 THEN 'landline' END,
           at, CASE WHEN fate IN (2, 3, 4, 5, 6) THEN NULL ELSE at END, CASE WHEN fate IN (2, 3, 4, 5, 6) THEN NULL ELSE at + 1000 + k % 97 * 100 END, cn.carrier_kind
         FROM t CROSS JOIN contact_number cn ON cn.id = k % $3 + 1`,
        [at, Math.min(at + LOT, many), n, from, span, many, business],
      ),
    );
  await db.write(async (w) => {
    await w.run(
      `INSERT INTO dispatch (id, business_id, title, text, purpose, number_id, audience, state, created_by, created_at, sent_at)
       WITH RECURSIVE d(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM d WHERE i + 1 < $1)
       SELECT printf('dsp_%06d', i), $2, 'News ' || i, 'The nine o’clock boat leaves at ten today.', 'informational', 'num_' || (i % ${NUMBERS}), '{"include":[],"exclude":[]}', 'done', 'bench', $3 + i * ($4 / $1), $3 + i * ($4 / $1) FROM d`,
      [Math.ceil(many / each), business, from, span],
    );
    await w.run(
      `INSERT INTO thread (business_id, e164, number_id, last_at, last_text, unread)
       SELECT business_id, e164, max(number_id), max(created_at), text, max(rowid) % 100 = 0 FROM message WHERE direction = 'in' AND business_id = $1 GROUP BY e164`,
      [business],
    );
  });
  for (const { sql } of parts.filter((p) => p.type === 'index')) await db.write((w) => w.run(sql));
  await db.write(async (w) => {
    for (const f of figures) {
      await w.run('DELETE FROM sqlite_stat1 WHERE idx = $1', [f.idx]);
      await w.run('INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ($1, $2, $3)', [f.tbl, f.idx, f.stat]);
    }
    // Everybody's connection reads them with the next change of the schema.
    for (const { sql } of parts.filter((p) => p.type === 'trigger')) await w.run(sql);
    await w.run('ANALYZE sqlite_schema');
  });
  await db.scrub();
  const begun = performance.now();
  for await (const { what, differing } of keptCounts.check(db, true)) console.log(`${what}: ${differing}`);
  report({
    contacts: n,
    name: `counts of ${many.toLocaleString('en-US')} texts, contacts and the ledger, checked and made anew`,
    ours: performance.now() - begun,
    unit: 'ms',
  });
}
