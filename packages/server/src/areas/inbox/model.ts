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
