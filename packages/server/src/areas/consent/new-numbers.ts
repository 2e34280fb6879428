import { formatPhone, parsePhone, PHONE_REFUSALS, textableBy, type LineType } from '@long-gate/core';
import { GatewayBusy, GatewayDown, type LineAnswer } from '@long-gate/gateways';
import { CONTACT, record } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { Problem, refused } from '../../platform/problem.js';
import type { ContactEdits, Contacts, Lookups } from '../contacts/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger } from './ledger.js';

/** What a line is called to the person whose it is. */
const LINE_WORDS: Record<LineType, string> = {
  mobile: 'a mobile number',
  landline: 'a landline',
  voip: 'an internet line',
  'toll-free': 'a toll-free number',
  none: 'no number in service',
  unknown: 'a number nobody could tell us about',
};

/** Another number that a person gives by their own link: looked up at once, and theirs once its handset said YES. */
export class NewNumbers {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly edits: ContactEdits,
    private readonly lookups: Lookups,
    private readonly ledger: Ledger,
  ) {}

  /**
   * The number as it was written, which is not the old one.
   * @param same what is said where it is.
   * @throws Problem 422 at the field `phone`.
   */
  async read(businessId: string, raw: string, old: string, same: string): Promise<string> {
    const b = await this.businesses.row(this.p.db, businessId);
    const phone = parsePhone(raw, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    if (!phone.ok) throw wrongPhone(PHONE_REFUSALS[phone.reason]);
    if (phone.e164 === old) throw wrongPhone(same);
    return phone.e164;
  }

  /**
   * Asks what kind of line it is, paid once for a key.
   * @returns the answer, and why texts do not reach it where they do not.
   * @throws Problem 503 where nobody can be asked now: what is the business's matter is not the person's.
   */
  async lookUp(businessId: string, e164: string, key: string): Promise<{ answer: LineAnswer; not: string }> {
    try {
      const answer = await this.lookups.one(businessId, e164, key);
      return { answer, not: textableBy(answer.lineType) === 'no' ? LINE_WORDS[answer.lineType] : '' };
    } catch (error) {
      if (error instanceof GatewayBusy || error instanceof GatewayDown || error instanceof Problem)
        throw new Problem(
          503,
          'not-now',
          'Numbers cannot be checked at this moment. Nothing is lost: try again in a few minutes.',
        );
      throw error;
    }
  }

  /** Keeps it as one that the contact gave. */
  async give(w: Writer, businessId: string, contactId: string, answer: LineAnswer): Promise<void> {
    await this.edits.gave(w, businessId, contactId, answer.e164);
    await this.contacts.storeLookup(w, businessId, [answer]);
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id: contactId }));
  }

  /** Whether its handset has agreed to anything. */
  async saidYes(w: Writer, businessId: string, e164: string): Promise<boolean> {
    const states = await this.ledger.statesOf(w, businessId, e164);
    return states.informational.state === 'granted' || states.promotional.state === 'granted';
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
export const notReached = (e164: string, what: string): { said: string; kept: string } => ({
  said: `This is ${what}: texts do not reach it. Give a mobile number.`,
  kept: `${formatPhone(e164)}: ${what}`,
});
