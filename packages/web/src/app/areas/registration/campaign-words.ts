import type { CampaignBodyValue } from '@long-gate/contracts';

/** What the fields of a campaign are called, in few words. */
export const LABELS: Partial<Record<keyof CampaignBodyValue, string>> = {
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
const show = (v: unknown): string =>
  Array.isArray(v) ? v.join(' / ') : v === true ? 'yes' : v === false ? 'no' : String(v);

/** Field by field what one version of a campaign says otherwise than another. */
export function differencesBetween(
  before: CampaignBodyValue,
  after: CampaignBodyValue,
): { what: string; before: string; after: string }[] {
  return (
    (Object.keys(after) as (keyof CampaignBodyValue)[])
      // What it was drafted from is nothing that is submitted.
      .filter((k) => k !== 'agreementDrafted')
      .filter((k) => JSON.stringify(before[k]) !== JSON.stringify(after[k]))
      .map((k) => ({ what: LABELS[k] ?? k, before: show(before[k]), after: show(after[k]) }))
  );
}
