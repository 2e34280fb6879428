import { copyFile, cp, mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { QueryTypes, Sequelize } from 'sequelize';
import { KEY_FILE } from './vault.js';

/** A back-up cannot be made so; the message says why. */
export class BackupProblem extends Error {}

/**
 * Makes a consistent copy of the database, also while the server runs, with the signed heads beside it and the key in a
 * folder apart: whoever has only the copy reads no secret.
 * @param to a folder that is not there yet, or empty. @param keyTo another one.
 */
export async function backUp(o: { dataDir: string; headsDir: string; to: string; keyTo: string }): Promise<string[]> {
  const [to, keyTo] = [path.resolve(o.to), path.resolve(o.keyTo)];
  if (keyTo === to || keyTo.startsWith(`${to}${path.sep}`) || to.startsWith(`${keyTo}${path.sep}`))
    throw new BackupProblem('The key has to lie apart from the copy: name two folders, neither within the other.');
  const source = path.join(o.dataDir, 'long-gate.sqlite');
  if (!(await exists(source))) throw new BackupProblem(`There is no database in ${o.dataDir}.`);
  for (const dir of [to, keyTo]) {
    await mkdir(dir, { recursive: true, mode: 0o700 });
    if ((await readdir(dir)).length > 0) throw new BackupProblem(`${dir} is not empty; name a new folder.`);
  }
  const copy = path.join(to, 'long-gate.sqlite');
  const sql = new Sequelize({ dialect: 'sqlite', storage: source, logging: false });
  try {
    // Read in one transaction and written whole; under its name only once it was found sound.
    await sql.query('PRAGMA busy_timeout=10000');
    await sql.query('VACUUM INTO $1', { bind: [`${copy}.part`] });
  } finally {
    await sql.close();
  }
  await check(`${copy}.part`);
  await rename(`${copy}.part`, copy);
  await rm(`${copy}.part-wal`, { force: true });
  await rm(`${copy}.part-shm`, { force: true });
  if (await exists(o.headsDir)) await cp(o.headsDir, path.join(to, 'heads'), { recursive: true });
  const key = path.join(o.dataDir, KEY_FILE);
  const made = [copy];
  if (await exists(key)) {
    await copyFile(key, path.join(keyTo, KEY_FILE));
    made.push(path.join(keyTo, KEY_FILE));
  }
  return made;
}

async function check(file: string): Promise<void> {
  const sql = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  try {
    const [row] = await sql.query<{ integrity_check: string }>('PRAGMA integrity_check', { type: QueryTypes.SELECT });
    if (row?.integrity_check !== 'ok') throw new BackupProblem('The copy is not sound; the database may be damaged.');
  } finally {
    await sql.close();
  }
}

const exists = (file: string): Promise<boolean> =>
  stat(file).then(
    () => true,
    () => false,
  );
