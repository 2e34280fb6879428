import { finding, type Finding } from '../finding/finding.js';
import { namesBusiness, type About, type CampaignDraft } from './campaign-draft.js';
import { conditions } from './words/condition.js';
import { isNotEnglish } from './words/language.js';
import { namesPlace } from './words/place.js';
import { sharingForMarketing } from './words/sharing.js';
import { strangersLists } from './words/sources.js';
import { forbiddenSubject } from './words/subjects.js';

/** What a sender does in a description: it sends, tells, asks. */
const SAYS_WHAT =
  /\b(?:sends?|sent|receive|texts?|notif|remind|alert|answer|tell|inform|ask|invite|update|confirm|warn|let\w* \w+ know)/i;

/** What is sent to whom, and how people agree. */
export function reviewAgreement(c: CampaignDraft, names: About): Finding[] {
  const out: Finding[] = [];
  const d = c.description.trim();
  if (d.length < 40)
    out.push(
      finding(
        'description-short',
        'description',
        `The description has ${d.length} of at least 40 characters.`,
        'Say who sends what to whom and why.',
      ),
    );
  else if (d.length > 2048)
    out.push(
      finding('description-long', 'description', 'The description is longer than 2,048 characters.', 'Shorten it.'),
    );
  else if (!isNotEnglish(d) && !SAYS_WHAT.test(d)) {
    out.push(
      finding(
        'description-vague',
        'description',
        'It does not say who sends what to whom.',
        'Begin with: [business] sends … to … so that …',
      ),
    );
  }
  if (d.length > 0 && !namesBusiness(d, names))
    out.push(
      finding(
        'description-no-name',
        'description',
        'The description does not say who sends: name the business.',
        `Begin with “${names.nameLine} sends …”`,
      ),
    );
  const a = c.agreement.trim();
  if (a.length < 40)
    out.push(
      finding(
        'agreement-short',
        'agreement',
        `“How people agree” has ${a.length} of at least 40 characters.`,
        'Say where people agree and what they read there.',
      ),
    );
  else if (a.length > 2048)
    out.push(
      finding('agreement-long', 'agreement', '“How people agree” is longer than 2,048 characters.', 'Shorten it.'),
    );
  if (a.length > 0 && !namesPlace(a))
    out.push(
      finding(
        'agreement-no-place',
        'agreement',
        'It names no place where people agree.',
        'Name the page, form, counter or keyword.',
      ),
    );
  for (const span of conditions(c.agreement))
    out.push(
      finding(
        'agreement-condition',
        'agreement',
        'Agreement is made a condition. Reviewers decline this; so does the law.',
        'Take the sentence out, and let people choose freely.',
        span,
      ),
    );
  for (const span of strangersLists(c.agreement))
    out.push(
      finding(
        'agreement-bought-list',
        'agreement',
        'People on a bought list have not agreed.',
        'Text only those who agreed with you.',
        span,
      ),
    );
  for (const span of sharingForMarketing(c.agreement))
    out.push(
      finding(
        'numbers-shared',
        'agreement',
        'Numbers go to others for their own marketing. Carriers allow no such agreement.',
        'Say that numbers and consent are shared with nobody for marketing, and keep to it.',
        span,
      ),
    );
  for (const field of ['description', 'agreement'] as const) {
    const bad = forbiddenSubject(c[field]);
    if (bad)
      out.push(
        finding(
          'forbidden-subject',
          field,
          `“${bad.words}” is a subject the carriers forbid.`,
          'Such texts cannot be registered.',
          bad,
        ),
      );
    if (isNotEnglish(c[field]))
      out.push(
        finding(
          'not-in-english',
          field,
          'Reviewers read English.',
          'Write it in English; samples may be in any language.',
          {
            start: 0,
            end: c[field].length,
          },
        ),
      );
  }
  return out;
}
