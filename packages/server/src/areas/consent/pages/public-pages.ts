import type { PublicPage } from '@long-gate/contracts';
import {
  CONFIRM_WITHIN_MS,
  disclosureOf,
  filledWords,
  formatPhone,
  PAGE_FIELDS,
  PAGE_WORDS,
  parsePhone,
  PURPOSES,
  type PageField,
  type PageLanguage,
  type LedgerEvent,
  type PageWords,
} from '@long-gate/core';
import { CONTACT } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import { clientAddress } from '../../../platform/http/client-address.js';
import { DAY_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound, Problem, refused } from '../../../platform/problem.js';
import { SinceWrite } from '../../../platform/since-write.js';
import type { Contacts } from '../../contacts/index.js';
import type { Numbers } from '../../numbers/index.js';
import type { Businesses, BusinessRow } from '../../settings/index.js';
import type { OptInWish } from '../confirmations.js';
import type { Ledger } from '../ledger/ledger.js';
import { sha256 } from '../ledger/ledger-check.js';
import type { Replies } from '../replies.js';
import { KeptPages } from './kept-pages.js';
import type { OptinPageModel } from './model.js';
import * as store from './page-store.js';
import { wasPublished } from './page-version-store.js';

/**
 * At most so many opt-ins, and so many departures, for one number and for one address a day; and so many confirming
 * texts of a business to one area code, against those who have paid texts sent for their own gain.
 */
const A_DAY = { number: 3, address: 40, area: 500 };
/** Visits of one address that are counted, a day. */
const VISITS_A_DAY = 200;

/** What somebody fills in on a page. */
export interface PageForm extends Partial<Record<PageField, string>> {
  phone: string;
  purposes: ('informational' | 'promotional')[];
  words: string;
}
/** What somebody chose on a page behind their link, by its words, with that page as it is kept. */
export interface ChosenBehindLink {
  purposes: ('informational' | 'promotional')[];
  words: string;
  page: string;
}
/** Where a wish came from, which is kept with it. */
export interface CameFrom {
  ip: string;
  agent: string;
  /** The page of another site that showed the form. */
  site?: string;
  /** The personal link by which they came. */
  numberRequest?: string;
  invitation?: string;
  /** The text whose link they came by. */
  message?: string;
}
/** Whether they chose on a page of their own. */
const onOwnPage = (from: CameFrom): boolean => from.invitation !== undefined || from.message !== undefined;

