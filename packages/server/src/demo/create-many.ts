import type { CreationAttributes, Model } from 'sequelize';
import type { Writer } from '../platform/db.js';
import type { Table } from '../platform/table.js';

/** So many rows go into one statement. */
const LOT = 500;

/** Writes many rows of one table; defaults are filled in as a single one's are. */
export async function createMany<M extends Model>(
  w: Writer,
  table: Table<M>,
  rows: readonly CreationAttributes<M>[],
): Promise<void> {
  for (let i = 0; i < rows.length; i += LOT) await w.of(table).bulkCreate(rows.slice(i, i + LOT));
}
