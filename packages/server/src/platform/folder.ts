import { chmod, mkdir, readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import sqlite3 from 'sqlite3';
import { KEY_FILE } from './vault.js';

/** The name of SQLite's file in the data folder. */
export const DATABASE = 'long-gate.sqlite';
/** What a data folder holds. */
const OURS = /^(\.|lost\+found$|long-gate\.sqlite|outside\.sqlite|in-use\.sqlite|secret\.key|heads$|mail$|evidence$)/;

/** The folder cannot be taken as a data folder; the message says why and what to do, in one sentence. */
export class FolderProblem extends Error {}

/**
 * Makes the data folder where it is missing, and sees that folder and files are their owner's only: what is made from
 * now on (umask), and what stands there already.
 * @throws FolderProblem for a file of that name, a folder that cannot be written, or one that holds other things.
 */
export async function prepareFolder(dir: string): Promise<void> {
  process.umask(0o077);
  try {
    await mkdir(dir, { recursive: true, mode: 0o700 });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST' || code === 'ENOTDIR')
      throw new FolderProblem(`The data folder ${dir} is a file, or lies in one. Set LONG_GATE_DATA to a folder.`);
    throw cannotWrite(dir);
  }
  const names = await readdir(dir).catch(() => {
    throw cannotWrite(dir);
  });
  // Where no database of ours lies yet and other things do, it is somebody else's folder.
  const other = names.includes(DATABASE) || names.includes(KEY_FILE) ? undefined : names.find((n) => !OURS.test(n));
  if (other !== undefined)
    throw new FolderProblem(
      `The data folder ${dir} holds other things (“${other}”). Set LONG_GATE_DATA to a folder of Long Gate’s own.`,
    );
  try {
    await ownersOnly(dir);
  } catch {
    throw cannotWrite(dir);
  }
}

const cannotWrite = (dir: string): FolderProblem =>
  new FolderProblem(`The data folder ${dir} cannot be written. Set LONG_GATE_DATA to a folder that can.`);

async function ownersOnly(dir: string, top = true): Promise<void> {
  await chmod(dir, 0o700);
  for (const name of await readdir(dir)) {
    // What somebody else put beside it is left as it is.
    if (top && !OURS.test(name)) continue;
    const full = path.join(dir, name);
    const s = await stat(full);
    if (s.isDirectory()) await ownersOnly(full, false);
    else await chmod(full, 0o600);
  }
}

/** Locks that are held: one that nothing refers to would be swept up, and the folder be free again. */
const held = new Set<sqlite3.Database>();

/**
 * Takes the data folder for this process alone; the operating system gives it back when the process ends, however it
 * does. @throws FolderProblem where another process has it.
 */
export async function takeFolder(dir: string): Promise<() => Promise<void>> {
  const lock = await new Promise<sqlite3.Database>((resolve, reject) => {
    const db = new sqlite3.Database(path.join(dir, 'in-use.sqlite'), (error) => (error ? reject(error) : resolve(db)));
  });
  await new Promise<void>((resolve, reject) => {
    lock.exec('PRAGMA locking_mode=EXCLUSIVE; BEGIN EXCLUSIVE; CREATE TABLE IF NOT EXISTS taken (x)', (error) => {
      if (!error) {
        resolve();
        return;
      }
      const taken = new FolderProblem(
        `Another Long Gate works on the data folder ${dir}. End it, or set LONG_GATE_DATA to another.`,
      );
      // Whoever hears it may end the process at once, and nothing of the driver may be under way then.
      lock.close(() => reject(taken));
    });
  });
  held.add(lock);
  return () =>
    new Promise((resolve) => {
      held.delete(lock);
      lock.close(() => resolve());
    });
}
