import type { QueryInterface } from 'sequelize';
import { createTable, json, key, refers, text } from '../platform/table.js';
import { z } from 'zod';

/** How each person has the tables of the interface: columns, widths and order. */
export async function keptTables(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'kept_table', {
    userId: refers(key(text()), 'user'),
    name: key(text()),
    kept: json('kept', z.unknown()),
  });
}
