import {
  filledWords,
  formatPhone,
  PAGE_WORDS,
  parsePhone,
  PERSONAL_WORDS,
  textableBy,
  type PageLanguage,
} from '@long-gate/core';
import { GatewayBusy, GatewayDown, type LineAnswer } from '@long-gate/gateways';
import { CONTACT, record } from '../../../platform/audit.js';
import type { Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { Problem, refused } from '../../../platform/problem.js';
import type { ContactEdits, Contacts, Lookups } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';

const HOUR_MS = 3_600_000;

/** Another number that a person gives by their own link: looked up at once, and theirs once its handset said YES. */
export class NewNumbers {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly edits: ContactEdits,
    private readonly lookups: Lookups,
  ) {}

  /**
   * The number as it was written, which is not the old one.
   * @param same what is said where it is.
   * @throws Problem 422 at the field `phone`, in the language of the page.
   */
  async read(businessId: string, raw: string, old: string, language: PageLanguage, same: string): Promise<string> {
    const b = await this.businesses.row(this.p.db, businessId);
    const phone = parsePhone(raw, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    if (!phone.ok) throw wrongPhone(PAGE_WORDS[language].phoneFaults[phone.reason]);
    if (phone.e164 === old) throw wrongPhone(same);
    return phone.e164;
  }

  /**
   * Asks what kind of line it is, paid once an hour for a link: a phone that was switched off may be on in the next.
   * @returns the answer, and why texts do not reach it where they do not: to its owner, and for staff.
   * @throws Problem 503 where nobody can be asked now: what is the business's matter is not the person's.
   */
  async lookUp(
    businessId: string,
    e164: string,
    link: string,
    language: PageLanguage,
  ): Promise<{ answer: LineAnswer; not: { said: string; kept: string } | null }> {
    const t = PERSONAL_WORDS[language];
    const key = `${link}:${e164}:${Math.floor(this.p.clock.now() / HOUR_MS)}`;
    try {
      const answer = await this.lookups.one(businessId, e164, key);
      const { lineType, reachable } = answer;
      const kept = (what: string): string => `${formatPhone(e164)}: ${what}`;
      if (textableBy(lineType) === 'no')
        return {
          answer,
          not: {
            said: filledWords(t.notReached, { line: t.lines[lineType] }),
            kept: kept(PERSONAL_WORDS.en.lines[lineType]),
          },
        };
      return { answer, not: reachable ? null : { said: t.unreachable, kept: kept('switched off, or out of service') } };
    } catch (error) {
      if (error instanceof GatewayBusy || error instanceof GatewayDown || error instanceof Problem)
        throw new Problem(503, 'not-now', t.notNow);
      throw error;
    }
  }

  /** Keeps it as one that the contact gave. */
  async give(w: Writer, businessId: string, contactId: string, answer: LineAnswer): Promise<void> {
    await this.edits.gave(w, businessId, contactId, answer.e164);
    await this.contacts.storeLookup(w, businessId, [answer]);
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id: contactId }));
  }

  /** Texts go to the new number from now on, and staff see it. */
  async takeUp(w: Writer, businessId: string, contactId: string, old: string, e164: string): Promise<void> {
    const preferred = await this.edits.takeUp(w, businessId, contactId, e164);
    await record(w, this.p.clock, {
      businessId,
      actor: CONTACT,
      action: preferred ? 'better number confirmed' : 'better number confirmed: it is another contact’s, merge the two',
      objectKind: 'contact',
      objectId: contactId,
      before: { e164: old },
      after: { e164 },
    });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id: contactId }));
  }
}

export const wrongPhone = (message: string): Problem => refused(message, [{ field: 'phone', message }]);
