import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, maybe, once, refers, table, text, whole } from '../../../platform/table.js';

/** Where a business's links in texts stand and lead. A business without a row has none. */
export class TextLinkPolicyModel extends Model<
  InferAttributes<TextLinkPolicyModel>,
  InferCreationAttributes<TextLinkPolicyModel>
> {
  declare businessId: string;
  declare domain: string;
  /** Domains it had before, separated by spaces: a text that was written with one leaves with it. */
  declare earlier: CreationOptional<string>;
  /** The opt-in page whose kinds of text are offered behind them. */
  declare pageId: string;
  declare version: CreationOptional<number>;
}
export const textLinkPolicyTable = table(TextLinkPolicyModel, 'text_link_policy', {
  businessId: key(refers(text(), 'business')),
  domain: text(),
  earlier: text(''),
  pageId: text(),
  version: whole(1),
});

/** The link in one text to the page of the number it went to. */
export class TextLinkModel extends Model<InferAttributes<TextLinkModel>, InferCreationAttributes<TextLinkModel>> {
  declare messageId: string;
  declare businessId: string;
  /** Empty for a text of no dispatch. */
  declare dispatchId: string;
  declare pageId: string;
  /** SHA-256 of the key that left in the text; the key itself is kept nowhere. */
  declare keyHash: string;
  declare e164: string;
  /** When the text left last. */
  declare sentAt: number;
  declare expiresAt: number;
  declare openedAt: CreationOptional<number | null>;
  declare answeredAt: CreationOptional<number | null>;
  /** What was chosen last. */
  declare chose: CreationOptional<'' | 'kept' | 'joined' | 'awaits YES' | 'left'>;
  declare withdrawnAt: CreationOptional<number | null>;
}
export const textLinkTable = table(TextLinkModel, 'text_link', {
  messageId: key(text()),
  businessId: refers(text(), 'business'),
  dispatchId: text(),
  pageId: text(),
  keyHash: once(text()),
  e164: text(),
  sentAt: big(),
  expiresAt: big(),
  openedAt: maybe(big()),
  answeredAt: maybe(big()),
  chose: text(''),
  withdrawnAt: maybe(big()),
});

/** What came of the links of one dispatch, counted as it happens. */
export class TextLinkCountModel extends Model<
  InferAttributes<TextLinkCountModel>,
  InferCreationAttributes<TextLinkCountModel>
> {
  declare businessId: string;
  declare dispatchId: string;
  declare lastAt: CreationOptional<number>;
  declare sent: CreationOptional<number>;
  declare opened: CreationOptional<number>;
  declare kept: CreationOptional<number>;
  declare joined: CreationOptional<number>;
  declare awaited: CreationOptional<number>;
  declare ended: CreationOptional<number>;
}
export const textLinkCountTable = table(TextLinkCountModel, 'text_link_count', {
  businessId: refers(key(text()), 'business'),
  dispatchId: key(text()),
  lastAt: big(0),
  sent: whole(0),
  opened: whole(0),
  kept: whole(0),
  joined: whole(0),
  awaited: whole(0),
  ended: whole(0),
});
