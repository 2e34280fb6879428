import {
  formatPhone,
  PAGE_WORDS,
  PURPOSES,
  PERSONAL_WORDS,
  type PersonalOutcome,
  type PersonalPage,
  type PersonalWish,
  type KindStanding,
} from '@long-gate/core';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { Problem } from '../../../platform/problem.js';
import type { Contacts } from '../../contacts/index.js';
import type { Ledger } from '../ledger.js';
import { hashOf, linkOver } from '../letters.js';
import { wrongPhone, type NewNumbers } from '../new-numbers.js';
import type { CameFrom, PublicPages } from '../pages/public-pages.js';
import type { Replies } from '../replies.js';
import * as store from './invitation-store.js';
import type { PersonalLinkModel } from './model.js';

type Kind = 'informational' | 'promotional';
/** What somebody sends from their page. */
export interface PersonalForm {
  wish: PersonalWish;
  purposes: Kind[];
  phone: string;
  words: string;
}

/** The page behind a personal link: what stands for this person, and what they make of it. */
export class PersonalPages {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly pages: PublicPages,
    private readonly replies: Replies,
    private readonly numbers: NewNumbers,
  ) {
    p.db.facts.on('consent.changed', (w, { businessId, e164s }) => this.saidYes(w, businessId, e164s));
  }

  /** A link that is good. @throws Problem 404 */
  private async good(r: Reader, token: string): Promise<PersonalLinkModel> {
    const link = await store.linkByHash(r, hashOf(token));
    if (!link || link.withdrawnAt || link.expiresAt <= this.p.clock.now()) throw linkOver();
    return link;
  }

  /** The page as it stands. @throws Problem 404 */
  async read(token: string): Promise<{ page: PersonalPage; words: string }> {
    const link = await this.good(this.p.db, token);
    if (!link.openedAt)
      await this.p.db.write(async (w) => {
        const current = await this.good(w, token);
        if (!current.openedAt) await current.update({ openedAt: this.p.clock.now() });
      });
    return this.shown(this.p.db, link);
  }

  private async shown(r: Reader, link: PersonalLinkModel): Promise<{ page: PersonalPage; words: string }> {
    const { businessId, pageId, e164 } = link;
    const offered = await this.pages.publicById(r, businessId, pageId);
    const states = await this.ledger.statesOf(r, businessId, e164);
    const [person] = await this.contacts.people(r, businessId, [e164]);
    const standing = (x: Kind): KindStanding =>
      states[x].state === 'granted' ? 'in' : states[x].askedAt !== null ? 'awaited' : 'out';
    const { language, business, privacyUrl, termsUrl, ground, accent, words } = offered;
    return {
      page: {
        language,
        business,
        firstName: person?.firstName ?? '',
        number: `••• ${e164.slice(-2)}`,
        purposes: offered.purposes.map((x) => ({ ...x, standing: standing(x.purpose) })),
        privacyUrl,
        termsUrl,
        ground,
        accent,
      },
      words,
    };
  }

  /**
   * Does what the person wishes: what they no longer want ends at once; what they want is asked of the handset.
   * @throws Problem 404 where the link is over, 409 where the words have changed, 422 for a number that cannot be.
   */
  async choose(token: string, form: PersonalForm, from: CameFrom): Promise<PersonalOutcome> {
    const link = await this.good(this.p.db, token);
    if (form.wish === 'number') return this.another(token, link, form, from);
    return this.p.db.write(async (w) => {
      const current = await this.good(w, token);
      const { businessId, e164, pageId } = current;
      const came = { ...from, invitation: current.id };
      const { page, words } = await this.shown(w, current);
      if (form.wish === 'choose' && form.words !== words) throw changedWords(PAGE_WORDS[page.language].changed);
      const wants = form.wish === 'choose' ? form.purposes : [];
      const ended = page.purposes
        .filter((x) => x.standing !== 'out' && !wants.includes(x.purpose))
        .map((x) => x.purpose);
      const kept = page.purposes.filter((x) => x.standing === 'in' && wants.includes(x.purpose)).map((x) => x.purpose);
      const asked = page.purposes.filter((x) => x.standing !== 'in' && wants.includes(x.purpose)).map((x) => x.purpose);
      const revoked = form.wish === 'leave' ? [...PURPOSES] : ended;
      if (revoked.length > 0)
        await this.replies.revoke(w, businessId, {
          e164,
          purposes: revoked,
          kind: 'revoked',
          how: 'preference page',
          evidence: {
            ...came,
            agent: from.agent.slice(0, 200),
            ...(form.wish === 'choose' ? {} : { wish: form.wish }),
          },
        });
      let asking = '';
      if (asked.length > 0) {
        await this.pages.limitTo(w, businessId, e164, from.ip, page.language);
        asking = await this.pages.requestFor(w, businessId, pageId, e164, { purposes: asked, words }, came);
      }
      await this.answered(w, current, asked.length > 0 ? 'awaits YES' : kept.length > 0 ? 'kept' : 'left');
      return { wish: form.wish, ended, asked, kept, shown: shownTo(e164), from: asking && formatPhone(asking) };
    });
  }

  /** Another number: looked up at once; what is ticked counts for it with the YES of its own handset. */
  private async another(
    token: string,
    link: PersonalLinkModel,
    form: PersonalForm,
    from: CameFrom,
  ): Promise<PersonalOutcome> {
    const { businessId, pageId } = link;
    const { page, words } = await this.shown(this.p.db, link);
    const t = PERSONAL_WORDS[page.language];
    if (form.words !== words) throw changedWords(PAGE_WORDS[page.language].changed);
    const e164 = await this.numbers.read(businessId, form.phone, link.e164, page.language, t.same);
    const wanted = page.purposes.map((x) => x.purpose).filter((x) => form.purposes.includes(x));
    if (wanted.length === 0)
      throw new Problem(422, 'refused', t.chooseFirst, [{ field: 'purposes', message: t.chooseFirst }]);
    await this.p.db.write((w) => this.pages.limitTo(w, businessId, e164, from.ip, page.language));
    const { answer, not } = await this.numbers.lookUp(businessId, e164, `invitation:${link.id}`, page.language);
    if (not) {
      await this.p.db.write(async (w) => (await this.good(w, token)).update({ why: not.kept }));
      throw wrongPhone(not.said);
    }
    return this.p.db.write(async (w) => {
      const current = await this.good(w, token);
      await this.numbers.give(w, businessId, current.contactId, answer);
      const came = { ...from, invitation: current.id };
      const asking = await this.pages.requestFor(w, businessId, pageId, e164, { purposes: wanted, words }, came);
      await current.update({ newE164: e164, why: '' });
      await this.answered(w, current, 'awaits YES');
      // It was typed on this page a moment ago: whole, it says nothing new.
      return {
        wish: form.wish,
        ended: [],
        asked: wanted,
        kept: [],
        shown: formatPhone(e164),
        from: formatPhone(asking),
      };
    });
  }

  private async answered(w: Writer, link: PersonalLinkModel, chose: 'awaits YES' | 'kept' | 'left'): Promise<void> {
    // Who keeps what they get has joined as before; any other choice is where they stand from now on.
    await link.update({ chose, answeredAt: this.p.clock.now(), ...(chose === 'kept' ? {} : { joinedAt: null }) });
    w.afterCommit(() => this.p.live.tell({ businessId: link.businessId, topic: 'consent' }));
  }

  /** The handset said YES; a number that was given goes first from then on. */
  private async saidYes(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const link of await store.linksAwaiting(w, businessId, e164s)) {
      const e164 = link.newE164 ?? link.e164;
      const states = await this.ledger.statesOf(w, businessId, e164);
      const since = link.answeredAt ?? 0;
      const yes = (['informational', 'promotional'] as const).some(
        (x) => states[x].state === 'granted' && (states[x].since ?? 0) >= since,
      );
      if (!yes) continue;
      await link.update({ joinedAt: this.p.clock.now() });
      if (link.newE164) await this.numbers.takeUp(w, businessId, link.contactId, link.e164, link.newE164);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    }
  }

  /** Whose letters these are, for the page that ends them: also by a link that is over, which still ends them. */
  async letters(token: string): Promise<Pick<PersonalPage, 'language' | 'business' | 'ground' | 'accent'>> {
    const link = await store.linkByHash(this.p.db, hashOf(token));
    if (!link) throw linkOver();
    return this.pages.publicById(this.p.db, link.businessId, link.pageId);
  }

  /** No more letters of this kind to that address. Source: RFC 8058. */
  async endLetters(token: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const link = await store.linkByHash(w, hashOf(token));
      if (!link) throw linkOver();
      const { businessId, email } = link;
      await store.refuseMail(w, {
        businessId,
        emailHash: hashOf(email.toLowerCase()),
        why: 'unsubscribed',
        at: this.p.clock.now(),
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
  }
}

/** Of the number on file nobody is told more than its last figures. */
const shownTo = (e164: string): string => `••• ${e164.slice(-2)}`;
const changedWords = (words: string): Problem =>
  new Problem(409, 'words-changed', words, [{ field: 'purposes', message: words }]);
