import { OnSiteShape, PageAsks, PagePurpose } from '@long-gate/contracts';
import { PAGE_COLOURS, type PageLanguage } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import { big, flag, json, key, maybe, once, refers, table, text, whole } from '../../../platform/table.js';

/** What a page offers. */
const Programmes = z.array(PagePurpose);
/** What a page asked before it could be chosen. */
const ASKS_FIRST = '{"firstName":"asked","lastName":"no","email":"no"}';

export class OptinPageModel extends Model<InferAttributes<OptinPageModel>, InferCreationAttributes<OptinPageModel>> {
  declare id: string;
  declare businessId: string;
  declare slug: string;
  declare title: string;
  declare intro: string;
  declare purposes: z.output<typeof Programmes>;
  declare numberId: string;
  declare privacyUrl: string;
  declare termsUrl: string;
  declare language: CreationOptional<PageLanguage>;
  declare ground: CreationOptional<string>;
  declare accent: CreationOptional<string>;
  declare button: CreationOptional<string>;
  declare thanks: CreationOptional<string>;
  declare thanksCode: CreationOptional<string>;
  declare asks: z.output<typeof PageAsks>;
  declare pictureId: CreationOptional<string | null>;
  declare pictureName: CreationOptional<string>;
  declare pictureSha256: CreationOptional<string>;
  declare pictureWords: CreationOptional<string>;
  declare onSite: CreationOptional<z.output<typeof OnSiteShape> | null>;
  declare published: CreationOptional<boolean>;
  /** How often somebody agreed to a kind of text on it. */
  declare optIns: CreationOptional<number>;
  declare pageVersion: CreationOptional<number>;
  declare createdAt: number;
  declare version: CreationOptional<number>;
}
export const optinPageTable = table(OptinPageModel, 'optin_page', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  slug: once(text()),
  title: text(),
  intro: text(),
  purposes: json('purposes', Programmes),
  numberId: text(),
  privacyUrl: text(),
  termsUrl: text(),
  language: text('en'),
  ground: text(PAGE_COLOURS.ground),
  accent: text(PAGE_COLOURS.accent),
  button: text(''),
  thanks: text(''),
  thanksCode: text(''),
  asks: json('asks', PageAsks, ASKS_FIRST),
  pictureId: maybe(text()),
  pictureName: text(''),
  pictureSha256: text(''),
  pictureWords: text(''),
  onSite: maybe(json('onSite', OnSiteShape)),
  published: flag(true),
  optIns: whole(0),
  pageVersion: whole(1),
  createdAt: big(),
  version: whole(1),
});

/** What came of a page in a week: kinds of text agreed to on it, and how many of these were confirmed by YES or needed none. */
export class PageWeekModel extends Model<InferAttributes<PageWeekModel>, InferCreationAttributes<PageWeekModel>> {
  declare pageId: string;
  /** See {@link weekOf}. */
  declare week: number;
  declare agreed: CreationOptional<number>;
  declare confirmed: CreationOptional<number>;
}
export const pageWeekTable = table(PageWeekModel, 'page_week', {
  pageId: refers(key(text()), 'optin_page'),
  week: key(whole()),
  agreed: whole(0),
  confirmed: whole(0),
});

/** The same by version of the page's words. */
export class PageVersionCountModel extends Model<
  InferAttributes<PageVersionCountModel>,
  InferCreationAttributes<PageVersionCountModel>
> {
  declare pageId: string;
  declare pageVersion: number;
  declare agreed: CreationOptional<number>;
  declare confirmed: CreationOptional<number>;
}
export const pageVersionCountTable = table(PageVersionCountModel, 'page_version_count', {
  pageId: refers(key(text()), 'optin_page'),
  pageVersion: key(whole()),
  agreed: whole(0),
  confirmed: whole(0),
});

/** Visits to a page by week and version of its words: seen, and begun to be filled in. Nobody in particular is kept. */
export class PageVisitModel extends Model<InferAttributes<PageVisitModel>, InferCreationAttributes<PageVisitModel>> {
  declare pageId: string;
  declare pageVersion: number;
  declare week: number;
  declare seen: CreationOptional<number>;
  declare begun: CreationOptional<number>;
}
export const pageVisitTable = table(PageVisitModel, 'page_visit', {
  pageId: refers(key(text()), 'optin_page'),
  pageVersion: key(whole()),
  week: key(whole()),
  seen: whole(0),
  begun: whole(0),
});

/** An opt-in page as it was, kept for good: as it was published, and as somebody saw it who agreed on it. */
export class PageVersionModel extends Model<
  InferAttributes<PageVersionModel>,
  InferCreationAttributes<PageVersionModel>
> {
  declare businessId: string;
  /** Of its HTML, hex. */
  declare sha256: string;
  declare pageId: string;
  declare pageVersion: number;
  declare title: string;
  declare html: string;
  declare firstAt: number;
  /** Seen behind a person's own link, with the words of the opt-in page on it. */
  declare behindLink: CreationOptional<boolean>;
}
export const pageVersionTable = table(PageVersionModel, 'page_version', {
  businessId: key(text()),
  sha256: key(text()),
  pageId: refers(text(), 'optin_page'),
  pageVersion: whole(),
  title: text(),
  html: text(),
  firstAt: big(),
  behindLink: flag(false),
});
