import { lotsOf } from '../../../platform/bulk.js';
import type { Reader } from '../../../platform/db.js';
import { linkById, linksTo } from '../invitations/invitation-store.js';
import type { PersonalLinkModel } from '../invitations/model.js';
import type { NumberRequestModel } from '../number-requests/model.js';
import { requestById, requestsTo } from '../number-requests/number-request-store.js';
import { wordsOf } from './letter-store.js';
import { filledLetter, LINK_KEPT } from './letters.js';

const CHUNK = 500;

/** An e-mail that asked somebody for something, as they got it but for their link, and what came of it. */
export interface SentLetter {
  e164: string;
  what: 'asked by e-mail for a better number' | 'invited by e-mail';
  to: string;
  at: number;
  by: string;
  /** Null of a letter that was sent before letters were kept. */
  letter: { subject: string; text: string } | null;
  /** Another number they gave. */
  given: string | null;
  answeredAt: number | null;
  [more: string]: unknown;
}

/** What the owners of these numbers were asked by e-mail, the first first; not what was held back before it left. */
export async function lettersTo(r: Reader, businessId: string, numbers: readonly string[]): Promise<SentLetter[]> {
  const asked = new Map<string, NumberRequestModel>();
  const invited = new Map<string, PersonalLinkModel>();
  // A number and the one that was given for it may both be asked about.
  for (const part of lotsOf(numbers, CHUNK)) {
    for (const x of await requestsTo(r, businessId, part)) if (x.failed !== 'held back') asked.set(x.id, x);
    for (const x of await linksTo(r, businessId, part)) if (x.failed !== 'held back') invited.set(x.id, x);
  }
  return sent(r, businessId, [...asked.values()], [...invited.values()]);
}

/** The letter behind an event: by its link, or its page for a better number, the person came; null where none was. */
export async function letterBehind(
  r: Reader,
  businessId: string,
  evidence: Record<string, string>,
): Promise<SentLetter | null> {
  const request = await requestById(r, businessId, evidence['numberRequest'] ?? '');
  const link = await linkById(r, evidence['invitation'] ?? '');
  const own = link?.businessId === businessId ? [link] : [];
  return (await sent(r, businessId, request ? [request] : [], own))[0] ?? null;
}

async function sent(
  r: Reader,
  businessId: string,
  asked: readonly NumberRequestModel[],
  invited: readonly PersonalLinkModel[],
): Promise<SentLetter[]> {
  const digests = new Set([...asked, ...invited].map((x) => x.words ?? ''));
  const words = await wordsOf(r, businessId, [...digests]);
  const letter = (x: NumberRequestModel | PersonalLinkModel): SentLetter['letter'] => {
    const kept = words.get(x.words ?? '');
    const to = { firstName: x.firstName ?? '', lastName: x.lastName ?? '' };
    return kept ? { subject: filledLetter(kept.subject, to, ''), text: filledLetter(kept.text, to, LINK_KEPT) } : null;
  };
  return [
    ...asked.map((x) => ({
      e164: x.oldE164,
      what: 'asked by e-mail for a better number' as const,
      to: x.email,
      at: x.askedAt,
      by: x.askedBy,
      letter: letter(x),
      given: x.newE164 ?? null,
      answeredAt: x.answeredAt ?? null,
      state: x.state,
      confirmedAt: x.confirmedAt,
      failed: x.failed,
      why: x.why,
    })),
    ...invited.map((x) => ({
      e164: x.e164,
      what: 'invited by e-mail' as const,
      to: x.email,
      at: x.sentAt,
      by: x.sentBy,
      letter: letter(x),
      given: x.newE164 ?? null,
      answeredAt: x.answeredAt ?? null,
      openedAt: x.openedAt,
      chose: x.chose,
      joinedAt: x.joinedAt,
      failed: x.failed,
      why: x.why,
      withdrawnAt: x.withdrawnAt,
    })),
  ].sort((a, b) => a.at - b.at);
}
