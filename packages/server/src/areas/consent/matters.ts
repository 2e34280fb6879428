import type { Matter } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from '../contacts/index.js';
import type { EvidenceRequests } from './evidence/evidence-requests.js';
import type { Expiry } from './expiry/expiry.js';
import type { Keywords } from './keywords/keywords.js';
import type { Pages } from './pages/pages.js';
import type { Reviews } from './reviews.js';
import type { SuppressionLists } from './suppression/suppression-lists.js';

const matter = mattersOf('consent');
const FOUND = 5;

export function tellConsent(
  p: Platform,
  contacts: Contacts,
  reviews: Reviews,
  pages: Pages,
  evidence: EvidenceRequests,
  suppression: SuppressionLists,
  keywords: Keywords,
  expiry: Expiry,
): void {
  p.matters.tell((id) => ofReplies(contacts, reviews, id));
  p.matters.tell((id) => ofEvidence(evidence, id));
  p.matters.tell((id) => ofLists(suppression, id));
  p.matters.tell((id) => ofClosedWays(pages, keywords, id));
  p.matters.tell((id) => ofCodes(keywords, id));
  p.matters.tell((id) => ofExpiry(expiry, id));
  p.matters.find(async (businessId, words) =>
    (await keywords.list(businessId))
      .filter((k) => `${k.title} ${k.words.join(' ')}`.toLowerCase().includes(words))
      .slice(0, FOUND)
      .map((k) => ({
        kind: 'keyword',
        title: k.title,
        detail: k.words.join(', '),
        link: `consent/keywords?open=${k.id}`,
      })),
  );
  p.matters.find(async (businessId, words) =>
    (await pages.list(businessId))
      .filter((page) => `${page.title} /join/${page.slug}`.toLowerCase().includes(words))
      .slice(0, FOUND)
      .map((page) => ({
        kind: 'opt-in page',
        title: page.title,
        detail: `/join/${page.slug}`,
        link: `consent/pages?open=${page.id}`,
      })),
  );
}

async function ofReplies(contacts: Contacts, reviews: Reviews, id: string): Promise<Matter[]> {
  const [{ count, oldest }, { unproven, voided }] = await Promise.all([reviews.waiting(id), contacts.open(id)]);
  return [
    ...(count > 0
      ? [
          matter(
            'stop',
            `${count} repl${count === 1 ? 'y' : 'ies'} may be a wish to stop`,
            'Read them; the law’s outer limit is ten business days.',
            'consent/replies',
            { count, since: oldest },
          ),
        ]
      : []),
    ...(unproven > 0
      ? [
          matter(
            'note',
            `${unproven.toLocaleString('en-US')} claims of consent without proof`,
            'They do not open the gate. File the forms, or invite people to the opt-in page.',
            'consent/claims',
            { count: unproven },
          ),
        ]
      : []),
    ...(voided > 0
      ? [
          matter(
            'note',
            `${voided.toLocaleString('en-US')} number${voided === 1 ? '' : 's'} changed hands since consent`,
            'Nothing promotional is sent there. Ask the people by e-mail for their new number.',
            'contacts?promotional=voided',
            { count: voided },
          ),
        ]
      : []),
  ];
}

/** Who asks for proof by a day: overdue it stops everything else, before that it is open. */
async function ofEvidence(evidence: EvidenceRequests, id: string): Promise<Matter[]> {
  return (await evidence.due(id)).map(({ request, due, overdue }) => {
    const n = request.numbers.length;
    return matter(
      overdue ? 'stop' : 'hold',
      `${request.who === '' ? 'The person asks' : `${request.who} asks`} for proof of consent`,
      `About ${n === 1 ? 'one number' : `${n.toLocaleString('en-US')} numbers`}${request.reference ? `, ${request.reference}` : ''}. Hand over the evidence pack and note that you did.`,
      `consent/evidence?open=${request.id}`,
      { due, since: request.askedAt },
    );
  });
}

/** A registry of more than 31 days, and a list whose file was not read to its end. */
async function ofLists(suppression: SuppressionLists, id: string): Promise<Matter[]> {
  return (await suppression.list(id)).flatMap((l) => [
    ...(l.stale
      ? [
          matter(
            'hold',
            `“${l.name}” is ${l.daysOld} days old`,
            'A do-not-call list may be 31 days old at most. Bring in a newer file before the next offers.',
            `consent/suppression?open=${l.id}`,
          ),
        ]
      : []),
    ...(l.reading
      ? [
          matter(
            'note',
            `“${l.name}” was not read to its end`,
            'What was read of it keeps off already. Choose its file again, or leave it.',
            `consent/suppression?open=${l.id}`,
          ),
        ]
      : []),
  ]);
}

/** Ways in that are offered still, and whose number is in service no more. */
async function ofClosedWays(pages: Pages, keywords: Keywords, id: string): Promise<Matter[]> {
  const [closed, silent] = await Promise.all([pages.unanswered(id), keywords.unanswered(id)]);
  return [
    ...closed.map((page) =>
      matter(
        'stop',
        `Nobody can join on “${page.title}”`,
        `${formatPhone(page.e164)}, which asks for the YES, is not in service. Choose another number, or pause the page.`,
        `consent/pages?open=${page.id}`,
      ),
    ),
    ...silent.map((k) =>
      matter(
        'stop',
        `Nobody can text “${k.title}”`,
        `${formatPhone(k.e164)} is not in service: whoever reads the sign is not heard. Choose another number, or pause it.`,
        `consent/keywords?open=${k.id}`,
      ),
    ),
  ];
}

/** So few codes are said before they run out. */
const FEW_CODES = 20;

async function ofCodes(keywords: Keywords, id: string): Promise<Matter[]> {
  return (await keywords.codesLeft(id))
    .filter((k) => k.left < FEW_CODES)
    .map((k) =>
      matter(
        k.left === 0 ? 'hold' : 'note',
        k.left === 0
          ? `No code is left of “${k.title}”`
          : `${k.left === 1 ? 'One code is' : `${k.left} codes are`} left of “${k.title}”`,
        k.left === 0
          ? 'Who joins gets the words that stand in its place. Add codes.'
          : 'Each is given once. Add codes before they run out.',
        `consent/keywords?open=${k.id}`,
      ),
    );
}

/** Whose consent ends soon and who was not asked; who was can answer by themselves. */
async function ofExpiry(expiry: Expiry, id: string): Promise<Matter[]> {
  const { on, notAsked, months } = await expiry.read(id);
  return on && notAsked > 0
    ? [
        matter(
          'note',
          `The consent of ${notAsked === 1 ? 'one person' : `${notAsked.toLocaleString('en-US')} people`} ends soon, and no letter asked them`,
          `Nobody was in contact for ${months} months. Whatever they are sent, or write, keeps it; see why each was not asked.`,
          'consent/expiry?asked=no',
          { count: notAsked },
        ),
      ]
    : [];
}
