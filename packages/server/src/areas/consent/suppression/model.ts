import { SUPPRESSION_KINDS, type SuppressionKind } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import type { z } from 'zod';
import { big, json, key, maybe, oneOf, refers, table, text, whole } from '../../../platform/table.js';
import { RefusedLines } from '../refused-lines.js';

/** A list of numbers not to be texted: what it is, from where, of which day, and how far its next edition was read. */
export class SuppressionListModel extends Model<
  InferAttributes<SuppressionListModel>,
  InferCreationAttributes<SuppressionListModel>
> {
  declare id: string;
  declare businessId: string;
  declare name: string;
  declare kind: SuppressionKind;
  /** `going`: taken away, and its numbers are being let go. */
  declare state: CreationOptional<'reading' | 'stands' | 'going' | 'gone'>;
  declare source: string;
  /** The day its edition that stands is of, `YYYY-MM-DD`. */
  declare datedOn: string;
  /** The edition that stands; a newer one is read beside it. 0 before the first has been read to its end. */
  declare edition: CreationOptional<number>;
  /** The edition that is being read; 0 where none is. */
  declare reading: CreationOptional<number>;
  /** The last number that was given to an edition. */
  declare editions: CreationOptional<number>;
  /** Of the edition that is being read; empty where none is. */
  declare readingSource: CreationOptional<string>;
  declare readingDatedOn: CreationOptional<string>;
  /** So many parts of it have come. */
  declare parts: CreationOptional<number>;
  /** So many of its lines, and of them no numbers, the first of which are shown. */
  declare read: CreationOptional<number>;
  declare refused: CreationOptional<number>;
  declare refusals: z.output<typeof RefusedLines>;
  /** Numbers of the edition that stands. */
  declare numbers: CreationOptional<number>;
  declare addedBy: string;
  declare addedAt: number;
  declare broughtAt: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
}
export const suppressionListTable = table(
  SuppressionListModel,
  'suppression_list',
  {
    id: key(text()),
    businessId: refers(text(), 'business'),
    name: text(),
    kind: oneOf([...SUPPRESSION_KINDS]),
    state: oneOf(['reading', 'stands', 'going', 'gone'], 'reading'),
    source: text(),
    datedOn: text(),
    edition: whole(0),
    reading: whole(0),
    editions: whole(0),
    readingSource: text(''),
    readingDatedOn: text(''),
    parts: whole(0),
    read: whole(0),
    refused: whole(0),
    refusals: json('refusals', RefusedLines),
    numbers: whole(0),
    addedBy: text(),
    addedAt: big(),
    broughtAt: maybe(big()),
    version: whole(1),
  },
  { shown: { where: { state: ['reading', 'stands'] } } },
);

/** A number on a list. What is on one keeps off from the moment it is read; an older edition until the newer stands. */
export class SuppressionNumberModel extends Model<
  InferAttributes<SuppressionNumberModel>,
  InferCreationAttributes<SuppressionNumberModel>
> {
  declare businessId: string;
  declare e164: string;
  declare listId: string;
  declare edition: number;
}
export const suppressionNumberTable = table(SuppressionNumberModel, 'suppression_number', {
  businessId: key(text()),
  e164: key(text()),
  listId: key(text()),
  edition: key(whole()),
});
