import type { HandledAs } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, maybe, text, whole, table } from '../../platform/table.js';

export class ThreadModel extends Model<InferAttributes<ThreadModel>, InferCreationAttributes<ThreadModel>> {
  declare businessId: string;
  declare e164: string;
  declare numberId: string;
  declare lastAt: number;
  declare lastText: string;
  declare unread: CreationOptional<number>;
  declare waitsUntil: CreationOptional<number | null>;
  declare handled: CreationOptional<HandledAs>;
}
export const threadTable = table(ThreadModel, 'thread', {
  businessId: key(text()),
  e164: key(text()),
  numberId: text(),
  lastAt: big(),
  lastText: text(),
  unread: whole(0),
  waitsUntil: maybe(big()),
  handled: text(''),
});

/** How many conversations of a business stand so, whatever the time is: kept by the database itself. */
export class ThreadCountModel extends Model<
  InferAttributes<ThreadCountModel>,
  InferCreationAttributes<ThreadCountModel>
> {
  declare businessId: string;
  /** `open` for those that wait for an answer, also too late. */
  declare standing: 'open' | 'answered' | 'by itself';
  declare n: number;
}
export const threadCountTable = table(ThreadCountModel, 'thread_count', {
  businessId: key(text()),
  standing: key(text()),
  n: whole(),
});
