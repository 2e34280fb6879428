import { createHash } from 'node:crypto';
import { buildApp, type App } from './app.js';
import { readConfig } from './config.js';
import { AUDIT_CHAIN, verifyTrail } from './platform/audit.js';
import { DatabaseProblem } from './platform/dialects/postgres.js';
import { FolderProblem } from './platform/folder.js';
import { stoodAt } from './platform/stood-store.js';

/**
 * Verifies every ledger, or rebuilds the state of now from it and says whether it matched (exits 1 when broken); or
 * prints what the gate read of each business, its numbers and filings at a moment, and by which rules it judged.
 */
const wish = process.argv[2] ?? 'verify';
const day = wish === 'stood' ? Date.parse(process.argv[3] ?? '') : 0;
/** What is longer than this is named by its digest, unless the whole of it is wanted. */
const LONG = process.argv.includes('whole') ? Infinity : 500;

if (!['verify', 'rebuild', 'stood'].includes(wish) || Number.isNaN(day)) {
  console.error(
    'Say “verify”, “rebuild”, or “stood” and a moment, such as 2027-03-01 or 2027-03-01T14:00Z; “whole” after it prints also what is long.',
  );
  process.exit(2);
}
try {
  const app = await buildApp({ ...readConfig({ ...process.env, LONG_GATE_LOG: 'warn' }, ''), demo: false });
  const right = wish === 'stood' ? await printStood(app) : await check(app, wish === 'rebuild');
  await app.close();
  process.exit(right ? 0 : 1);
} catch (error) {
  if (!(error instanceof FolderProblem || error instanceof DatabaseProblem)) throw error;
  console.error(error.message);
  process.exit(1);
}

async function printStood(app: App): Promise<true> {
  const { db } = app.platform;
  for (const id of await app.businesses.ids(db)) {
    console.log((await app.businesses.row(db, id)).legal_name);
    for (const s of await stoodAt(db, id, day)) {
      const value = s.value ?? 'none';
      const said =
        value.length <= LONG
          ? value
          : `${value.length} characters, SHA-256 ${createHash('sha256').update(value).digest('hex')}`;
      console.log(`  ${s.objectKind} ${s.objectId}: ${s.fact} = ${said} (from ${new Date(s.fromAt).toISOString()})`);
    }
  }
  return true;
}

/** @returns whether everything is as it should be. */
async function check(app: App, mend: boolean): Promise<boolean> {
  const { db, heads } = app.platform;
  let right = true;
  for (const id of await app.businesses.ids(db)) {
    const { legal_name } = await app.businesses.row(db, id);
    const { verdict, ...state } = await app.ledger.rebuild(id, mend);
    if (verdict.ok)
      console.log(`${legal_name}: ${verdict.count} events follow one another unbroken, head ${verdict.head || 'none'}`);
    else {
      right = false;
      console.log(`${legal_name}: BROKEN at event ${verdict.brokenAt}. ${verdict.message}`);
    }
    console.log(
      state.ok
        ? '  the state of now matched'
        : `  ${state.differing} numbers showed another state${mend ? '; rebuilt' : '; run “rebuild” to mend it'}`,
    );
    if (state.keptStrict > 0)
      console.log(
        `  ${state.keptStrict} of them kept as strict as they were: the ledger is not whole, and nobody who was stopped becomes open`,
      );
    if (!state.ok && !mend) right = false;
  }
  const trail = await verifyTrail(db, (await heads.of(AUDIT_CHAIN)).heads);
  if (trail.ok)
    console.log(
      `audit trail: ${trail.count} entries follow one another unbroken${trail.unchained > 0 ? `, ${trail.unchained} are from before it had a chain` : ''}`,
    );
  else console.log(`audit trail: BROKEN. ${trail.message}`);
  return right && trail.ok;
}
