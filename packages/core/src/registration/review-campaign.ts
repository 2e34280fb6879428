import { finding, type Finding } from '../finding/finding.js';
import type { About, CampaignDraft } from './campaign-draft.js';
import { reviewAgreement } from './review-agreement.js';
import { hostOf } from './review-brand.js';
import { reviewReplies } from './review-replies.js';
import { reviewDeclared, reviewSamples } from './review-samples.js';
import { useCase } from './terms.data.js';
import { likeness } from './words/likeness.js';

/** What reviewers decline, found before they see it (rules.md, A2P 10DLC and its siblings). */
export function reviewCampaign(c: CampaignDraft, names: About): Finding[] {
  return [
    ...reviewUse(c, names),
    ...reviewAgreement(c, names),
    ...reviewSamples(c, names),
    ...reviewDeclared(c),
    ...reviewReplies(c, names),
    ...reviewPages(c),
    ...reviewBeside(c, names),
  ];
}

/** Which legal form may have which use (rules.md, A2P 10DLC). */
function reviewUse(c: CampaignDraft, { form }: About): Finding[] {
  const use = useCase(c.useCase);
  if (form === undefined || !use) return [];
  if (use.onlyFor !== undefined && use.onlyFor !== form)
    return [
      finding(
        'use-not-for-form',
        'useCase',
        `“${use.label}” is for a ${use.onlyFor} alone; this is a ${form}.`,
        'Choose another use.',
      ),
    ];
  if (form === 'sole proprietor' && use.onlyFor !== 'sole proprietor')
    return [
      finding(
        'use-not-for-form',
        'useCase',
        `A sole proprietor registers the use “Sole proprietor”, not “${use.label}”.`,
        'Begin the campaign anew with that use.',
      ),
    ];
  return [];
}

function reviewPages(c: CampaignDraft): Finding[] {
  const out: Finding[] = [];
  if (!hostOf(c.privacyUrl))
    out.push(finding('privacy-page-missing', 'privacyUrl', 'There is no privacy page.', 'Give its web address.'));
  if (!hostOf(c.termsUrl))
    out.push(finding('terms-page-missing', 'termsUrl', 'There is no terms page.', 'Give its web address.'));
  return out;
}

/** How much two campaigns may have in common of all they say. */
const ALIKE = 0.7;
const said = (c: Pick<CampaignDraft, 'description' | 'samples'>): string => [c.description, ...c.samples].join(' ');

/** What a campaign is beside those before it: as many as the legal form has, and each of its own. */
function reviewBeside(c: CampaignDraft, { form, others = [] }: About): Finding[] {
  const out: Finding[] = [];
  if (form === 'sole proprietor' && others.length > 0)
    out.push(
      finding(
        'campaigns-too-many',
        'useCase',
        'A sole proprietor has one campaign.',
        'Keep the one that says what is sent, or register as a company.',
      ),
    );
  if (others.some((o) => likeness(said(c), said(o)) >= ALIKE))
    out.push(
      finding(
        'campaigns-alike',
        'description',
        'It says nearly what another campaign of this business says; reviewers ask why there are two.',
        'Say what sets it apart, or use the other one.',
      ),
    );
  return out;
}
