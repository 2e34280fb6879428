import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, flag, key, maybe, text, table } from '../../../platform/table.js';

export class SigningLinkModel extends Model<
  InferAttributes<SigningLinkModel>,
  InferCreationAttributes<SigningLinkModel>
> {
  declare tokenHash: string;
  declare objectKind: string;
  declare objectId: string;
  declare expiresAt: number;
  declare usedAt: CreationOptional<number | null>;
  declare ended: CreationOptional<boolean>;
}
export const signingLinkTable = table(SigningLinkModel, 'signing_link', {
  tokenHash: key(text()),
  objectKind: text(),
  objectId: text(),
  expiresAt: big(),
  usedAt: maybe(big()),
  ended: flag(false),
});
