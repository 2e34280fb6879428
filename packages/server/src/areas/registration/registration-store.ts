import { fn, literal, Op, where, col, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import {
  brandTable,
  brandVettingTable,
  campaignTable,
  campaignTryTable,
  filingTryTable,
  tollFreeTable,
  type BrandModel,
  type BrandVettingModel,
  type CampaignModel,
  type CampaignTryModel,
  type FilingTryModel,
  type TollFreeModel,
} from './model.js';

export async function brandOf(r: Reader, businessId: string): Promise<BrandModel | null> {
  return r.of(brandTable).findOne({ where: { businessId } });
}

export async function brandById(r: Reader, id: string): Promise<BrandModel | null> {
  return r.of(brandTable).findByPk(id);
}

export async function addBrand(w: Writer, brand: CreationAttributes<BrandModel>): Promise<void> {
  await w.of(brandTable).create(brand);
}

export async function campaignsOf(r: Reader, businessId: string): Promise<CampaignModel[]> {
  return r.of(campaignTable).findAll({ where: { businessId }, order: ['createdAt', 'id'] });
}

export async function campaignById(r: Reader, id: string): Promise<CampaignModel | null> {
  return r.of(campaignTable).findByPk(id);
}

/** Campaigns whose name holds these words, in small letters. */
export async function findCampaigns(
  r: Reader,
  businessId: string,
  words: string,
  limit: number,
): Promise<CampaignModel[]> {
  return r.of(campaignTable).findAll({
    where: { [Op.and]: [{ businessId }, where(fn('instr', fn('lower', col('name')), words), Op.gt, 0)] },
    limit,
  });
}

export async function addCampaign(w: Writer, campaign: CreationAttributes<CampaignModel>): Promise<void> {
  await w.of(campaignTable).create(campaign);
}

/** Saves a change of a filing, whose version goes up with it. */
export async function saveBrand(brand: BrandModel, change: Partial<CreationAttributes<BrandModel>>): Promise<void> {
  await brand.update({ ...change, version: literal('version + 1') });
}
export async function saveCampaign(
  campaign: CampaignModel,
  change: Partial<CreationAttributes<CampaignModel>>,
): Promise<void> {
  await campaign.update({ ...change, version: literal('version + 1') });
}

/** Keeps what is submitted of a campaign. */
export async function addTry(w: Writer, made: CreationAttributes<CampaignTryModel>): Promise<void> {
  await w.of(campaignTryTable).create(made);
}

/** Keeps what was decided of a submission. */
export async function decideTry(
  w: Writer,
  campaignId: string,
  attempt: number,
  decision: Pick<CampaignTryModel, 'state' | 'decidedAt' | 'reasons'>,
): Promise<void> {
  await w.of(campaignTryTable).update(decision, { where: { campaignId, attempt } });
}

/** What was submitted of a campaign, the first first. */
export async function triesOf(r: Reader, campaignId: string): Promise<CampaignTryModel[]> {
  return r.of(campaignTryTable).findAll({ where: { campaignId }, order: ['attempt'] });
}

/** Keeps what is submitted of a brand or a toll-free number. */
export async function addFilingTry(w: Writer, made: CreationAttributes<FilingTryModel>): Promise<void> {
  await w.of(filingTryTable).create(made);
}

/** Keeps what was decided of such a submission. */
export async function decideFilingTry(
  w: Writer,
  filingId: string,
  attempt: number,
  decision: Pick<FilingTryModel, 'state' | 'decidedAt' | 'reasons'>,
): Promise<void> {
  await w.of(filingTryTable).update(decision, { where: { filingId, attempt } });
}

/** What was submitted of a brand or a toll-free number, the first first. */
export async function filingTriesOf(r: Reader, filingId: string): Promise<FilingTryModel[]> {
  return r.of(filingTryTable).findAll({ where: { filingId }, order: ['attempt'] });
}

/** Vettings of a brand, the first first. */
export async function vettingsOf(r: Reader, brandId: string): Promise<BrandVettingModel[]> {
  return r.of(brandVettingTable).findAll({ where: { brandId }, order: ['orderedAt', 'id'] });
}

export async function vettingById(r: Reader, id: string): Promise<BrandVettingModel | null> {
  return r.of(brandVettingTable).findByPk(id);
}

export async function addVetting(w: Writer, vetting: CreationAttributes<BrandVettingModel>): Promise<void> {
  await w.of(brandVettingTable).create(vetting);
}

/** What the toll-free numbers of a business are verified for, or shall be. */
export async function tollFreeOf(r: Reader, businessId: string): Promise<TollFreeModel[]> {
  return r.of(tollFreeTable).findAll({ where: { businessId }, order: ['numberId'] });
}

export async function tollFreeById(r: Reader, numberId: string): Promise<TollFreeModel | null> {
  return r.of(tollFreeTable).findByPk(numberId);
}

export async function addTollFree(w: Writer, made: CreationAttributes<TollFreeModel>): Promise<void> {
  await w.of(tollFreeTable).create(made);
}

/** Saves a change of what a toll-free number is for; its version goes up with it. */
export async function saveTollFree(
  row: TollFreeModel,
  change: Partial<CreationAttributes<TollFreeModel>>,
): Promise<void> {
  await row.update({ ...change, version: literal('version + 1') });
}