/** The contact's side of opt-in pages: what they see, joining, and leaving. */
export class PublicPages {
  private readonly kept: KeptPages;
  /** Pages that many people of one invitation open at the same time. */
  private readonly offered: SinceWrite<PublicPage>;

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly replies: Replies,
    private readonly numbers: Numbers,
    documents: Documents,
  ) {
    this.kept = new KeptPages(p, documents);
    this.offered = new SinceWrite(p.db);
  }

  /** A page that is published, or was: who comes to it later is told that it is paused. @throws Problem 404 */
  private async open(r: Reader, slug: string): Promise<OptinPageModel> {
    const row = await store.pageBySlug(r, slug);
    if (!row || !(row.published || (await wasPublished(r, row.businessId, row.id)))) throw notFound('page');
    return row;
  }

  async publicPage(slug: string): Promise<PublicPage> {
    const row = await this.open(this.p.db, slug);
    const b = await this.businesses.row(this.p.db, row.businessId);
    return this.shown(this.p.db, row, b);
  }

  /** Sites that may show the page's form. @throws Problem 404 */
  async sitesOf(slug: string): Promise<readonly string[]> {
    return (await this.open(this.p.db, slug)).onSite?.sites ?? [];
  }

  /** How the page's form is shown on another site; null where none shows it. @throws Problem 404 */
  async onSite(slug: string): Promise<OptinPageModel['onSite']> {
    const row = await this.open(this.p.db, slug);
    return (await this.isOpen(this.p.db, row)) ? row.onSite : null;
  }

  /** The picture on top of a page. @throws Problem 404 */
  async picture(slug: string): Promise<{ type: string; bytes: Buffer }> {
    const picture = await this.kept.pictureOf(this.p.db, await this.open(this.p.db, slug));
    if (!picture) throw notFound('picture');
    return picture;
  }

  /** Somebody sees the page, or begins to fill it in. @returns whether it was counted: so many a day of one address are. */
  async look(slug: string, step: 'seen' | 'begun', address: string): Promise<boolean> {
    return this.p.db.write(async (w) => {
      const row = await this.open(w, slug);
      const limit = { act: `page ${step}`, who: address, most: VISITS_A_DAY, withinMs: DAY_MS };
      if (await this.p.limits.full(w, [limit])) return false;
      await this.p.limits.note(w, [limit]);
      await store.countVisit(w, this.counted(row), step);
      return true;
    });
  }

  private counted({ id, pageVersion }: OptinPageModel): store.CountedPage {
    return { pageId: id, pageVersion, at: this.p.clock.now() };
  }

  /** Keeps a page that is published as it can be seen from now on. */
  async keepShown(w: Writer, businessId: string, id: string): Promise<void> {
    const row = await store.pageById(w, businessId, id);
    if (row?.published)
      await this.kept.keep(w, row, await this.shown(w, row, await this.businesses.row(w, businessId)));
  }

  /** Whether somebody can join: it is published, and there is a number that can ask them for their YES. */
  async isOpen(r: Reader, { published, businessId, numberId }: OptinPageModel): Promise<boolean> {
    return published && (await this.numbers.canBeAnswered(r, businessId, numberId));
  }

  private async shown(r: Reader, row: OptinPageModel, b: BusinessRow): Promise<PublicPage> {
    const { slug, title, intro, privacyUrl, termsUrl, language, ground, accent, button, thanks, thanksCode } = row;
    const purposes = row.purposes.map((x) => ({
      purpose: x.purpose,
      disclosure: disclosureOf(b.legal_name, { ...x, language }, { privacyUrl, termsUrl }),
    }));
    return {
      slug,
      title,
      intro,
      privacyUrl,
      termsUrl,
      language,
      ground,
      accent,
      button,
      thanks,
      thanksCode,
      asks: row.asks,
      business: b.legal_name,
      nameLine: b.name_line,
      picture: row.pictureId
        ? { src: `/join/${slug}/picture/${row.pictureSha256.slice(0, 12)}`, words: row.pictureWords }
        : null,
      purposes,
      words: sha256(JSON.stringify(purposes)).slice(0, 32),
      paused: !(await this.isOpen(r, row)),
    };
  }

  /**
   * Somebody fills in the page. Whoever it is, nothing changes for the owner of the number until their own handset says
   * YES: what is recorded is that it was asked, with the words that were before the person's eyes.
   */
  async optIn(slug: string, form: PageForm, from: CameFrom): Promise<{ shown: string; from: string }> {
    return this.p.db.write(async (w) => {
      const row = await this.open(w, slug);
      const b = await this.businesses.row(w, row.businessId);
      const page = await this.shown(w, row, b);
      const t = PAGE_WORDS[page.language];
      if (page.paused) throw new Problem(409, 'paused', `${t.paused}.`);
      const phone = this.numberIn(form.phone, b, t);
      const faults = PAGE_FIELDS.flatMap((field) => {
        const value = (page.asks[field] === 'no' ? '' : (form[field] ?? '')).trim();
        if (value === '') return page.asks[field] === 'needed' ? [{ field, message: t.needed }] : [];
        return field === 'email' && !/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(value) ? [{ field, message: t.noEmail }] : [];
      });
      if (faults.length > 0) throw refused(faults.map((f) => f.message).join(' '), faults);
      const wanted = await this.wantedOf(w, page, row.businessId, phone, form);
      await this.limit(w, 'opt-in', row.businessId, phone, from.ip, t.often);
      if (wanted.length > 0) {
        const given = Object.fromEntries(
          PAGE_FIELDS.filter((f) => page.asks[f] !== 'no').map((f) => [f, (form[f] ?? '').trim()]),
        );
        await this.contacts.ensure(w, CONTACT, row.businessId, phone, given);
        await this.request(w, row, b, phone, wanted, from);
      }
      const asking = await this.numbers.addressOf(w, row.numberId);
      // The answer is the same whether or not this number is known here: the page tells nobody who has agreed.
      return { shown: formatPhone(phone), from: formatPhone(asking) };
    });
  }

  /** Leaving works at once, whoever asks for it: silence does no harm that a START would not undo. */
  async optOut(slug: string, raw: string, evidence: CameFrom): Promise<{ shown: string }> {
    return this.p.db.write(async (w) => {
      const row = await this.open(w, slug);
      const t: PageWords = PAGE_WORDS[row.language as PageLanguage];
      const phone = this.numberIn(raw, await this.businesses.row(w, row.businessId), t);
      const asking = formatPhone(await this.numbers.addressOf(w, row.numberId));
      const often = filledWords(t.leaveOften, { from: asking });
      await this.limit(w, 'opt-out', row.businessId, phone, evidence.ip, often);
      const states = await this.ledger.statesOf(w, row.businessId, phone);
      if (PURPOSES.some((x) => states[x].state !== 'revoked'))
        await this.replies.revoke(w, row.businessId, {
          e164: phone,
          purposes: [...PURPOSES],
          kind: 'revoked',
          how: 'web page',
          evidence: { ...evidence, agent: evidence.agent.slice(0, 200), page: row.slug },
        });
      return { shown: formatPhone(phone) };
    });
  }

  private numberIn(raw: string, b: BusinessRow, { phoneFaults }: PageWords): string {
    const phone = parsePhone(raw, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    if (phone.ok) return phone.e164;
    const message = phoneFaults[phone.reason];
    throw refused(message, [{ field: 'phone', message }]);
  }

  /**
   * Keeps one number, one address and one area code from being filled in over and over. A number may be left as often as
   * it comes back: that costs nobody a text, and is nobody's to refuse.
   */
  private async limit(
    w: Writer,
    act: 'opt-in' | 'opt-out',
    businessId: string,
    phone: string,
    address: string,
    often: string,
  ): Promise<void> {
    const number = { act: 'opt-in number', who: phone, most: A_DAY.number, withinMs: DAY_MS };
    const area = { act: 'opt-in area', who: `${businessId} ${phone.slice(0, 5)}`, most: A_DAY.area, withinMs: DAY_MS };
    await this.p.limits.take(
      w,
      [
        { act: `${act} address`, who: clientAddress({ ip: address }), most: A_DAY.address, withinMs: DAY_MS },
        ...(act === 'opt-in' ? [number, area] : []),
      ],
      often,
    );
  }

  /** A page of the business, published or not. @throws Problem 404 */
  async known(r: Reader, businessId: string, id: string): Promise<OptinPageModel> {
    const row = await store.pageById(r, businessId, id);
    if (!row) throw notFound('page');
    return row;
  }

  publicById(r: Reader, businessId: string, id: string): Promise<PublicPage> {
    const read = async (): Promise<PublicPage> =>
      this.shown(r, await this.known(r, businessId, id), await this.businesses.row(r, businessId));
    // Whoever writes sees what they have written so far.
    return r === this.p.db ? this.offered.get(`${businessId} ${id}`, read) : read();
  }

  /** That somebody chose something of a page, in words that stand. @throws Problem 409, 422 */
  async checkChoice(
    r: Reader,
    businessId: string,
    pageId: string,
    e164: string,
    form: { purposes: readonly ('informational' | 'promotional')[]; words: string },
  ): Promise<void> {
    await this.wantedOf(r, await this.publicById(r, businessId, pageId), businessId, e164, form);
  }

  /** Whether the page's number can ask for a YES: it is in service. */
  async canAsk(r: Reader, businessId: string, pageId: string): Promise<boolean> {
    return this.numbers.canBeAnswered(r, businessId, (await this.known(r, businessId, pageId)).numberId);
  }

  /** That the page's number can ask for a YES, before anything is paid for it. @throws Problem 409 where it is not in service. */
  async checkAsking(r: Reader, businessId: string, pageId: string): Promise<void> {
    const { language } = await this.known(r, businessId, pageId);
    if (!(await this.canAsk(r, businessId, pageId)))
      throw new Problem(409, 'paused', `${PAGE_WORDS[language as PageLanguage].paused}.`);
  }

  /** The limits of an opt-in, for one that begins elsewhere. @throws Problem 429 */
  limitTo(w: Writer, businessId: string, phone: string, address: string, language: PageLanguage): Promise<void> {
    return this.limit(w, 'opt-in', businessId, phone, address, PAGE_WORDS[language].often);
  }

  /**
   * Somebody agrees to what a page offers on a page of their own: it is recorded as asked, and the handset of the number
   * is asked for a YES. What stands already is not asked again.
   * @returns the number that asks.
   * @throws Problem 409 where no number can ask.
   */
  async requestFor(
    w: Writer,
    businessId: string,
    pageId: string,
    e164: string,
    form: ChosenBehindLink,
    from: CameFrom,
  ): Promise<string> {
    const { row, b, wanted } = await this.chosenOn(w, businessId, pageId, e164, form);
    if (wanted.length > 0) {
      await this.checkAsking(w, businessId, pageId);
      await this.request(w, row, b, e164, wanted, from, form.page);
    }
    return this.numbers.addressOf(w, row.numberId);
  }

  /**
   * Somebody agrees on a page of their own, by a link that came to their handset a moment ago: what does not stand
   * already holds from now on, as by a YES, and a text says so.
   */
  async joinFor(
    w: Writer,
    businessId: string,
    pageId: string,
    e164: string,
    form: ChosenBehindLink,
    from: CameFrom,
  ): Promise<void> {
    const { row, b, wanted } = await this.chosenOn(w, businessId, pageId, e164, form);
    const [first] = await this.agreed(w, row, b, e164, wanted, from, false, form.page);
    if (!first) return;
    const { numberId } = row;
    const joined = { businessId, e164, numberId, messageId: first.id, text: '', at: first.happenedAt };
    await this.replies.sayJoined(w, joined, programmesOf(row, wanted));
  }

  /** What somebody chose of a page that does not stand already, with that page and its business. @throws Problem 409, 422 */
  private async chosenOn(
    w: Writer,
    businessId: string,
    pageId: string,
    e164: string,
    form: { purposes: readonly ('informational' | 'promotional')[]; words: string },
  ): Promise<{ row: OptinPageModel; b: BusinessRow; wanted: PublicPage['purposes'] }> {
    const row = await this.known(w, businessId, pageId);
    const b = await this.businesses.row(w, businessId);
    return { row, b, wanted: await this.wantedOf(w, await this.shown(w, row, b), businessId, e164, form) };
  }

  /**
   * What somebody agrees to that does not stand already.
   * @throws Problem 409 where the words have changed since they read them, 422 where nothing was chosen.
   */
  private async wantedOf(
    w: Reader,
    page: PublicPage,
    businessId: string,
    phone: string,
    form: { purposes: readonly ('informational' | 'promotional')[]; words: string },
  ): Promise<PublicPage['purposes']> {
    const t = PAGE_WORDS[page.language];
    if (form.words !== page.words)
      throw new Problem(409, 'words-changed', t.changed, [{ field: 'purposes', message: t.changed }]);
    const offered = page.purposes.filter((x) => form.purposes.includes(x.purpose));
    if (offered.length === 0) throw refused(t.chooseOne, [{ field: 'purposes', message: t.chooseOne }]);
    const states = await this.ledger.statesOf(w, businessId, phone);
    return offered.filter((x) => states[x.purpose].state !== 'granted');
  }

  /**
   * Appends what somebody agreed to, with the words that were before their eyes, and counts it on the page.
   * @param behindLink the page as it was seen, where it was one behind a personal link.
   */
  private async agreed(
    w: Writer,
    row: OptinPageModel,
    b: BusinessRow,
    e164: string,
    wanted: PublicPage['purposes'],
    from: CameFrom,
    awaitsConfirmation: boolean,
    behindLink?: string,
  ): Promise<LedgerEvent[]> {
    const pageSha256 =
      behindLink === undefined
        ? await this.kept.keep(w, row, await this.shown(w, row, b))
        : await this.kept.keepBehindLink(w, row, behindLink);
    const own = onOwnPage(from);
    const events = await this.ledger.append(
      w,
      row.businessId,
      wanted.map((x) => ({
        e164,
        purposes: [x.purpose],
        kind: 'granted' as const,
        awaitsConfirmation,
        how: own ? ('preference page' as const) : ('web page' as const),
        disclosure: x.disclosure,
        disclosureVersion: `${row.slug}, version ${row.pageVersion}`,
        // Kinds of text are counted on the page where they were agreed to, which a personal one is not.
        evidence: {
          ...from,
          agent: from.agent.slice(0, 200),
          ...(own ? { words: row.slug } : { page: row.slug }),
          pageSha256,
        },
      })),
    );
    if (!own && events.length > 0) await store.countOptIns(w, this.counted(row), events.length);
    return events;
  }

  private async request(
    w: Writer,
    row: OptinPageModel,
    b: BusinessRow,
    e164: string,
    wanted: PublicPage['purposes'],
    from: CameFrom,
    behindLink?: string,
  ): Promise<void> {
    const [first] = await this.agreed(w, row, b, e164, wanted, from, true, behindLink);
    if (!first) return;
    await this.p.jobs.add(w, {
      kind: 'optin.confirm',
      businessId: row.businessId,
      payload: {
        e164,
        numberId: row.numberId,
        eventId: first.id,
        programmes: programmesOf(row, wanted),
        termsUrl: row.termsUrl,
      } satisfies OptInWish,
      key: `optin:${first.id}`,
    });
    await this.p.jobs.add(w, {
      kind: 'optin.lapse',
      businessId: row.businessId,
      payload: { e164 },
      at: first.happenedAt + CONFIRM_WITHIN_MS,
      key: `lapse:${first.id}`,
    });
  }
}

/** What was agreed to, as the texts about it name it. */
const programmesOf = (row: OptinPageModel, wanted: PublicPage['purposes']): OptInWish['programmes'] =>
  row.purposes
    .filter((p) => wanted.some((x) => x.purpose === p.purpose))
    .map((p) => ({ ...p, language: row.language }));
