import type { BrandView, CampaignBodyValue, TollFreeBodyValue } from '@long-gate/contracts';
import { valueInWords } from '../../parts/value-in-words';

/** What the fields of a campaign are called, in few words. */
export const CAMPAIGN_WORDS: Partial<Record<keyof CampaignBodyValue, string>> = {
  description: 'What is sent',
  agreement: 'How people agree',
  samples: 'Samples',
  hasLinks: 'Links',
  hasPhones: 'Phone numbers',
  optInMessage: 'Joining message',
  optOutMessage: 'Answer to STOP',
  helpMessage: 'Answer to HELP',
  privacyUrl: 'Privacy page',
  privacyWords: 'What the privacy page says',
  termsUrl: 'Terms page',
  ageRestricted: 'Age-restricted',
  lending: 'Direct lending',
  subUses: 'Uses',
};
export const TOLL_FREE_WORDS: Record<keyof TollFreeBodyValue, string> = {
  useCase: 'Use',
  volume: 'Texts a month',
  description: 'What is sent',
  agreement: 'How people agree',
  samples: 'Samples',
  proofUrl: 'Where it can be seen',
};
export const BRAND_WORDS: Record<keyof BrandView['body'], string> = {
  form: 'Legal form',
  relation: 'How it relates to you',
  legalName: 'Legal name',
  tradingName: 'Other trading name',
  exchange: 'Stock exchange',
  ticker: 'Ticker',
  mobile: 'Mobile of the owner',
  industry: 'Industry',
  country: 'Country',
  regions: 'States',
  street: 'Street',
  city: 'City',
  state: 'State',
  postalCode: 'ZIP',
  moreAddresses: 'Other addresses',
  representatives: 'People',
  website: 'Website',
  email: 'Contact e-mail',
  statusEmail: 'Address for status mail',
};
/** What it was drafted from is nothing that is submitted. */
const OWN = ['agreementDrafted'];

const show = (value: unknown): string => valueInWords(value, { named: false });

/** Field by field what one version of a filing says otherwise than another. @param words what its fields are called. */
export function differencesBetween<B extends object>(
  before: B,
  after: B,
  words: Partial<Record<keyof B, string>>,
): { what: string; before: string; after: string }[] {
  return (Object.keys(after) as (keyof B & string)[])
    .filter((k) => !OWN.includes(k) && JSON.stringify(before[k]) !== JSON.stringify(after[k]))
    .map((k) => ({ what: words[k] ?? k, before: show(before[k]), after: show(after[k]) }));
}

/** Whether a field, such as `samples.1`, says what it said in another version; null where there is none. */
export function sameAt(before: object | null | undefined, now: object, field: string): boolean | null {
  if (!before) return null;
  const at = (value: unknown): unknown =>
    field.split('.').reduce<unknown>((v, key) => (v as Record<string, unknown> | undefined)?.[key], value);
  return JSON.stringify(at(before)) === JSON.stringify(at(now));
}
