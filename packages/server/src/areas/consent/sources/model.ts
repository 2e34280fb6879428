import { Model, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { key, table, text, whole } from '../../../platform/table.js';

/** What became of who was asked by one way in one week: kept with each event, as a thing to compare ways by. */
export class ConsentSourceModel extends Model<
  InferAttributes<ConsentSourceModel>,
  InferCreationAttributes<ConsentSourceModel>
> {
  declare businessId: string;
  declare purpose: string;
  declare way: string;
  /** Which page, programme, form or list; empty where the way says all. */
  declare via: string;
  /** The week in which they were asked; see `weekOf` beside the pages. */
  declare week: number;
  declare asked: number;
  /** Of whom it came to count. */
  declare agreed: number;
  /** Who left by their own word within a month, and who later. */
  declare soon: number;
  declare later: number;
  /** Whose consent ended otherwise: expired, voided, disputed. */
  declare ended: number;
}
export const consentSourceTable = table(ConsentSourceModel, 'consent_source', {
  businessId: key(text()),
  purpose: key(text()),
  way: key(text()),
  via: key(text()),
  week: key(whole()),
  asked: whole(),
  agreed: whole(),
  soon: whole(),
  later: whole(),
  ended: whole(),
});

/** How often people refused, by how they said it, what they had come by and how long they had been in. */
export class ConsentRefusalModel extends Model<
  InferAttributes<ConsentRefusalModel>,
  InferCreationAttributes<ConsentRefusalModel>
> {
  declare businessId: string;
  declare purpose: string;
  declare how: string;
  declare came: string;
  declare stayed: string;
  declare week: number;
  declare n: number;
}
export const consentRefusalTable = table(ConsentRefusalModel, 'consent_refusal', {
  businessId: key(text()),
  purpose: key(text()),
  how: key(text()),
  came: key(text()),
  stayed: key(text()),
  week: key(whole()),
  n: whole(),
});
