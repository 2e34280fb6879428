import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import type { Ledger } from '../ledger/ledger.js';
import { endLettersTo, hashOf, linkOver, type LettersOf } from '../letters/letters.js';
import type { NewNumbers } from '../number-requests/new-numbers.js';
import type { PublicPages } from '../pages/public-pages.js';
import type { PersonLink } from '../personal-page/person-link.js';
import * as store from './invitation-store.js';
import type { PersonalLinkModel } from './model.js';

/** The links in letters that invite: to the page of the person invited, and to no more letters. */
export class InvitationLinks {
  constructor(
    private readonly p: Platform,
    private readonly ledger: Ledger,
    private readonly pages: PublicPages,
    private readonly numbers: NewNumbers,
  ) {
    p.db.facts.on('consent.changed', (w, { businessId, e164s }) => this.saidYes(w, businessId, e164s));
  }

  /** The link of a token; null where there is none such. */
  async byKey(r: Reader, token: string): Promise<PersonLink | null> {
    const link = await store.linkByHash(r, hashOf(token));
    return link && this.personLink(link);
  }

  private personLink(link: PersonalLinkModel): PersonLink {
    const { businessId, pageId, e164, expiresAt } = link;
    return {
      businessId,
      pageId,
      e164,
      expiresAt,
      withdrawn: Boolean(link.withdrawnAt),
      opened: Boolean(link.openedAt),
      evidence: { invitation: link.id },
      another: {
        refused: async (_w, why) => {
          await link.update({ why });
        },
        given: async (w, answer) => {
          await this.numbers.give(w, businessId, link.contactId, answer);
          await link.update({ newE164: answer.e164, why: '' });
        },
      },
      speaksForHandset: () => Promise.resolve(false),
      open: async () => {
        await link.update({ openedAt: this.p.clock.now() });
      },
      answer: async (w, chose) => {
        // Who keeps what they get has joined as before; any other choice is where they stand from now on.
        await link.update({
          chose: chose === 'joined' ? 'kept' : chose,
          answeredAt: this.p.clock.now(),
          ...(chose === 'kept' ? {} : { joinedAt: null }),
        });
        w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
      },
    };
  }

  /** The handset said YES; a number that was given goes first from then on. */
  private async saidYes(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const link of await store.linksAwaiting(w, businessId, e164s)) {
      const e164 = link.newE164 ?? link.e164;
      if (!(await this.ledger.joinedSince(w, businessId, e164, link.answeredAt ?? 0))) continue;
      await link.update({ joinedAt: this.p.clock.now() });
      if (link.newE164) await this.numbers.takeUp(w, businessId, link.contactId, link.e164, link.newE164);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    }
  }

  /** Whose letters these are, for the page that ends them: also by a link that is over, which still ends them. */
  async letters(token: string): Promise<LettersOf> {
    const link = await store.linkByHash(this.p.db, hashOf(token));
    if (!link) throw linkOver();
    return this.pages.publicById(this.p.db, link.businessId, link.pageId);
  }

  /** No more letters of any kind to that address. Source: RFC 8058. */
  async endLetters(token: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const link = await store.linkByHash(w, hashOf(token));
      if (!link) throw linkOver();
      await endLettersTo(w, this.p, link.businessId, link.email);
    });
  }
}
