import type { KeptTable } from '@long-gate/contracts';
import type { Reader, Writer } from '../../../platform/db.js';
import { keptTableTable } from './model.js';

/** How a person has each table they changed, by its name. */
export async function tablesOf(r: Reader, userId: string): Promise<Record<string, KeptTable>> {
  const rows = await r.of(keptTableTable).findAll({ where: { userId } });
  return Object.fromEntries(rows.map((row) => [row.name, row.kept]));
}

export async function keepTable(w: Writer, userId: string, name: string, kept: KeptTable): Promise<void> {
  await w.of(keptTableTable).upsert({ userId, name, kept });
}
