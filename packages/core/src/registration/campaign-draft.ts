import { namesSender } from '../text/compose.js';
import type { LegalForm } from './legal-forms.data.js';

export interface CampaignDraft {
  useCase: string;
  /** What is sent, to whom, why. */
  description: string;
  /** How people agree. */
  agreement: string;
  samples: string[];
  subUses: string[];
  hasLinks: boolean;
  hasPhones: boolean;
  ageRestricted: boolean;
  lending: boolean;
  optInMessage: string;
  optOutMessage: string;
  helpMessage: string;
  privacyUrl: string;
  /** What the privacy page says of sharing numbers, copied from it; not asked where it is not said. */
  privacyWords?: string;
  termsUrl: string;
}

/** What a campaign is held against of its business. */
export interface About {
  nameLine: string;
  legalName: string;
  /** Which uses a business may have depends on it; not asked where it is not said. */
  form?: LegalForm;
  /** The vetting score of the brand; null where it is not vetted, not asked where it is not said. */
  score?: number | null;
  /** The brand's site; links elsewhere are found where it is said. */
  website?: string;
  /** The campaigns of the same business that were begun before it. */
  others?: readonly Pick<CampaignDraft, 'description' | 'samples'>[];
}

/** Whether a text names the business, by its name line or its legal name. */
export const namesBusiness = (text: string, names: About): boolean =>
  namesSender(text, names.nameLine) || namesSender(text, names.legalName);
