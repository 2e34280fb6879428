import { finding, type Finding } from '../finding/finding.js';
import type { About, CampaignDraft } from './campaign-draft.js';
import { reviewAgreement } from './review-agreement.js';
import { hostOf } from './review-brand.js';
import { reviewReplies } from './review-replies.js';
import { reviewDeclared, reviewSamples } from './review-samples.js';
import { mayHave, useCase, whoMay } from './terms.data.js';
import { likeness } from './words/likeness.js';
import { sharingForMarketing } from './words/sharing.js';

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

/** Which brand may have which use, and what a special one asks for (rules.md, A2P 10DLC). */
function reviewUse(c: CampaignDraft, { form, score }: About): Finding[] {
  const use = useCase(c.useCase);
  if (!use) return [];
  const out: Finding[] = [];
  if (form !== undefined && !mayHave(use, form))
    out.push(
      form === 'sole proprietor'
        ? finding(
            'use-not-for-form',
            'useCase',
            `A sole proprietor registers the use “Sole proprietor”, not “${use.label}”.`,
            'Begin the campaign anew with that use.',
          )
        : finding(
            'use-not-for-form',
            'useCase',
            `“${use.label}” is for ${whoMay(use)} alone; this is a ${form}.`,
            'Choose another use.',
          ),
    );
  if (use.vetted && score === null)
    out.push(
      finding(
        'use-needs-vetting',
        'useCase',
        `“${use.label}” is only for a brand that is vetted; this one has no score.`,
        'Have the brand vetted first.',
      ),
    );
  if (c.useCase === 'political' && c.description.trim() !== '' && !NAMES_CAUSE.test(c.description))
    out.push(
      finding(
        'political-cause-missing',
        'description',
        'It does not name the candidate, party or question the texts are for.',
        'Say for whom or what: “for [name]’s campaign for county clerk”.',
      ),
    );
  if (
    use.pool &&
    c.description.trim() !== '' &&
    !/\b(?:numbers|pool|branches|offices|agents|locations)\b/i.test(c.description)
  )
    out.push(
      finding(
        'pool-not-explained',
        'description',
        'It does not say why more than 49 numbers are needed.',
        'Say it: “each of our 60 branches texts from a number of its own”.',
      ),
    );
  return out;
}
/** What a political text is for. */
const NAMES_CAUSE =
  /\b(?:candidate|elect|election|re-?elect|ballot|measure|proposition|referendum|party|committee|campaign for|vote)\b/i;

function reviewPages(c: CampaignDraft): Finding[] {
  const out: Finding[] = [];
  if (!hostOf(c.privacyUrl))
    out.push(finding('privacy-page-missing', 'privacyUrl', 'There is no privacy page.', 'Give its web address.'));
  for (const span of sharingForMarketing(c.privacyWords ?? ''))
    out.push(
      finding(
        'privacy-shares-numbers',
        'privacyWords',
        'The privacy page lets numbers go to others for their own marketing. Carriers allow no such page.',
        'Change the page: numbers and consent are shared with nobody for marketing. Then copy it here again.',
        span,
      ),
    );
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
  // rules.md, campaign: more than five are a risk, more than fifty impossible.
  else if (others.length >= 50)
    out.push(
      finding(
        'campaigns-too-many',
        'useCase',
        'A brand has at most 50 campaigns.',
        'Say in one of them what this one is for.',
      ),
    );
  else if (others.length >= 5)
    out.push(
      finding(
        'campaigns-many',
        'useCase',
        `The brand has ${others.length} campaigns before it; reviewers ask for what so many are.`,
        'Join those that send much the same.',
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
