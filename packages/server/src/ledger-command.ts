import { buildApp } from './app.js';
import { readConfig } from './config.js';
import { AUDIT_CHAIN, verifyTrail } from './platform/audit.js';
import { stoodAt } from './platform/stood-store.js';

/**
 * Verifies every ledger, or rebuilds the state of now from it and says whether it matched (exits 1 when broken); or
 * prints what the gate read of each business, its numbers and filings at a moment.
 */
const wish = process.argv[2] ?? 'verify';
const day = wish === 'stood' ? Date.parse(process.argv[3] ?? '') : 0;
if (!['verify', 'rebuild', 'stood'].includes(wish) || Number.isNaN(day)) {
  console.error('Say “verify”, “rebuild”, or “stood” and a moment, such as 2027-03-01 or 2027-03-01T14:00Z.');
  process.exit(2);
}
const app = await buildApp({ ...readConfig({ ...process.env, LONG_GATE_LOG: 'warn' }, ''), demo: false });
let broken = false;
for (const id of await app.businesses.ids(app.platform.db)) {
  const { legal_name } = await app.businesses.row(app.platform.db, id);
  if (wish === 'stood') {
    console.log(legal_name);
    for (const s of await stoodAt(app.platform.db, id, day))
      console.log(
        `  ${s.objectKind} ${s.objectId}: ${s.fact} = ${s.value ?? 'none'} (from ${new Date(s.fromAt).toISOString()})`,
      );
    continue;
  }
  const { verdict, ...state } = await app.ledger.rebuild(id, wish === 'rebuild');
  if (verdict.ok)
    console.log(`${legal_name}: ${verdict.count} events follow one another unbroken, head ${verdict.head || 'none'}`);
  else {
    broken = true;
    console.log(`${legal_name}: BROKEN at event ${verdict.brokenAt}. ${verdict.message}`);
  }
  console.log(
    state.ok
      ? '  the state of now matched'
      : `  ${state.differing} numbers showed another state${wish === 'rebuild' ? '; rebuilt' : '; run “rebuild” to mend it'}`,
  );
  if (state.keptStrict > 0)
    console.log(
      `  ${state.keptStrict} of them kept as strict as they were: the ledger is not whole, and nobody who was stopped becomes open`,
    );
  if (!state.ok && wish === 'verify') broken = true;
}
if (wish === 'stood') {
  await app.close();
  process.exit(0);
}
const trail = await verifyTrail(app.platform.db, (await app.platform.heads.of(AUDIT_CHAIN)).heads);
if (trail.ok)
  console.log(
    `audit trail: ${trail.count} entries follow one another unbroken${trail.unchained > 0 ? `, ${trail.unchained} are from before it had a chain` : ''}`,
  );
else {
  broken = true;
  console.log(`audit trail: BROKEN. ${trail.message}`);
}
await app.close();
process.exit(broken ? 1 : 0);
