import { RELATIONSHIP_KINDS, type RelationshipKind } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import type { z } from 'zod';
import { big, json, key, maybe, oneOf, refers, table, text, whole } from '../../../platform/table.js';
import { RefusedLines } from '../refused-lines.js';

/** A purchase or an inquiry by which a number's owner is excepted from registries for a time. */
export class RelationshipModel extends Model<
  InferAttributes<RelationshipModel>,
  InferCreationAttributes<RelationshipModel>
> {
  declare id: string;
  declare businessId: string;
  declare e164: string;
  declare kind: RelationshipKind;
  /** `YYYY-MM-DD`, where the business is. */
  declare happenedOn: string;
  /** What it was about, as a ticket’s number; may be empty. */
  declare reference: string;
  declare endsAt: number;
  /** When its owner left, or the number was found to be somebody else’s, after it; null where neither was. */
  declare brokenAt: CreationOptional<number | null>;
  /** The file that said it; empty where a person recorded it. */
  declare fileId: CreationOptional<string>;
  declare recordedBy: string;
  declare recordedAt: number;
  declare withdrawnAt: CreationOptional<number | null>;
  declare withdrawnBy: CreationOptional<string>;
  declare withdrawnWhy: CreationOptional<string>;
}
export const relationshipTable = table(RelationshipModel, 'consent_relationship', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  e164: text(),
  kind: oneOf([...RELATIONSHIP_KINDS]),
  happenedOn: text(),
  reference: text(),
  endsAt: big(),
  brokenAt: maybe(big()),
  fileId: text(''),
  recordedBy: text(),
  recordedAt: big(),
  withdrawnAt: maybe(big()),
  withdrawnBy: text(''),
  withdrawnWhy: text(''),
});

/** A file of purchases and inquiries, and how far it was read. */
export class RelationshipFileModel extends Model<
  InferAttributes<RelationshipFileModel>,
  InferCreationAttributes<RelationshipFileModel>
> {
  declare id: string;
  declare businessId: string;
  declare name: string;
  declare parts: CreationOptional<number>;
  declare read: CreationOptional<number>;
  declare taken: CreationOptional<number>;
  /** Lines that say what was on record already. */
  declare known: CreationOptional<number>;
  declare refused: CreationOptional<number>;
  declare refusals: z.output<typeof RefusedLines>;
  declare broughtBy: string;
  declare broughtAt: number;
}
export const relationshipFileTable = table(RelationshipFileModel, 'relationship_file', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  name: text(),
  parts: whole(0),
  read: whole(0),
  taken: whole(0),
  known: whole(0),
  refused: whole(0),
  refusals: json('refusals', RefusedLines),
  broughtBy: text(),
  broughtAt: big(),
});
