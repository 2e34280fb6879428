import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { BrandBody, CampaignBody, ReasonShape } from '@long-gate/contracts';
import { z } from 'zod';
import { big, json, key, maybe, once, oneOf, refers, text, whole, table } from '../../platform/table.js';

export class BrandModel extends Model<InferAttributes<BrandModel>, InferCreationAttributes<BrandModel>> {
  declare id: string;
  declare businessId: string;
  declare body: z.infer<typeof BrandBody>;
  /** Sealed. */
  declare taxNumber: CreationOptional<string>;
  declare state: CreationOptional<'draft' | 'in review' | 'registered' | 'declined'>;
  declare score: CreationOptional<number | null>;
  declare attempt: CreationOptional<number>;
  declare submittedAt: CreationOptional<number | null>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<z.infer<typeof ReasonShape>[]>;
  declare lastSubmitted: CreationOptional<z.infer<typeof BrandBody> | null>;
  declare version: CreationOptional<number>;
}
export const brandTable = table(BrandModel, 'brand', {
  id: key(text()),
  businessId: once(refers(text(), 'business')),
  body: json('body', BrandBody),
  taxNumber: text(''),
  state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
  score: maybe(whole()),
  attempt: whole(0),
  submittedAt: maybe(big()),
  decidedAt: maybe(big()),
  reasons: json('reasons', z.array(ReasonShape), '[]'),
  lastSubmitted: maybe(json('lastSubmitted', BrandBody)),
  version: whole(1),
});

export class CampaignModel extends Model<InferAttributes<CampaignModel>, InferCreationAttributes<CampaignModel>> {
  declare id: string;
  declare businessId: string;
  declare name: string;
  declare body: z.infer<typeof CampaignBody>;
  declare state: CreationOptional<'draft' | 'in review' | 'registered' | 'declined'>;
  declare attempt: CreationOptional<number>;
  declare submittedAt: CreationOptional<number | null>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<z.infer<typeof ReasonShape>[]>;
  declare lastSubmitted: CreationOptional<z.infer<typeof CampaignBody> | null>;
  declare createdAt: number;
  declare version: CreationOptional<number>;
  declare nextFeeAt: CreationOptional<number | null>;
  declare unpaidSince: CreationOptional<number | null>;
}
export const campaignTable = table(CampaignModel, 'campaign', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  name: text(),
  body: json('body', CampaignBody),
  state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
  attempt: whole(0),
  submittedAt: maybe(big()),
  decidedAt: maybe(big()),
  reasons: json('reasons', z.array(ReasonShape), '[]'),
  lastSubmitted: maybe(json('lastSubmitted', CampaignBody)),
  createdAt: big(),
  version: whole(1),
  nextFeeAt: maybe(big()),
  unpaidSince: maybe(big()),
});

/** What was submitted of a campaign, each time, and what was decided of it. Nothing of it is changed afterwards. */
export class CampaignTryModel extends Model<
  InferAttributes<CampaignTryModel>,
  InferCreationAttributes<CampaignTryModel>
> {
  declare campaignId: string;
  declare attempt: number;
  declare body: z.infer<typeof CampaignBody>;
  declare submittedAt: number;
  declare state: CreationOptional<'in review' | 'registered' | 'declined'>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<z.infer<typeof ReasonShape>[]>;
}
export const campaignTryTable = table(CampaignTryModel, 'campaign_try', {
  campaignId: refers(key(text()), 'campaign'),
  attempt: key(whole()),
  body: json('body', CampaignBody),
  submittedAt: big(),
  state: oneOf(['in review', 'registered', 'declined'], 'in review'),
  decidedAt: maybe(big()),
  reasons: json('reasons', z.array(ReasonShape), '[]'),
});
