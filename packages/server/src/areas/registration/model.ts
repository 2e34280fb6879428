import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { BrandBody, CampaignBody, FieldResultShape, ReasonShape, StageShape, TollFreeBody } from '@long-gate/contracts';
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
  declare stages: CreationOptional<z.infer<typeof StageShape>[]>;
  /** What the identity check found, by field. */
  declare results: CreationOptional<z.infer<typeof FieldResultShape>[]>;
  /** What was said against the decision that is being looked at anew; empty where nothing was. */
  declare appeal: CreationOptional<string>;
  declare appealedAt: CreationOptional<number | null>;
  /** Until when the owner of a sole proprietor may answer; null where nobody was asked. */
  declare confirmBy: CreationOptional<number | null>;
  /** 1 where that time went by. */
  declare confirmLapsed: CreationOptional<number>;
  declare confirmAsks: CreationOptional<number>;
  /** The address of a listed company that was confirmed, in small letters. */
  declare emailConfirmed: CreationOptional<string>;
  /** Sealed: the code that was mailed last. */
  declare emailCode: CreationOptional<string>;
  /** The mail it went with. */
  declare emailCodeFor: CreationOptional<string>;
  declare emailTries: CreationOptional<number>;
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
  stages: json('stages', z.array(StageShape), '[]'),
  results: json('results', z.array(FieldResultShape), '[]'),
  appeal: text(''),
  appealedAt: maybe(big()),
  confirmBy: maybe(big()),
  confirmLapsed: whole(0),
  confirmAsks: whole(0),
  emailConfirmed: text(''),
  emailCode: text(''),
  emailCodeFor: text(''),
  emailTries: whole(0),
});

/** A vetting of a brand: ordered for its fee, or a score that was objected to. */
export class BrandVettingModel extends Model<
  InferAttributes<BrandVettingModel>,
  InferCreationAttributes<BrandVettingModel>
> {
  declare id: string;
  declare brandId: string;
  /** Why the score before was too low; empty for one that is paid. */
  declare objection: CreationOptional<string>;
  declare orderedAt: number;
  declare decidedAt: CreationOptional<number | null>;
  declare score: CreationOptional<number | null>;
  declare failure: CreationOptional<string>;
}
export const brandVettingTable = table(BrandVettingModel, 'brand_vetting', {
  id: key(text()),
  brandId: refers(text(), 'brand'),
  objection: text(''),
  orderedAt: big(),
  decidedAt: maybe(big()),
  score: maybe(whole()),
  failure: text(''),
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
  declare stages: CreationOptional<z.infer<typeof StageShape>[]>;
  /** What closes it though it is registered; empty where nothing does. */
  declare halt: CreationOptional<'' | 'suspended' | 'expired'>;
  declare haltedAt: CreationOptional<number | null>;
  declare haltReasons: CreationOptional<z.infer<typeof ReasonShape>[]>;
  /** What was answered to a suspension. */
  declare haltAnswer: CreationOptional<string>;
  declare haltAnsweredAt: CreationOptional<number | null>;
  declare renewsAt: CreationOptional<number | null>;
  declare renewalAskedAt: CreationOptional<number | null>;
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
  stages: json('stages', z.array(StageShape), '[]'),
  halt: text(''),
  haltedAt: maybe(big()),
  haltReasons: json('haltReasons', z.array(ReasonShape), '[]'),
  haltAnswer: text(''),
  haltAnsweredAt: maybe(big()),
  renewsAt: maybe(big()),
  renewalAskedAt: maybe(big()),
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

/** What a toll-free number is verified for. */
export class TollFreeModel extends Model<InferAttributes<TollFreeModel>, InferCreationAttributes<TollFreeModel>> {
  declare numberId: string;
  declare businessId: string;
  declare body: z.infer<typeof TollFreeBody>;
  declare state: CreationOptional<'draft' | 'in review' | 'registered' | 'declined'>;
  declare attempt: CreationOptional<number>;
  declare submittedAt: CreationOptional<number | null>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<z.infer<typeof ReasonShape>[]>;
  declare stages: CreationOptional<z.infer<typeof StageShape>[]>;
  declare lastSubmitted: CreationOptional<z.infer<typeof TollFreeBody> | null>;
  declare version: CreationOptional<number>;
}
export const tollFreeTable = table(TollFreeModel, 'toll_free_verification', {
  numberId: key(text()),
  businessId: refers(text(), 'business'),
  body: json('body', TollFreeBody),
  state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
  attempt: whole(0),
  submittedAt: maybe(big()),
  decidedAt: maybe(big()),
  reasons: json('reasons', z.array(ReasonShape), '[]'),
  stages: json('stages', z.array(StageShape), '[]'),
  lastSubmitted: maybe(json('lastSubmitted', TollFreeBody)),
  version: whole(1),
});

/** What was submitted of a brand or a toll-free number, each time, and what was decided of it. Nothing of it is changed afterwards. */
export class FilingTryModel extends Model<InferAttributes<FilingTryModel>, InferCreationAttributes<FilingTryModel>> {
  /** The brand's id, or the number's. */
  declare filingId: string;
  declare attempt: number;
  declare body: z.infer<typeof BrandBody> | z.infer<typeof TollFreeBody>;
  declare submittedAt: number;
  declare state: CreationOptional<'in review' | 'registered' | 'declined'>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<z.infer<typeof ReasonShape>[]>;
}
export const filingTryTable = table(FilingTryModel, 'filing_try', {
  filingId: key(text()),
  attempt: key(whole()),
  body: json('body', z.union([BrandBody, TollFreeBody])),
  submittedAt: big(),
  state: oneOf(['in review', 'registered', 'declined'], 'in review'),
  decidedAt: maybe(big()),
  reasons: json('reasons', z.array(ReasonShape), '[]'),
});
