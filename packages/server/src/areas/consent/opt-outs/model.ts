import { OPT_OUT_ORIGINS, type OptOutOrigin } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import type { z } from 'zod';
import { big, flag, json, key, oneOf, refers, table, text, whole } from '../../../platform/table.js';
import { RefusedLines } from '../refused-lines.js';

/** A list of people who had opted out before: at a carrier, at an earlier provider, or as the business's records say. */
export class OptOutListModel extends Model<InferAttributes<OptOutListModel>, InferCreationAttributes<OptOutListModel>> {
  declare id: string;
  declare businessId: string;
  declare origin: OptOutOrigin;
  declare source: string;
  /** The day it is of, `YYYY-MM-DD`: whoever is on it had opted out by then. */
  declare datedOn: string;
  declare documentId: string;
  declare name: string;
  declare size: number;
  declare sha256: string;
  declare lines: number;
  declare refused: number;
  declare refusals: z.output<typeof RefusedLines>;
  /** Whose no was recorded. */
  declare people: CreationOptional<number>;
  /** Of these, who agreed after their no, and stays in. */
  declare agreedSince: CreationOptional<number>;
  /** Who was out of everything already. */
  declare already: CreationOptional<number>;
  declare done: CreationOptional<boolean>;
  declare broughtBy: string;
  declare broughtAt: number;
}
export const optOutListTable = table(OptOutListModel, 'opt_out_list', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  origin: oneOf([...OPT_OUT_ORIGINS]),
  source: text(),
  datedOn: text(),
  documentId: text(),
  name: text(),
  size: whole(),
  sha256: text(),
  lines: whole(),
  refused: whole(),
  refusals: json('refusals', RefusedLines),
  people: whole(0),
  agreedSince: whole(0),
  already: whole(0),
  done: flag(false),
  broughtBy: text(),
  broughtAt: big(),
});
