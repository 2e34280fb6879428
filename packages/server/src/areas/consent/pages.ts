import type { OptInPage, PublicPage } from '@long-gate/contracts';
import {
  CONFIRM_WITHIN_MS,
  disclosureOf,
  formatPhone,
  parsePhone,
  PHONE_REFUSALS,
  PURPOSES,
  type Programme,
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
import type { Businesses, BusinessRow } from '../settings/index.js';
import type { OptInWish } from './confirmations.js';
import { sha256, type Ledger } from './ledger.js';
import type { Replies } from './replies.js';

type Edit = z.output<typeof OptInPageEdit>;
interface PageRow {
  id: string;
  business_id: string;
  slug: string;
  title: string;
  intro: string;
  purposes: string;
  number_id: string;
  privacy_url: string;
  terms_url: string;
  published: number;
  page_version: number;
  version: number;
}

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
  ) {}

  /** Titles of the published pages whose texts come from a number. */
  async using(r: Reader, numberId: string): Promise<string[]> {
    const rows = await r.all<{ title: string }>(
      'SELECT title FROM optin_page WHERE number_id = $1 AND published = 1 ORDER BY created_at',
      [numberId],
    );
    return rows.map((p) => p.title);
  }

  async list(businessId: string): Promise<OptInPage[]> {
    const rows = await this.p.db.all<PageRow>('SELECT * FROM optin_page WHERE business_id = $1 ORDER BY created_at', [
      businessId,
    ]);
    return Promise.all(rows.map((r) => this.show(this.p.db, r)));
  }

  async add(actor: Actor, businessId: string, e: Edit): Promise<OptInPage> {
    const id = newId('pag');
    await this.p.db.write(async (w) => {
      await this.check(w, businessId, id, e);
      await w.run(
        'INSERT INTO optin_page (id, business_id, slug, title, intro, purposes, number_id, privacy_url, terms_url, published, created_at) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$10,$11)',
        [
          id,
          businessId,
          e.slug,
          e.title,
          e.intro,
          JSON.stringify(e.purposes),
          e.numberId,
          e.privacyUrl,
          e.termsUrl,
          e.published ? 1 : 0,
          this.p.clock.now(),
        ],
      );
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
      const before = await w.one<PageRow>('SELECT * FROM optin_page WHERE id = $1 AND business_id = $2', [
        id,
        businessId,
      ]);
      if (!before) throw notFound('page');
      expectVersion('page', before, seen);
      await this.check(w, businessId, id, e);
      const words =
        before.purposes !== JSON.stringify(e.purposes) ||
        before.privacy_url !== e.privacyUrl ||
        before.terms_url !== e.termsUrl;
      await w.run(
        'UPDATE optin_page SET slug=$2, title=$3, intro=$4, purposes=$5, number_id=$6, privacy_url=$7, terms_url=$8, published=$9, page_version=page_version+$10, version=version+1 WHERE id=$1',
        [
          id,
          e.slug,
          e.title,
          e.intro,
          JSON.stringify(e.purposes),
          e.numberId,
          e.privacyUrl,
          e.termsUrl,
          e.published ? 1 : 0,
          words ? 1 : 0,
        ],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-in page edited',
        objectKind: 'page',
        objectId: id,
        before: { ...before, purposes: JSON.parse(before.purposes) as unknown },
        after: e,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.get(businessId, id);
  }

  private async check(r: Reader, businessId: string, id: string, e: Edit): Promise<void> {
    if (await r.one('SELECT id FROM optin_page WHERE slug = $1 AND id <> $2', [e.slug, id]))
      throw conflict(`There is already a page at “${e.slug}”.`);
    if (
      !(await r.one(
        `SELECT id FROM number WHERE id = $1 AND business_id = $2 AND state = 'active' AND kind <> 'sender ID'`,
        [e.numberId, businessId],
      ))
    )
      throw refused('Choose an active number of this business.', [
        { field: 'numberId', message: 'Choose an active number; the YES has to arrive.' },
      ]);
    const twice = new Set(e.purposes.map((x) => x.purpose)).size !== e.purposes.length;
    if (twice)
      throw refused('Each purpose stands once on a page.', [{ field: 'purposes', message: 'The same purpose twice.' }]);
  }

  private async get(businessId: string, id: string): Promise<OptInPage> {
    const row = await this.p.db.one<PageRow>('SELECT * FROM optin_page WHERE id = $1 AND business_id = $2', [
      id,
      businessId,
    ]);
    if (!row) throw notFound('page');
    return this.show(this.p.db, row);
  }

  private async show(r: Reader, row: PageRow): Promise<OptInPage> {
    const n = await r.one<{ n: number }>(
      `SELECT count(*) AS n FROM consent_event WHERE business_id = $1 AND kind = 'granted' AND how = 'web page' AND evidence->>'page' = $2`,
      [row.business_id, row.slug],
    );
    return {
      id: row.id,
      slug: row.slug,
      title: row.title,
      intro: row.intro,
      purposes: programmesOf(row),
      numberId: row.number_id,
      privacyUrl: row.privacy_url,
      termsUrl: row.terms_url,
      published: row.published === 1,
      pageVersion: row.page_version,
      optIns: n?.n ?? 0,
      version: row.version,
    };
  }

  // -- the contact's side ----------------------------------------------------------------------------------------

  private async published(r: Reader, slug: string): Promise<PageRow> {
    const row = await r.one<PageRow>('SELECT * FROM optin_page WHERE slug = $1 AND published = 1', [slug]);
    if (!row) throw notFound('page');
    return row;
  }

  async publicPage(slug: string): Promise<PublicPage> {
    const row = await this.published(this.p.db, slug);
    const b = await this.businesses.row(this.p.db, row.business_id);
    return this.shown(row, b);
  }

  private shown(row: PageRow, b: BusinessRow): PublicPage {
    const purposes = programmesOf(row).map((x) => ({
      purpose: x.purpose,
      disclosure: disclosureOf(b.legal_name, x, { privacyUrl: row.privacy_url, termsUrl: row.terms_url }),
    }));
    return {
      slug: row.slug,
      business: b.legal_name,
      nameLine: b.name_line,
      title: row.title,
      intro: row.intro,
      privacyUrl: row.privacy_url,
      termsUrl: row.terms_url,
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
      const b = await this.businesses.row(w, row.business_id);
      const page = this.shown(row, b);
      if (form.words !== page.words)
        throw new Problem(409, 'words-changed', 'The words of this page have changed. Read them again, then send it.', [
          { field: 'purposes', message: 'These words are new; choose again.' },
        ]);
      const offered = page.purposes.filter((x) => form.purposes.includes(x.purpose));
      if (offered.length === 0)
        throw refused('Choose at least one kind of text.', [{ field: 'purposes', message: 'Choose at least one.' }]);
      const phone = this.numberIn(form.phone, b);
      await this.limit(w, 'opt-in', phone, evidence.ip);
      const states = await this.ledger.statesOf(w, row.business_id, phone);
      const wanted = offered.filter((x) => states[x.purpose].state !== 'granted');
      if (wanted.length > 0) {
        await this.contacts.ensure(w, CONTACT, row.business_id, phone, form.firstName);
        await this.request(w, row, phone, wanted, evidence);
      }
      const from = await w.one<{ e164: string }>('SELECT e164 FROM number WHERE id = $1', [row.number_id]);
      // The answer is the same whether or not this number is known here: the page tells nobody who has agreed.
      return { shown: formatPhone(phone), from: formatPhone(from?.e164 ?? '') };
    });
  }

  /** Leaving works at once, whoever asks for it: silence does no harm that a START would not undo. */
  async optOut(slug: string, raw: string, evidence: { ip: string; agent: string }): Promise<{ shown: string }> {
    return this.p.db.write(async (w) => {
      const row = await this.published(w, slug);
      const phone = this.numberIn(raw, await this.businesses.row(w, row.business_id));
      await this.limit(w, 'opt-out', phone, evidence.ip);
      const states = await this.ledger.statesOf(w, row.business_id, phone);
      if (PURPOSES.some((x) => states[x].state !== 'revoked'))
        await this.replies.revoke(w, row.business_id, {
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
    const phone = parsePhone(raw, { defaultRegion: 'US', allowFictional: b.allow_fictional === 1 });
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

  private async request(
    w: Writer,
    row: PageRow,
    e164: string,
    wanted: PublicPage['purposes'],
    evidence: { ip: string; agent: string },
  ): Promise<void> {
    const events = await this.ledger.append(
      w,
      row.business_id,
      wanted.map((x) => ({
        e164,
        purposes: [x.purpose],
        kind: 'granted' as const,
        awaitsConfirmation: true,
        how: 'web page' as const,
        disclosure: x.disclosure,
        disclosureVersion: `${row.slug}, version ${row.page_version}`,
        evidence: { ip: evidence.ip, agent: evidence.agent.slice(0, 200), page: row.slug },
      })),
    );
    const first = events[0];
    if (!first) return;
    await this.p.jobs.add(w, {
      kind: 'optin.confirm',
      businessId: row.business_id,
      payload: {
        e164,
        numberId: row.number_id,
        eventId: first.id,
        programmes: programmesOf(row).filter((p) => wanted.some((x) => x.purpose === p.purpose)),
        termsUrl: row.terms_url,
      } satisfies OptInWish,
      key: `optin:${first.id}`,
    });
    await this.p.jobs.add(w, {
      kind: 'optin.lapse',
      businessId: row.business_id,
      payload: { e164 },
      at: first.happenedAt + CONFIRM_WITHIN_MS,
      key: `lapse:${first.id}`,
    });
  }
}

/** What a page offers; one of before frequencies had a field of their own says that it varies. */
function programmesOf(row: PageRow): Programme[] {
  return (JSON.parse(row.purposes) as (Omit<Programme, 'frequency'> & { frequency?: string })[]).map((x) => ({
    ...x,
    frequency: x.frequency ?? 'varies',
  }));
}
