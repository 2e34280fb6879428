import { WhomShape } from '@long-gate/contracts';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import type { z } from 'zod';
import type { LetterEnd } from '../letters/letters-on-their-way.js';
import { big, json, key, maybe, once, refers, table, text, whole } from '../../../platform/table.js';

/** A letter that invites people to texts, kept to be sent again. */
export class OptInInvitationModel extends Model<
  InferAttributes<OptInInvitationModel>,
  InferCreationAttributes<OptInInvitationModel>
> {
  declare id: string;
  declare businessId: string;
  declare title: string;
  declare pageId: string;
  declare subject: string;
  declare text: string;
  declare againDays: number;
  /** Who is invited by itself; null for nobody. */
  declare standing: CreationOptional<z.output<typeof WhomShape> | null>;
  declare createdBy: string;
  declare createdAt: number;
  declare lastSentAt: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
}
export const optInInvitationTable = table(OptInInvitationModel, 'optin_invitation', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  title: text(),
  pageId: text(),
  subject: text(),
  text: text(),
  againDays: whole(),
  standing: maybe(json('standing', WhomShape)),
  createdBy: text(),
  createdAt: big(),
  lastSentAt: maybe(big()),
  version: whole(1),
});

/** One person's link to the page on which they say which texts they want. */
export class PersonalLinkModel extends Model<
  InferAttributes<PersonalLinkModel>,
  InferCreationAttributes<PersonalLinkModel>
> {
  declare id: string;
  declare businessId: string;
  declare invitationId: string;
  declare contactId: string;
  declare pageId: string;
  /** SHA-256 of what stands in the link; the link itself is kept nowhere. */
  declare tokenHash: string;
  declare email: string;
  /** The number on file when it was sent. */
  declare e164: string;
  /** Another number, given on the page. */
  declare newE164: CreationOptional<string | null>;
  declare sentBy: string;
  declare sentAt: number;
  declare expiresAt: number;
  declare openedAt: CreationOptional<number | null>;
  declare answeredAt: CreationOptional<number | null>;
  /** What was chosen last. */
  declare chose: CreationOptional<'' | 'awaits YES' | 'kept' | 'left'>;
  declare joinedAt: CreationOptional<number | null>;
  /** Why the letter did not leave, did not arrive, or was not wanted. */
  declare failed: CreationOptional<'' | LetterEnd>;
  declare why: CreationOptional<string>;
  declare withdrawnAt: CreationOptional<number | null>;
  /** The digest of the letter's words, and the name it was addressed to; empty of letters sent before they were kept. */
  declare words: CreationOptional<string>;
  declare firstName: CreationOptional<string>;
  declare lastName: CreationOptional<string>;
}
export const personalLinkTable = table(PersonalLinkModel, 'personal_link', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  invitationId: refers(text(), 'optin_invitation'),
  contactId: text(),
  pageId: text(),
  tokenHash: once(text()),
  email: text(),
  e164: text(),
  newE164: maybe(text()),
  sentBy: text(),
  sentAt: big(),
  expiresAt: big(),
  openedAt: maybe(big()),
  answeredAt: maybe(big()),
  chose: text(''),
  joinedAt: maybe(big()),
  failed: text(''),
  why: text(''),
  withdrawnAt: maybe(big()),
  words: text(''),
  firstName: text(''),
  lastName: text(''),
});
