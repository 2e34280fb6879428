import type { LegalForm } from './legal-forms.data.js';

export interface UseCase {
  code: string;
  label: string;
  /** Monthly fee in micros. */
  monthly: number;
  /** At least this many samples. */
  samples: number;
  /** Must show a way to stop in its samples. */
  needsStop: boolean;
  /** Purposes whose texts fit this use. */
  promotional: boolean;
  /** What it covers, in plain words. */
  means: string;
  /** What whoever has it must keep to, where there is more than the others have. */
  duty?: string;
  /** Legal forms that may have it; all where it is not said. */
  onlyFor?: readonly LegalForm[];
  /** Only for a brand with a vetting score. */
  vetted?: boolean;
  /** A campaign takes any number of numbers, where others take 49. */
  pool?: boolean;
}

/** Use cases with their default monthly fees; invented prices of the stand-in registrar. source: rules.md; checked: 2026-11-25 */
export const USE_CASES: readonly UseCase[] = [
  { code: 'two-factor', label: 'Two-factor codes', means: 'Codes by which people sign in or confirm something they do.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'account-notification', label: 'Account notification', means: 'Notices about an account, a booking or an order somebody has.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'customer-care', label: 'Customer care', means: 'Answers to people who write or call, and what they asked for.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'delivery-notification', label: 'Delivery notification', means: 'Where a parcel or an order is, and when it comes.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'fraud-alert', label: 'Fraud alert', means: 'Warnings of suspicious payments or sign-ins.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'higher-education', label: 'Higher education', means: 'What a college or university sends its students and staff.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'low-volume-mixed', label: 'Low-volume mixed', means: 'Several uses in one campaign, for at most 2,000 segments a day; the cheapest.', monthly: 1_500_000, samples: 2, needsStop: true, promotional: true },
  { code: 'marketing', label: 'Marketing', means: 'Offers, sales, news that sells.', monthly: 10_000_000, samples: 2, needsStop: true, promotional: true },
  { code: 'mixed', label: 'Mixed', means: 'Two to five uses, named, in one campaign.', monthly: 10_000_000, samples: 2, needsStop: true, promotional: true },
  { code: 'polling', label: 'Polling and voting', means: 'Surveys and votes that are about no office.', monthly: 10_000_000, samples: 1, needsStop: true, promotional: false },
  { code: 'public-service', label: 'Public service announcement', means: 'Announcements in the public interest.', monthly: 10_000_000, samples: 1, needsStop: true, promotional: false },
  { code: 'security-alert', label: 'Security alert', means: 'Warnings about a system, a site or a place.', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'charity', label: 'Charity', means: 'What a non-profit sends to those who give to it or help it.', monthly: 3_000_000, samples: 1, needsStop: true, promotional: true, onlyFor: ['non-profit'] },
  { code: 'sole-proprietor', label: 'Sole proprietor', means: 'Everything one person without a tax number sends.', monthly: 2_000_000, samples: 2, needsStop: true, promotional: true, onlyFor: ['sole proprietor'] },
  { code: 'emergency', label: 'Emergency', means: 'Warnings of danger to life, health or property.', duty: 'Nothing else is ever sent under it; offers and news have campaigns of their own.', monthly: 5_000_000, samples: 1, needsStop: false, promotional: false, onlyFor: ['public body', 'non-profit'] },
  { code: 'political', label: 'Political', means: 'What is sent for a candidate, a party or a question on the ballot.', duty: 'The brand is vetted first, and the description names whom or what the texts are for.', monthly: 10_000_000, samples: 2, needsStop: true, promotional: false, onlyFor: ['non-profit', 'private company'], vetted: true },
  { code: 'number-pool', label: 'Number pool', means: 'One programme that is sent from more than 49 numbers.', duty: 'The description says why so many numbers are needed.', monthly: 10_000_000, samples: 2, needsStop: true, promotional: true, pool: true },
];

/** Whether a brand of a legal form may have a use. */
export function mayHave(use: UseCase, form: LegalForm): boolean {
  return form === 'sole proprietor'
    ? use.onlyFor?.includes(form) === true
    : (use.onlyFor?.includes(form) ?? true);
}
/** Who may have a use, in words: `a non-profit`. A sole proprietor has one of its own and no other. */
export const whoMay = (use: UseCase): string => 
  use.onlyFor ? `a ${use.onlyFor.join(' or a ')}` : 'a company, a non-profit or a public body';

export function useCase(code: string): UseCase | undefined {
  return USE_CASES.find((u) => u.code === code);
}

/** EIN prefixes that were never assigned. source: IRS, valid EIN prefixes; checked: 2026-11-25 */
export const EIN_PREFIXES_NEVER_ASSIGNED: readonly string[] = ['00', '07', '08', '09', '17', '18', '19', '28', '29', '49', '69', '70', '78', '79', '89', '96', '97'];

/** Hosts whose short links are shared by many senders; networks filter them. Rule data, may name hosts. checked: 2026-11-25 */
export const SHARED_SHORT_LINK_HOSTS: readonly string[] = ['bit.ly', 'tinyurl.com', 't.co', 'goo.gl', 'ow.ly', 'is.gd', 'buff.ly', 'rebrand.ly', 'cutt.ly', 'rb.gy', 'shorturl.at', 'tiny.cc', 'v.gd', 's.id', 'lnkd.in', 't.ly', 'lnk.example'];
