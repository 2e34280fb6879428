import { Model, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, table, text } from '../../../platform/table.js';

/** The words of letters that were sent, once for all who got them; fields and the link stand in them as they were written. */
export class LetterWordsModel extends Model<
  InferAttributes<LetterWordsModel>,
  InferCreationAttributes<LetterWordsModel>
> {
  declare businessId: string;
  /** SHA-256 of subject, a line feed and text. */
  declare sha256: string;
  declare subject: string;
  declare text: string;
  /** When they were first sent. */
  declare sentAt: number;
}
export const letterWordsTable = table(LetterWordsModel, 'letter_words', {
  businessId: key(text()),
  sha256: key(text()),
  subject: text(),
  text: text(),
  sentAt: big(),
});

/** An address that gets no letter to many of a business any more. */
export class MailRefusalModel extends Model<
  InferAttributes<MailRefusalModel>,
  InferCreationAttributes<MailRefusalModel>
> {
  declare businessId: string;
  /** SHA-256 of the address in small letters: the refusal outlives the person's erasure, the address does not. */
  declare emailHash: string;
  declare why: 'came back' | 'complained' | 'unsubscribed';
  declare at: number;
}
export const mailRefusalTable = table(MailRefusalModel, 'mail_refusal', {
  businessId: key(text()),
  emailHash: key(text()),
  why: text(),
  at: big(),
});
