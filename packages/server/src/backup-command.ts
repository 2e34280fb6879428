import path from 'node:path';
import { readConfig } from './config.js';
import { backUp, BackupProblem } from './platform/backup.js';
import { isAddress } from './platform/db.js';
import { KEY_FILE } from './platform/vault.js';

/** `npm run backup -- <folder> --key <folder apart>`. */
const [to, flag, keyTo] = process.argv.slice(2);
if (!to || flag !== '--key' || !keyTo) {
  console.error('Name two folders: npm run backup -- <folder for the copy> --key <folder for the key, kept elsewhere>');
  process.exit(2);
}
process.umask(0o077);
try {
  const config = readConfig(process.env, '');
  if (isAddress(config.database))
    throw new BackupProblem(
      `The data is in PostgreSQL: copy it with pg_dump, and beside it ${config.headsDir}. Keep ${path.join(config.dataDir, KEY_FILE)} apart from both.`,
    );
  for (const file of await backUp({ dataDir: config.dataDir, headsDir: config.headsDir, to, keyTo })) console.log(file);
  if (config.key) console.log('The key comes from LONG_GATE_KEY: keep it where you keep such things.');
} catch (error) {
  if (!(error instanceof BackupProblem)) throw error;
  console.error(error.message);
  process.exit(1);
}
