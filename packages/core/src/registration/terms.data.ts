/** Legal forms of a brand (rules.md, A2P 10DLC). */
export const LEGAL_FORMS = ['sole proprietor', 'private company', 'listed company', 'non-profit', 'public body'] as const;
export type LegalForm = (typeof LEGAL_FORMS)[number];

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
  onlyFor?: LegalForm;
}

/** Use cases with their default monthly fees; invented prices of the stand-in registrar. source: rules.md; checked: 2026-11-25 */
export const USE_CASES: readonly UseCase[] = [
  { code: 'two-factor', label: 'Two-factor codes', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'account-notification', label: 'Account notification', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'customer-care', label: 'Customer care', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'delivery-notification', label: 'Delivery notification', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'fraud-alert', label: 'Fraud alert', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'higher-education', label: 'Higher education', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'low-volume-mixed', label: 'Low-volume mixed', monthly: 1_500_000, samples: 2, needsStop: true, promotional: true },
  { code: 'marketing', label: 'Marketing', monthly: 10_000_000, samples: 2, needsStop: true, promotional: true },
  { code: 'mixed', label: 'Mixed', monthly: 10_000_000, samples: 2, needsStop: true, promotional: true },
  { code: 'polling', label: 'Polling and voting', monthly: 10_000_000, samples: 1, needsStop: true, promotional: false },
  { code: 'public-service', label: 'Public service announcement', monthly: 10_000_000, samples: 1, needsStop: true, promotional: false },
  { code: 'security-alert', label: 'Security alert', monthly: 10_000_000, samples: 1, needsStop: false, promotional: false },
  { code: 'charity', label: 'Charity', monthly: 3_000_000, samples: 1, needsStop: true, promotional: true, onlyFor: 'non-profit' },
  { code: 'sole-proprietor', label: 'Sole proprietor', monthly: 2_000_000, samples: 2, needsStop: true, promotional: true, onlyFor: 'sole proprietor' },
];

export function useCase(code: string): UseCase | undefined {
  return USE_CASES.find((u) => u.code === code);
}

/** EIN prefixes that were never assigned. source: IRS, valid EIN prefixes; checked: 2026-11-25 */
export const EIN_PREFIXES_NEVER_ASSIGNED: readonly string[] = ['00', '07', '08', '09', '17', '18', '19', '28', '29', '49', '69', '70', '78', '79', '89', '96', '97'];

/** Hosts whose short links are shared by many senders; networks filter them. Rule data, may name hosts. checked: 2026-11-25 */
export const SHARED_SHORT_LINK_HOSTS: readonly string[] = ['bit.ly', 'tinyurl.com', 't.co', 'goo.gl', 'ow.ly', 'is.gd', 'buff.ly', 'rebrand.ly', 'cutt.ly', 'rb.gy', 'shorturl.at', 'tiny.cc', 'v.gd', 's.id', 'lnkd.in', 't.ly', 'lnk.example'];
