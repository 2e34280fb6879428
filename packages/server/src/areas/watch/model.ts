import { Model, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, text, table } from '../../platform/table.js';

/** Who left and which number of ours had written to them last. */
export class OptOutModel extends Model<InferAttributes<OptOutModel>, InferCreationAttributes<OptOutModel>> {
  declare businessId: string;
  declare e164: string;
  declare happenedAt: number;
  declare numberId: string;
}
export const optOutTable = table(OptOutModel, 'opt_out', {
  businessId: key(text()),
  e164: key(text()),
  happenedAt: key(big()),
  numberId: text(),
});
