import { finding, type Finding } from '../finding/finding.js';
import type { About, CampaignDraft } from './campaign-draft.js';
import { reviewAgreement } from './review-agreement.js';
import { hostOf } from './review-brand.js';
import { reviewSamples } from './review-samples.js';
import { useCase } from './terms.data.js';

/** What a toll-free number is verified for. */
export interface TollFreeDraft {
  useCase: string;
  /** Texts a month, at most; 0 where it was not said. */
  volume: number;
  description: string;
  agreement: string;
  samples: string[];
  /** A page that shows where people agree. */
  proofUrl: string;
  /** A picture of it was handed in. */
  hasPicture: boolean;
}

/** Which volumes are asked for, texts a month. */
export const TOLL_FREE_VOLUMES = [1_000, 10_000, 100_000, 250_000, 1_000_000] as const;

/**
 * What the toll-free desk would decline a number for. The words are read as a campaign's are; where people agree has
 * to be shown and not only said. source: rules.md (toll-free: sends nothing until verified; what reviewers decline).
 */
export function reviewTollFree(d: TollFreeDraft, names: About): Finding[] {
  const read: CampaignDraft = {
    useCase: d.useCase,
    description: d.description,
    agreement: d.agreement,
    samples: d.samples,
    subUses: [],
    // Nothing is declared of a toll-free number but its use.
    hasLinks: true,
    hasPhones: true,
    ageRestricted: false,
    lending: false,
    optInMessage: '',
    optOutMessage: '',
    helpMessage: '',
    privacyUrl: '',
    termsUrl: '',
  };
  const out: Finding[] = [];
  if (!useCase(d.useCase))
    out.push(finding('toll-free-no-use', 'useCase', 'It is not said what the number is for.', 'Choose its use.'));
  if (d.volume < 1)
    out.push(
      finding(
        'toll-free-no-volume',
        'volume',
        'It is not said how many texts go in a month.',
        'Choose the most it will be.',
      ),
    );
  out.push(...reviewAgreement(read, names), ...reviewSamples(read, names));
  if (d.proofUrl.trim() === '' && !d.hasPicture)
    out.push(
      finding(
        'toll-free-no-proof',
        'proofUrl',
        'Nothing shows where people agree.',
        'Choose one of your opt-in pages, give an address, or hand in a picture of the form.',
      ),
    );
  else if (d.proofUrl.trim() !== '' && !hostOf(d.proofUrl))
    out.push(
      finding(
        'toll-free-no-proof',
        'proofUrl',
        'This is no web address.',
        'Write it like https://ferries.example/texts',
        {
          start: 0,
          end: d.proofUrl.length,
        },
      ),
    );
  return out;
}
