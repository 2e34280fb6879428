import type { Finding } from '../finding/finding.js';
import { namesBusiness, type About, type CampaignDraft } from './campaign-draft.js';
import { lackingOf } from './review-replies.js';

type Mend = (finding: Finding, c: CampaignDraft, about: About) => Partial<CampaignDraft>;

/** The sample a finding speaks of, said otherwise. */
const sample =
  (say: (text: string, about: About) => string): Mend =>
  ({ field }, { samples }, about) => {
    const at = Number(field.split('.')[1]);
    return { samples: samples.map((s, i) => (i === at ? say(s, about) : s)) };
  };
/** A text that begins with the name. */
const begun = (text: string, { nameLine }: About): string => `${nameLine}: ${text.trim()}`;
const ended = (text: string): string => (/[.!?]$/.test(text.trim()) ? text.trim() : `${text.trim()}.`);

/** A text without the words a finding speaks of. */
const without = ({ span }: Finding, text: string): string =>
  span ? `${text.slice(0, span.start)}${text.slice(span.end)}`.replace(/\s{2,}/g, ' ').trim() : text;

/** What one click can mend: the words that are missing are added, a sentence goes, a declaration follows the samples. */
const MENDS: Partial<Record<Finding['code'], Mend>> = {
  'sample-no-name': sample(begun),
  'sample-no-stop': sample((text) => `${ended(text)} Reply STOP to end.`),
  'optout-reply-no-name': (_, c, about) => ({ optOutMessage: begun(c.optOutMessage, about) }),
  'optout-reply-no-end': (_, c) => ({ optOutMessage: `${ended(c.optOutMessage)} You will get no more texts from us.` }),
  'optin-message-incomplete': (_, c, about) => {
    const text = namesBusiness(c.optInMessage, about) ? c.optInMessage : begun(c.optInMessage, about);
    const parts = lackingOf(text, about).map((part) => part.add);
    return { optInMessage: [ended(text), ...parts].join(' ') };
  },
  'agreement-condition': (f, c) => ({ agreement: without(f, c.agreement) }),
  'numbers-shared': (f, c) => ({ agreement: without(f, c.agreement) }),
  'link-undeclared': () => ({ hasLinks: true }),
  'link-declared-but-absent': () => ({ hasLinks: false }),
  'phone-undeclared': () => ({ hasPhones: true }),
  'phone-declared-but-absent': () => ({ hasPhones: false }),
  'age-gate-undeclared': () => ({ ageRestricted: true }),
  'lending-undeclared': () => ({ lending: true }),
};

/**
 * What a campaign says once a finding is mended mechanically; null where only its writer can mend it. Whether a
 * declaration is true, and whether people agree as the words that are left say, stays with whoever files it.
 */
export function mendOf(finding: Finding, c: CampaignDraft, about: About): Partial<CampaignDraft> | null {
  return MENDS[finding.code]?.(finding, c, about) ?? null;
}

/** Whether one click mends findings of a code. */
export const isMendable = (code: Finding['code']): boolean => MENDS[code] !== undefined;
