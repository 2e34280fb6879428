import { BrandBody, EMPTY_BRAND, type BrandTry, type BrandView } from '@long-gate/contracts';
import { appealUntil, DEFAULT_PRICES, formatAmount, parsePhone, reviewBrand, type Finding } from '@long-gate/core';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import { mask } from '../../platform/mask.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses, BusinessRow } from '../settings/index.js';
import { BrandEmail } from './brand-email.js';
import { changed, noteAnswer, requireNoBlock, requireOpen, type Answer } from './filings.js';
import type { BrandModel, BrandVettingModel } from './model.js';
import {
  addBrand,
  addFilingTry,
  brandById,
  brandOf,
  decideFilingTry,
  filingTriesOf,
  saveBrand,
  vettingsOf,
} from './registration-store.js';

type Body = BrandView['body'];

/** The brand of a business: who it says it is, and what the registrar makes of it. */
export class Brands {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.outbox.carry('registrar.brand', z.object({ filing: BrandBody.extend({ nameLine: z.string() }) }), {
      deliver: async (key, { filing }) => {
        // The tax number is unsealed only on its way out; it is never stored in the outbox.
        const row = await brandById(p.db, key.split(':')[0] ?? '');
        await p.gateways.registrar.submitBrand(key, { ...filing, taxNumber: p.vault.unseal(row?.taxNumber ?? '') });
      },
      refused: (w, key, _b, error) =>
        this.decide(w, key, {
          state: 'declined',
          results: [],
          reasons: [{ field: 'legalName', code: error.code, message: error.message }],
        }),
    });
    p.outbox.carry('registrar.appeal', z.object({ brandKey: z.string(), text: z.string() }), {
      deliver: (key, about) => p.gateways.registrar.appealBrand(key, about),
      refused: (w, _key, { brandKey }, error) =>
        this.decide(w, brandKey, {
          state: 'declined',
          results: [],
          reasons: [{ field: '', code: error.code, message: error.message }],
        }),
    });
    p.feed.on('brand.registered', (w, { key, results }) =>
      this.decide(w, key, { state: 'registered', reasons: [], results }),
    );
    p.feed.on('brand.declined', (w, { key, reasons, results }) =>
      this.decide(w, key, { state: 'declined', reasons, results }),
    );
    // The networks know the business by this name.
    businesses.nameIsLocked = async (r, id) => (await brandOf(r, id))?.state === 'registered';
  }

  /** Makes a draft where there is none; as long as nobody has written in it, it follows what is known of the business. */
  async ensure(businessId: string): Promise<void> {
    const stale = (brand: BrandModel | null, b: BusinessRow): boolean =>
      !brand ||
      (brand.version === 1 && brand.state === 'draft' && JSON.stringify(brand.body) !== JSON.stringify(bodyFrom(b)));
    if (!stale(await brandOf(this.p.db, businessId), await this.businesses.row(this.p.db, businessId))) return;
    await this.p.db.write(async (w) => {
      const business = await this.businesses.row(w, businessId);
      const brand = await brandOf(w, businessId);
      if (!stale(brand, business)) return;
      if (brand) await brand.update({ body: bodyFrom(business) });
      else await addBrand(w, { id: idFrom('brd', businessId), businessId, body: bodyFrom(business) });
    });
  }

  async row(r: Reader, businessId: string): Promise<BrandModel> {
    const row = await brandOf(r, businessId);
    if (!row) throw notFound('brand');
    return row;
  }

  /** Saves the brand; after verification name and tax number are locked (rules.md). */
  async save(
    actor: Actor,
    businessId: string,
    seen: number | null,
    body: Body,
    taxNumber: string | undefined,
  ): Promise<BrandView> {
    await this.ensure(businessId);
    await this.p.db.write(async (w) => {
      const brand = await this.row(w, businessId);
      expectVersion('brand', brand, seen);
      const old = brand.body;
      if (brand.state === 'in review')
        throw conflict('The brand is in review; it can be edited again after the registrar’s answer.');
      if (
        brand.state === 'registered' &&
        (old.legalName !== body.legalName ||
          taxNumber !== undefined ||
          old.form !== body.form ||
          old.country !== body.country)
      ) {
        throw refused('Name, legal form and tax number are locked since the brand is verified.', [
          { field: 'legalName', message: 'Locked.' },
        ]);
      }
      await saveBrand(brand, {
        body,
        ...(taxNumber === undefined ? {} : { taxNumber: this.p.vault.seal(taxNumber.trim()) }),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'brand edited',
        objectKind: 'brand',
        objectId: brand.id,
        before: old,
        after: { ...body, ...(taxNumber === undefined ? {} : { taxNumber: mask(taxNumber) }) },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId);
  }

  async submit(actor: Actor, businessId: string, key: string, seen: number | null = null): Promise<BrandView> {
    await this.ensure(businessId);
    await this.p.db.write(async (w) => {
      const brand = await this.row(w, businessId);
      const { id, body, state } = brand;
      const entry = idFrom('mon', id, key);
      // The same wish again, also where its answer has come in between.
      if (state === 'in review' || state === 'registered' || (await this.businesses.booked(w, entry))) return;
      expectVersion('brand', brand, seen);
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      requireNoBlock(this.findings(brand), 'The brand');
      const cost = DEFAULT_PRICES.brand;
      await this.businesses.charge(w, businessId, cost, 'brand registration', 'brand', id, entry);
      const attempt = brand.attempt + 1;
      await saveBrand(brand, {
        state: 'in review',
        attempt,
        submittedAt: Math.round(this.p.clock.now()),
        decidedAt: null,
        reasons: [],
        results: [],
        stages: [],
        appeal: '',
        appealedAt: null,
        confirmBy: null,
        confirmLapsed: 0,
        confirmAsks: 0,
        lastSubmitted: body,
      });
      await addFilingTry(w, { filingId: id, attempt, body, submittedAt: Math.round(this.p.clock.now()) });
      await this.p.outbox.put(w, 'registrar.brand', `${id}:${attempt}`, {
        filing: { ...body, mobile: asCalled(body.mobile), nameLine: business.name_line },
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: attempt > 1 ? 'brand resubmitted' : 'brand submitted',
        objectKind: 'brand',
        objectId: id,
        before: { state },
        after: { state: 'in review', cost: formatAmount(cost) },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId);
  }

  /**
   * Objects to a decline, with what proves it. The registrar looks at the same filing once more; nothing is paid.
   * @throws Problem 409 where there is no decline to object to, or its 45 days are past.
   */
  async appeal(actor: Actor, businessId: string, text: string): Promise<BrandView> {
    await this.p.db.write(async (w) => {
      const brand = await this.row(w, businessId);
      const { id, state, attempt, appeal } = brand;
      // The same wish again, whose answer was lost.
      if (state === 'in review' && appeal === text) return;
      const until = this.appealUntil(brand);
      if (until === null)
        throw conflict('There is no decline to object to; an objection is heard once for each of them.');
      if (until <= this.p.clock.now())
        throw conflict('A decline can be objected to for 45 days. Mend the brand and submit it again.');
      await saveBrand(brand, { state: 'in review', appeal: text, appealedAt: Math.round(this.p.clock.now()) });
      const brandKey = `${id}:${attempt}`;
      await this.p.outbox.put(w, 'registrar.appeal', `${brandKey}:appeal`, { brandKey, text });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'decline of the brand objected to',
        objectKind: 'brand',
        objectId: id,
        before: { state },
        after: { state: 'in review', objection: text },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId);
  }

  /** Until when the decline that stands can be objected to; null where there is none, or it was objected to already. */
  private appealUntil({ state, decidedAt, appealedAt, attempt }: BrandModel): number | null {
    return state === 'declined' && decidedAt !== null && attempt > 0 && appealedAt === null
      ? appealUntil(decidedAt)
      : null;
  }

  private async decide(w: Writer, key: string, answer: Answer & Pick<BrandModel, 'results'>): Promise<void> {
    const [id = '', attempt = '0'] = key.split(':');
    const brand = await brandById(w, id);
    if (brand?.state !== 'in review' || brand.attempt !== Number(attempt)) return;
    const { state, reasons, results } = answer;
    const decidedAt = Math.round(this.p.clock.now());
    await saveBrand(brand, {
      state,
      reasons,
      results,
      decidedAt,
      confirmBy: null,
      confirmLapsed: 0,
    });
    await decideFilingTry(w, id, brand.attempt, { state, reasons, decidedAt });
    await noteAnswer(this.p, w, 'brand', brand, { state, reasons });
  }

  private findings(brand: BrandModel): Finding[] {
    return reviewBrand({ ...brand.body, taxNumber: this.p.vault.unseal(brand.taxNumber) });
  }

  /** Every version that was submitted, with what was decided of it, the first first. */
  async tries(businessId: string): Promise<BrandTry[]> {
    const brand = await brandOf(this.p.db, businessId);
    const tries = brand ? await filingTriesOf(this.p.db, brand.id) : [];
    return tries.map(({ attempt, body, submittedAt, state, decidedAt, reasons }) => ({
      attempt,
      body: BrandBody.parse(body),
      submittedAt,
      state,
      decidedAt,
      reasons,
    }));
  }

  async one(businessId: string): Promise<BrandView> {
    const brand = await this.row(this.p.db, businessId);
    return this.show(brand, await vettingsOf(this.p.db, brand.id));
  }

  show(brand: BrandModel, vettings: readonly BrandVettingModel[]): BrandView {
    const { id, body, state, score, attempt, submittedAt, decidedAt, reasons, results, stages, version } = brand;
    const { appeal, appealedAt, confirmBy, confirmLapsed, confirmAsks } = brand;
    return {
      id,
      body,
      taxNumberMasked: mask(this.p.vault.unseal(brand.taxNumber)),
      state,
      score,
      attempt,
      submittedAt,
      decidedAt,
      reasons,
      results,
      stages,
      confirmation: confirmBy === null ? null : { until: confirmBy, lapsed: confirmLapsed === 1, asks: confirmAsks },
      emailMissing: state === 'registered' && BrandEmail.isMissing(brand),
      emailCodeMailed: brand.emailCode !== '',
      appealUntil: this.appealUntil(brand),
      appeal: appealedAt === null ? null : { text: appeal, at: appealedAt },
      vettings: vettings.map(({ id: vettingId, objection, orderedAt, decidedAt: at, score: found, failure }) => ({
        id: vettingId,
        objection,
        orderedAt,
        decidedAt: at,
        score: found,
        failure,
      })),
      findings: this.findings(brand),
      version,
    };
  }
}

/** A first draft of the brand from what is known of the business. */
function bodyFrom(b: BusinessRow): Body {
  return {
    form: b.form,
    legalName: b.legal_name,
    ...EMPTY_BRAND,
    street: b.street,
    city: b.city,
    state: b.state,
    postalCode: b.postal_code,
    website: b.website,
    email: b.contact_email,
    representatives: b.contact_name ? [{ name: b.contact_name, title: '', phone: '', email: b.contact_email }] : [],
  };
}

/** A mobile as networks write it; as it was typed where it is none. */
export function asCalled(mobile: string): string {
  const read = parsePhone(mobile, { defaultRegion: 'US', allowFictional: true });
  return read.ok ? read.e164 : mobile.trim();
}
