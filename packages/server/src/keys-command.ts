import { readConfig } from './config.js';
import { Db, isAddress } from './platform/db.js';
import { DatabaseProblem, takeDatabase } from './platform/dialects/postgres.js';
import { FolderProblem, prepareFolder, takeFolder } from './platform/folder.js';
import { migrate } from './platform/migrate.js';
import { sealAnew } from './platform/sealed-store.js';
import { Vault } from './platform/vault.js';

/** `npm run keys -- renew`: seals everything under a new key, with the server off; after a crash, once more goes on. */
if (process.argv[2] !== 'renew') {
  console.error('Say “renew”.');
  process.exit(2);
}
try {
  const config = readConfig(process.env, '');
  await prepareFolder(config.dataDir);
  await takeFolder(config.dataDir);
  if (isAddress(config.database)) await takeDatabase(config.database, () => process.exit(1));
  const db = await Db.open(config.database);
  await migrate(db);
  let vault = await Vault.open(config.dataDir, config);
  if (!vault.fromEnvironment && !vault.renewing) vault = await vault.renewed(config.dataDir);
  const n = await sealAnew(db, vault, () => undefined);
  await db.scrub();
  if (!vault.fromEnvironment) await vault.forgetOld(config.dataDir);
  await db.close();
  console.log(`${n} values are sealed under the present key.`);
  console.log(
    vault.fromEnvironment
      ? 'LONG_GATE_OLD_KEYS is not needed any more.'
      : 'The old key is gone from the key file. Copies made before need it; keep it with them.',
  );
  process.exit(0);
} catch (error) {
  if (!(error instanceof FolderProblem || error instanceof DatabaseProblem)) throw error;
  console.error(error.message);
  process.exit(1);
}
