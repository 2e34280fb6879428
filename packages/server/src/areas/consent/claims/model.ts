import { Model, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, table, text, whole } from '../../../platform/table.js';

/** What an intake claimed, and how much of it nothing proves yet: kept with each event of whom it claims something. */
export class ClaimLotModel extends Model<InferAttributes<ClaimLotModel>, InferCreationAttributes<ClaimLotModel>> {
  declare businessId: string;
  /** Empty for claims that no intake is known of. */
  declare intakeId: string;
  declare people: number;
  /** Of whom something is unproven, and what. */
  declare open: number;
  declare informational: number;
  declare promotional: number;
  /** Of whom nothing is unproven and something agreed to. */
  declare agreed: number;
  /** Where its claims begin and end in the chain. */
  declare firstSeq: number;
  declare lastSeq: number;
}
export const claimLotTable = table(ClaimLotModel, 'claim_lot', {
  businessId: key(text()),
  intakeId: key(text()),
  people: whole(),
  open: whole(),
  informational: whole(),
  promotional: whole(),
  agreed: whole(),
  firstSeq: big(),
  lastSeq: big(),
});
