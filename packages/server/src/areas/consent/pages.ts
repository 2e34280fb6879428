import type { OptInPage, PublicPage } from '@long-gate/contracts';
import {
  CONFIRM_WITHIN_MS,
  disclosureOf,
  formatPhone,
  pageAsItWas,
  parsePhone,
  PHONE_REFUSALS,
  PURPOSES,
} from '@long-gate/core';
import type { z } from 'zod';
import type { OptInPageEdit } from '@long-gate/contracts';
import { CONTACT, record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import { DAY_MS } from '../../platform/limits.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../platform/problem.js';
import type { Contacts } from '../contacts/index.js';
import type { Numbers } from '../numbers/index.js';
import type { Businesses, BusinessRow } from '../settings/index.js';
import type { OptInWish } from './confirmations.js';
import type { Ledger } from './ledger.js';
import { sha256 } from './ledger-check.js';
import type { OptinPageModel } from './model.js';
import * as store from './page-store.js';
import { paperForm } from './paper-form.js';
import { keepPage } from './evidence/page-version-store.js';
import type { Replies } from './replies.js';

type Edit = z.output<typeof OptInPageEdit>;
/** So many weeks back it is shown what came of a page. */
const WEEKS = 26;
/** At most so many opt-ins, and so many departures, for one number and for one address a day. */
const A_DAY = { number: 3, address: 40 };

/** Public opt-in pages, and what happens when a contact uses one. */
export class Pages {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly replies: Replies,
    private readonly numbers: Numbers,
  ) {}

  /** Titles of the published pages whose texts come from a number. */
  async using(r: Reader, numberId: string): Promise<string[]> {
    return (await store.pagesFrom(r, numberId)).map((p) => p.title);
  }

  async list(businessId: string): Promise<OptInPage[]> {
    return this.show(this.p.db, await store.pagesOf(this.p.db, businessId));
  }

  async add(actor: Actor, businessId: string, e: Edit): Promise<OptInPage> {
    const id = newId('pag');
    await this.p.db.write(async (w) => {
      await this.check(w, businessId, id, e);
      await store.addPage(w, { id, businessId, ...e, createdAt: Math.round(this.p.clock.now()) });
      await this.keepShown(w, businessId, id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-in page made',
        objectKind: 'page',
        objectId: id,
        after: e,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.get(businessId, id);
  }

  /** Whoever agreed before keeps the words they saw; the page's disclosure gets a new version. */
  async edit(actor: Actor, businessId: string, id: string, seen: number | null, e: Edit): Promise<OptInPage> {
    await this.p.db.write(async (w) => {
      const page = await store.pageById(w, businessId, id);
      if (!page) throw notFound('page');
      expectVersion('page', page, seen);
      await this.check(w, businessId, id, e);
      const before = { ...page.get(), purposes: page.purposes };
      const words =
        JSON.stringify(before.purposes) !== JSON.stringify(e.purposes) ||
        before.privacyUrl !== e.privacyUrl ||
        before.termsUrl !== e.termsUrl;
      await store.savePage(page, e, words);
      await this.keepShown(w, businessId, id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-in page edited',
        objectKind: 'page',
        objectId: id,
        before,
        after: e,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.get(businessId, id);
  }

  private async check(r: Reader, businessId: string, id: string, e: Edit): Promise<void> {
    if (await store.slugIsTaken(r, e.slug, id)) throw conflict(`There is already a page at “${e.slug}”.`);
    if (!(await this.numbers.canBeAnswered(r, businessId, e.numberId)))
      throw refused('Choose an active number of this business.', [
        { field: 'numberId', message: 'Choose an active number; the YES has to arrive.' },
      ]);
    const twice = new Set(e.purposes.map((x) => x.purpose)).size !== e.purposes.length;
    if (twice)
      throw refused('Each purpose stands once on a page.', [{ field: 'purposes', message: 'The same purpose twice.' }]);
  }

  private async get(businessId: string, id: string): Promise<OptInPage> {
    const page = await store.pageById(this.p.db, businessId, id);
    if (!page) throw notFound('page');
    const [shown] = await this.show(this.p.db, [page]);
    return shown as OptInPage;
  }

  private async show(r: Reader, pages: readonly OptinPageModel[]): Promise<OptInPage[]> {
    const last = store.weekOf(this.p.clock.now());
    const first = last - WEEKS + 1;
    const counted = new Map(
      (
        await store.weeksOf(
          r,
          pages.map((x) => x.id),
          first,
        )
      ).map((x) => [`${x.pageId} ${x.week}`, x] as const),
    );
    return pages.map((page) => {
      const { id, slug, title, intro, purposes, numberId, privacyUrl, termsUrl, published, optIns, version } = page;
      const weeks = Array.from({ length: WEEKS }, (_, i) => {
        const of = counted.get(`${id} ${first + i}`);
        return { from: store.mondayOf(first + i), agreed: of?.agreed ?? 0, confirmed: of?.confirmed ?? 0 };
      });
      const { pageVersion } = page;
      return {
        id,
        slug,
        title,
        intro,
        purposes,
        numberId,
        privacyUrl,
        termsUrl,
        published,
        pageVersion,
        optIns,
        weeks,
        version,
      };
    });
  }

  // -- the contact's side ----------------------------------------------------------------------------------------

  private async published(r: Reader, slug: string): Promise<OptinPageModel> {
    const row = await store.publishedPage(r, slug);
    if (!row) throw notFound('page');
    return row;
  }

  async publicPage(slug: string): Promise<PublicPage> {
    const row = await this.published(this.p.db, slug);
    const b = await this.businesses.row(this.p.db, row.businessId);
    return this.shown(row, b);
  }

  /** Keeps a page that is published as it can be seen from now on. */
  private async keepShown(w: Writer, businessId: string, id: string): Promise<void> {
    const row = await store.pageById(w, businessId, id);
    if (row?.published) await this.keep(w, row, this.shown(row, await this.businesses.row(w, businessId)));
  }

  /** Keeps a page as it was seen, once. @returns its digest, by which an event names it. */
  private async keep(w: Writer, row: OptinPageModel, page: PublicPage): Promise<string> {
    const html = pageAsItWas(page);
    const digest = sha256(html);
    await keepPage(w, {
      businessId: row.businessId,
      sha256: digest,
      pageId: row.id,
      pageVersion: row.pageVersion,
      title: row.title,
      html,
      firstAt: Math.round(this.p.clock.now()),
    });
    return digest;
  }

  private shown(row: OptinPageModel, b: BusinessRow): PublicPage {
    const purposes = row.purposes.map((x) => ({
      purpose: x.purpose,
      disclosure: disclosureOf(b.legal_name, x, { privacyUrl: row.privacyUrl, termsUrl: row.termsUrl }),
    }));
    return {
      slug: row.slug,
      business: b.legal_name,
      nameLine: b.name_line,
      title: row.title,
      intro: row.intro,
      privacyUrl: row.privacyUrl,
      termsUrl: row.termsUrl,
      open: b.account_state === 'open',
      purposes,
      words: sha256(JSON.stringify(purposes)).slice(0, 32),
    };
  }

  /**
   * Somebody fills in the page. Whoever it is, nothing changes for the owner of the number until their own handset says
   * YES: what is recorded is that it was asked, with the words that were before the person's eyes.
   */
  async optIn(
    slug: string,
    form: { phone: string; firstName: string; purposes: ('informational' | 'promotional')[]; words: string },
    evidence: { ip: string; agent: string },
  ): Promise<{ shown: string; from: string }> {
    return this.p.db.write(async (w) => {
      const row = await this.published(w, slug);
      const b = await this.businesses.row(w, row.businessId);
      const page = this.shown(row, b);
      const phone = this.numberIn(form.phone, b);
      await this.limit(w, 'opt-in', phone, evidence.ip);
      const wanted = await this.wantedOf(w, page, row.businessId, phone, form);
      if (wanted.length > 0) {
        await this.contacts.ensure(w, CONTACT, row.businessId, phone, form.firstName);
        await this.request(w, row, phone, wanted, evidence);
      }
      const from = await this.numbers.addressOf(w, row.numberId);
      // The answer is the same whether or not this number is known here: the page tells nobody who has agreed.
      return { shown: formatPhone(phone), from: formatPhone(from) };
    });
  }

  /** Leaving works at once, whoever asks for it: silence does no harm that a START would not undo. */
  async optOut(slug: string, raw: string, evidence: { ip: string; agent: string }): Promise<{ shown: string }> {
    return this.p.db.write(async (w) => {
      const row = await this.published(w, slug);
      const phone = this.numberIn(raw, await this.businesses.row(w, row.businessId));
      await this.limit(w, 'opt-out', phone, evidence.ip);
      const states = await this.ledger.statesOf(w, row.businessId, phone);
      if (PURPOSES.some((x) => states[x].state !== 'revoked'))
        await this.replies.revoke(w, row.businessId, {
          e164: phone,
          purposes: [...PURPOSES],
          kind: 'revoked',
          how: 'web page',
          evidence: { ip: evidence.ip, agent: evidence.agent.slice(0, 200), page: row.slug },
        });
      return { shown: formatPhone(phone) };
    });
  }

  private numberIn(raw: string, b: BusinessRow): string {
    const phone = parsePhone(raw, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    if (phone.ok) return phone.e164;
    throw refused(PHONE_REFUSALS[phone.reason], [{ field: 'phone', message: PHONE_REFUSALS[phone.reason] }]);
  }

  /** Keeps one number, and one address, from being filled in over and over. */
  private async limit(w: Writer, act: string, phone: string, address: string): Promise<void> {
    await this.p.limits.take(
      w,
      [
        { act: `${act} number`, who: phone, most: A_DAY.number, withinMs: DAY_MS },
        { act: `${act} address`, who: address, most: A_DAY.address, withinMs: DAY_MS },
      ],
      'This was asked for often enough today. Try again tomorrow.',
    );
  }

  /** Where people reach a page, as it is told to them. @throws Problem 404 */
  async address(businessId: string, id: string): Promise<{ slug: string; address: string }> {
    const { slug } = await this.known(this.p.db, businessId, id);
    return { slug, address: this.p.mailer.link(`/join/${slug}`) };
  }

  /** The page as a form for paper. @throws Problem 404 */
  async paper(businessId: string, id: string, sheets: number): Promise<{ name: string; bytes: Buffer }> {
    const row = await this.known(this.p.db, businessId, id);
    const page = this.shown(row, await this.businesses.row(this.p.db, businessId));
    const bytes = await paperForm(page, row.pageVersion, sheets, this.p.clock.now());
    return { name: `${row.slug}-paper-form.pdf`, bytes };
  }

  /** A page of the business, published or not. @throws Problem 404 */
  async known(r: Reader, businessId: string, id: string): Promise<OptinPageModel> {
    const row = await store.pageById(r, businessId, id);
    if (!row) throw notFound('page');
    return row;
  }

  async publicById(r: Reader, businessId: string, id: string): Promise<PublicPage> {
    return this.shown(await this.known(r, businessId, id), await this.businesses.row(r, businessId));
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

  /** Keeps one number, and one address, from being filled in over and over. */
  limitTo(w: Writer, phone: string, address: string): Promise<void> {
    return this.limit(w, 'opt-in', phone, address);
  }

  /**
   * Somebody agrees to what a page offers for a number they gave elsewhere: it is recorded as asked, and its handset is
   * asked for a YES. What stands already is not asked again.
   * @returns the number that asks.
   */
  async requestFor(
    w: Writer,
    businessId: string,
    pageId: string,
    e164: string,
    form: { purposes: ('informational' | 'promotional')[]; words: string },
    evidence: { ip: string; agent: string; numberRequest: string },
  ): Promise<string> {
    const row = await this.known(w, businessId, pageId);
    const wanted = await this.wantedOf(
      w,
      this.shown(row, await this.businesses.row(w, businessId)),
      businessId,
      e164,
      form,
    );
    if (wanted.length > 0) await this.request(w, row, e164, wanted, evidence);
    return this.numbers.addressOf(w, row.numberId);
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
    if (form.words !== page.words)
      throw new Problem(409, 'words-changed', 'The words of this page have changed. Read them again, then send it.', [
        { field: 'purposes', message: 'These words are new; choose again.' },
      ]);
    const offered = page.purposes.filter((x) => form.purposes.includes(x.purpose));
    if (offered.length === 0)
      throw refused('Choose at least one kind of text.', [{ field: 'purposes', message: 'Choose at least one.' }]);
    const states = await this.ledger.statesOf(w, businessId, phone);
    return offered.filter((x) => states[x.purpose].state !== 'granted');
  }

  private async request(
    w: Writer,
    row: OptinPageModel,
    e164: string,
    wanted: PublicPage['purposes'],
    evidence: { ip: string; agent: string; numberRequest?: string },
  ): Promise<void> {
    const pageSha256 = await this.keep(w, row, this.shown(row, await this.businesses.row(w, row.businessId)));
    const events = await this.ledger.append(
      w,
      row.businessId,
      wanted.map((x) => ({
        e164,
        purposes: [x.purpose],
        kind: 'granted' as const,
        awaitsConfirmation: true,
        how: 'web page' as const,
        disclosure: x.disclosure,
        disclosureVersion: `${row.slug}, version ${row.pageVersion}`,
        evidence: { ...evidence, agent: evidence.agent.slice(0, 200), page: row.slug, pageSha256 },
      })),
    );
    const first = events[0];
    if (!first) return;
    await store.countOptIns(w, row.id, events.length, this.p.clock.now());
    await this.p.jobs.add(w, {
      kind: 'optin.confirm',
      businessId: row.businessId,
      payload: {
        e164,
        numberId: row.numberId,
        eventId: first.id,
        programmes: row.purposes.filter((p) => wanted.some((x) => x.purpose === p.purpose)),
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
