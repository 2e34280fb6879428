import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import type { LetterEnd } from '../letters/letters-on-their-way.js';
import { big, key, maybe, once, oneOf, refers, table, text } from '../../../platform/table.js';

/** Somebody who was asked by e-mail for a number that texts reach, and what came of it. */
export class NumberRequestModel extends Model<
  InferAttributes<NumberRequestModel>,
  InferCreationAttributes<NumberRequestModel>
> {
  declare id: string;
  declare businessId: string;
  declare contactId: string;
  declare pageId: string;
  declare tokenHash: string;
  declare email: string;
  declare oldE164: string;
  declare newE164: CreationOptional<string | null>;
  declare state: CreationOptional<'sent' | 'answered' | 'confirmed' | 'lapsed'>;
  /** Why the number they gave last was not taken; empty where it was, or none was given. */
  declare refused: CreationOptional<string>;
  /** How the letter ended that its person never had, or did not want, and why. */
  declare failed: CreationOptional<'' | LetterEnd>;
  declare why: CreationOptional<string>;
  declare askedBy: string;
  declare askedAt: number;
  declare expiresAt: number;
  declare answeredAt: CreationOptional<number | null>;
  declare confirmedAt: CreationOptional<number | null>;
  /** The digest of the letter's words, and the name it was addressed to; empty of letters sent before they were kept. */
  declare words: CreationOptional<string>;
  declare firstName: CreationOptional<string>;
  declare lastName: CreationOptional<string>;
}
export const numberRequestTable = table(NumberRequestModel, 'number_request', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  contactId: text(),
  pageId: text(),
  tokenHash: once(text()),
  email: text(),
  oldE164: text(),
  newE164: maybe(text()),
  state: oneOf(['sent', 'answered', 'confirmed', 'lapsed'], 'sent'),
  refused: text(''),
  failed: text(''),
  why: text(''),
  askedBy: text(),
  askedAt: big(),
  expiresAt: big(),
  answeredAt: maybe(big()),
  confirmedAt: maybe(big()),
  words: text(''),
  firstName: text(''),
  lastName: text(''),
});
