import { buildApp } from './app.js';
import { readConfig } from './config.js';
import { isAddress } from './platform/db.js';
import { DatabaseProblem, takeDatabase } from './platform/dialects/postgres.js';
import { FolderProblem, prepareFolder, takeFolder } from './platform/folder.js';

/**
 * Holds everything that is counted as it changes (texts by day and number, contacts by filter, …) against a count of
 * the rows themselves, or counts anew what differs. Exits 1 where something differs and was not counted anew.
 */
const wish = process.argv[2] ?? 'verify';
if (!['verify', 'rebuild'].includes(wish)) {
  console.error('Say “verify” or “rebuild”.');
  process.exit(2);
}
const mend = wish === 'rebuild';
try {
  const config = readConfig({ ...process.env, LONG_GATE_LOG: 'warn' }, '');
  await prepareFolder(config.dataDir);
  // What a server counts meanwhile would be written over.
  if (mend) await takeFolder(config.dataDir);
  if (mend && isAddress(config.database)) await takeDatabase(config.database, () => process.exit(1));
  const app = await buildApp({ ...config, demo: false });
  let wrong = 0;
  for await (const { what, differing } of app.platform.keptCounts.check(app.platform.db, mend)) {
    wrong += differing;
    const n = `${differing.toLocaleString('en-US')} of the counts ${differing === 1 ? 'differs' : 'differ'} from the rows`;
    console.log(
      `${what}: ${differing === 0 ? 'as the rows say' : `${n}${mend ? '; counted anew' : '; run “rebuild” to count anew'}`}`,
    );
  }
  await app.close();
  process.exit(wrong > 0 && !mend ? 1 : 0);
} catch (error) {
  if (!(error instanceof FolderProblem || error instanceof DatabaseProblem)) throw error;
  console.error(error.message);
  process.exit(1);
}
