import type { Reader, Writer } from './db.js';
import { settingTable } from './model.js';

/**
 * One of the few values the application keeps of itself; undefined where it was never kept. Prepared once, since where
 * one has read to is asked before anything else that is done.
 */
export async function setting(r: Reader, name: string): Promise<string | undefined> {
  return (await r.one<{ value: string }>('SELECT value FROM setting WHERE name = $1', [name]))?.value;
}

export async function keepSetting(w: Writer, name: string, value: string): Promise<void> {
  await w.of(settingTable).upsert({ name, value });
}

/** Keeps a value that is not kept yet. */
export async function keepFirst(w: Writer, name: string, value: string): Promise<void> {
  await w.of(settingTable).bulkCreate([{ name, value }], { ignoreDuplicates: true });
}
