import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, flag, json, key, maybe, text, table } from '../../../platform/table.js';
import type { z } from 'zod';
import { FrozenLetter, type LinkEnd } from './letter-shape.js';

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
  /** The letter as it stood when the link was made: what the holder sees and signs. */
  declare letter: CreationOptional<z.output<typeof FrozenLetter> | null>;
  declare endedWhy: CreationOptional<LinkEnd>;
}
export const signingLinkTable = table(SigningLinkModel, 'signing_link', {
  tokenHash: key(text()),
  objectKind: text(),
  objectId: text(),
  expiresAt: big(),
  usedAt: maybe(big()),
  ended: flag(false),
  letter: maybe(json('letter', FrozenLetter)),
  endedWhy: text(''),
});
