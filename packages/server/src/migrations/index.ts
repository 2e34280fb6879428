import type { QueryInterface } from 'sequelize';
import { first } from './first/index.js';

/** One step of the database's shape. Append only: what was released is never changed. */
export interface Migration {
  name: string;
  up: (qi: QueryInterface) => Promise<void>;
}

export const MIGRATIONS: readonly Migration[] = [{ name: '0001-tables', up: first }];
