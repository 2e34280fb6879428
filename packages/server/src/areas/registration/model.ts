import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, maybe, once, oneOf, refers, text, whole, table } from '../../platform/table.js';

export class BrandModel extends Model<InferAttributes<BrandModel>, InferCreationAttributes<BrandModel>> {
  declare id: string;
  declare businessId: string;
  declare body: string;
  declare taxNumber: CreationOptional<string>;
  declare state: CreationOptional<'draft' | 'in review' | 'registered' | 'declined'>;
  declare score: CreationOptional<number | null>;
  declare attempt: CreationOptional<number>;
  declare submittedAt: CreationOptional<number | null>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<string>;
  declare lastSubmitted: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
}
export const brandTable = table(BrandModel, 'brand', {
  id: key(text()),
  businessId: once(refers(text(), 'business')),
  body: text(),
  taxNumber: text(''),
  state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
  score: maybe(whole()),
  attempt: whole(0),
  submittedAt: maybe(big()),
  decidedAt: maybe(big()),
  reasons: text('[]'),
  lastSubmitted: maybe(text()),
  version: whole(1),
});

export class CampaignModel extends Model<InferAttributes<CampaignModel>, InferCreationAttributes<CampaignModel>> {
  declare id: string;
  declare businessId: string;
  declare name: string;
  declare body: string;
  declare state: CreationOptional<'draft' | 'in review' | 'registered' | 'declined'>;
  declare attempt: CreationOptional<number>;
  declare submittedAt: CreationOptional<number | null>;
  declare decidedAt: CreationOptional<number | null>;
  declare reasons: CreationOptional<string>;
  declare lastSubmitted: CreationOptional<string | null>;
  declare createdAt: number;
  declare version: CreationOptional<number>;
}
export const campaignTable = table(CampaignModel, 'campaign', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  name: text(),
  body: text(),
  state: oneOf(['draft', 'in review', 'registered', 'declined'], 'draft'),
  attempt: whole(0),
  submittedAt: maybe(big()),
  decidedAt: maybe(big()),
  reasons: text('[]'),
  lastSubmitted: maybe(text()),
  createdAt: big(),
  version: whole(1),
});
