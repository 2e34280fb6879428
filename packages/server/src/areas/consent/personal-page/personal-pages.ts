import {
  formatPhone,
  PAGE_WORDS,
  PURPOSES,
  PERSONAL_WORDS,
  personalPage,
  withoutPerson,
  type PersonalOutcome,
  type PersonalPage,
  type PersonalWish,
  type KindStanding,
  type PageLanguage,
} from '@long-gate/core';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { Problem } from '../../../platform/problem.js';
import type { Contacts } from '../../contacts/index.js';
import type { Ledger } from '../ledger/ledger.js';
import { linkOver } from '../letters/letters.js';
import { wrongPhone, type NewNumbers } from '../number-requests/new-numbers.js';
import type { CameFrom, PublicPages } from '../pages/public-pages.js';
import type { Replies } from '../replies.js';
import type { PersonLink } from './person-link.js';

type Kind = 'informational' | 'promotional';
/** What somebody sends from their page. */
export interface PersonalForm {
  wish: PersonalWish;
  purposes: Kind[];
  phone: string;
  words: string;
}

/** Where links come from: whose key it is, or null. */
export interface LinkSource {
  byKey(r: Reader, key: string): Promise<PersonLink | null>;
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
    private readonly links: LinkSource,
  ) {}

  /** A link that is good. @throws Problem 404 */
  private async good(r: Reader, token: string): Promise<PersonLink> {
    const link = await this.links.byKey(r, token);
    if (!link || link.withdrawn || link.expiresAt <= this.p.clock.now()) throw linkOver();
    return link;
  }

  /** The page as it stands. @throws Problem 404 */
  async read(token: string): Promise<{ page: PersonalPage; words: string }> {
    const link = await this.good(this.p.db, token);
    if (!link.opened)
      await this.p.db.write(async (w) => {
        const current = await this.good(w, token);
        if (!current.opened) await current.open(w);
      });
    return this.shown(this.p.db, link);
  }

  private async shown(r: Reader, link: PersonLink): Promise<{ page: PersonalPage; words: string }> {
    const { businessId, pageId, e164 } = link;
    const offered = await this.pages.publicById(r, businessId, pageId);
    const [states, [person]] = await Promise.all([
      this.ledger.statesOf(r, businessId, e164),
      this.contacts.people(r, businessId, [e164]),
    ]);
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
        another: link.another !== null,
        privacyUrl,
        termsUrl,
        ground,
        accent,
      },
      words,
    };
  }

  /**
   * Does what the person wishes: what they no longer want ends at once; what they want is asked of the handset, or holds
   * at once where the link was texted to it within a day.
   * @throws Problem 404 where the link is over, 409 where the words have changed, 422 for a number that cannot be.
   */
  async choose(token: string, form: PersonalForm, from: CameFrom): Promise<PersonalOutcome> {
    const link = await this.good(this.p.db, token);
    if (form.wish === 'number') {
      if (link.another) return this.another(token, link, form, from);
      // No page offers it: nothing is done, and least of all what is not ticked taken for not wanted.
      throw new Problem(422, 'invalid', PERSONAL_WORDS.en.nothing);
    }
    return this.p.db.write(async (w) => {
      const current = await this.good(w, token);
      const { businessId, e164, pageId } = current;
      const came = { ...from, ...current.evidence };
      const { page, words } = await this.shown(w, current);
      if (form.wish === 'choose' && form.words !== words) throw changedWords(PAGE_WORDS[page.language].changed);
      const wants = form.wish === 'choose' ? form.purposes : [];
      const ended = page.purposes
        .filter((x) => x.standing !== 'out' && !wants.includes(x.purpose))
        .map((x) => x.purpose);
      const kept = page.purposes.filter((x) => x.standing === 'in' && wants.includes(x.purpose)).map((x) => x.purpose);
      const wanted = page.purposes
        .filter((x) => x.standing !== 'in' && wants.includes(x.purpose))
        .map((x) => x.purpose);
      const atOnce = wanted.length > 0 && (await current.speaksForHandset(w));
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
      let not: 'tooOften' | 'closed' | null = null;
      if (wanted.length > 0) not = await this.whyNotNow(w, current, from, page.language, revoked.length > 0, atOnce);
      if (wanted.length > 0 && not === null) {
        const chosen = { purposes: wanted, words, page: asKept(page) };
        if (atOnce) await this.pages.joinFor(w, businessId, pageId, e164, chosen, came);
        else asking = await this.pages.requestFor(w, businessId, pageId, e164, chosen, came);
      }
      const begun = not === null ? wanted : [];
      const [joined, asked] = atOnce ? [begun, []] : [[], begun];
      await current.answer(
        w,
        asked.length > 0 ? 'awaits YES' : joined.length > 0 ? 'joined' : kept.length > 0 ? 'kept' : 'left',
      );
      const shown = { shown: shownTo(e164), from: asking && formatPhone(asking) };
      const refused = { tooOften: not === 'tooOften' ? wanted : [], closed: not === 'closed' ? wanted : [] };
      return { wish: form.wish, ended, joined, asked, ...refused, kept, ...shown };
    });
  }

  /**
   * Why what is wanted cannot be begun now: more was wanted today than is asked for, or no number can ask for it. Null
   * where it can be; then it is counted.
   * @param left something ends with the same wish: that stands, whatever becomes of the rest.
   * @param atOnce nobody need be asked: the link speaks for the handset.
   * @throws Problem 409, 429 where nothing ends.
   */
  private async whyNotNow(
    w: Writer,
    { businessId, e164, pageId }: PersonLink,
    from: CameFrom,
    language: PageLanguage,
    left: boolean,
    atOnce: boolean,
  ): Promise<'tooOften' | 'closed' | null> {
    try {
      if (!atOnce) await this.pages.checkAsking(w, businessId, pageId);
      await this.pages.limitTo(w, businessId, e164, from.ip, language);
      return null;
    } catch (error) {
      if (!left || !(error instanceof Problem)) throw error;
      if (error.status === 429) return 'tooOften';
      if (error.code === 'paused') return 'closed';
      throw error;
    }
  }

  /** Another number: looked up at once; what is ticked counts for it with the YES of its own handset. */
  private async another(token: string, link: PersonLink, form: PersonalForm, from: CameFrom): Promise<PersonalOutcome> {
    const { businessId, pageId } = link;
    const { page, words } = await this.shown(this.p.db, link);
    const t = PERSONAL_WORDS[page.language];
    if (form.words !== words) throw changedWords(PAGE_WORDS[page.language].changed);
    const e164 = await this.numbers.read(businessId, form.phone, link.e164, page.language, t.same);
    const wanted = page.purposes.map((x) => x.purpose).filter((x) => form.purposes.includes(x));
    if (wanted.length === 0)
      throw new Problem(422, 'refused', t.chooseFirst, [{ field: 'purposes', message: t.chooseFirst }]);
    await this.pages.checkAsking(this.p.db, businessId, pageId);
    await this.p.db.write((w) => this.pages.limitTo(w, businessId, e164, from.ip, page.language));
    const [came] = Object.values(link.evidence);
    const { answer, not } = await this.numbers.lookUp(businessId, e164, `invitation:${came ?? ''}`, page.language);
    if (not) {
      await this.p.db.write(async (w) => (await this.good(w, token)).another?.refused(w, not.kept));
      throw wrongPhone(not.said);
    }
    return this.p.db.write(async (w) => {
      const current = await this.good(w, token);
      await current.another?.given(w, answer);
      const came = { ...from, ...current.evidence };
      const asking = await this.pages.requestFor(
        w,
        businessId,
        pageId,
        e164,
        { purposes: wanted, words, page: asKept(page) },
        came,
      );
      await current.answer(w, 'awaits YES');
      // It was typed on this page a moment ago: whole, it says nothing new.
      return {
        wish: form.wish,
        ended: [],
        joined: [],
        asked: wanted,
        tooOften: [],
        closed: [],
        kept: [],
        shown: formatPhone(e164),
        from: formatPhone(asking),
      };
    });
  }
}

/** The page as it was seen, to be kept: the same of all who stand alike. */
const asKept = (page: PersonalPage): string => personalPage(withoutPerson(page), { as: 'kept' });
/** Of the number on file nobody is told more than its last figures. */
const shownTo = (e164: string): string => `••• ${e164.slice(-2)}`;
const changedWords = (words: string): Problem =>
  new Problem(409, 'words-changed', words, [{ field: 'purposes', message: words }]);
