import { BrandBody, EMPTY_BRAND, type BrandView } from '@long-gate/contracts';
import { DEFAULT_PRICES, formatAmount, reviewBrand, type Finding } from '@long-gate/core';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import { mask } from '../../platform/mask.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses, BusinessRow } from '../settings/index.js';
import { changed, noteAnswer, requireNoBlock, requireOpen, type Answer } from './filings.js';
import type { BrandModel } from './model.js';
import { addBrand, brandById, brandOf, saveBrand } from './registration-store.js';

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
          score: null,
          reasons: [{ field: 'legalName', code: error.code, message: error.message }],
        }),
    });
    p.feed.on('brand.registered', (w, e) =>
      this.decide(w, e.key, { state: 'registered', score: e.score, reasons: [] }),
    );
    p.feed.on('brand.declined', (w, e) =>
      this.decide(w, e.key, { state: 'declined', score: null, reasons: e.reasons }),
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
        (old.legalName !== body.legalName || taxNumber !== undefined || old.form !== body.form)
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
    return this.show(await this.row(this.p.db, businessId));
  }

  async submit(actor: Actor, businessId: string, key: string, seen: number | null = null): Promise<BrandView> {
    await this.ensure(businessId);
    await this.p.db.write(async (w) => {
      const brand = await this.row(w, businessId);
      const { id, body, state } = brand;
      if (state === 'in review' || state === 'registered') return;
      expectVersion('brand', brand, seen);
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      requireNoBlock(this.findings(brand), 'The brand');
      const cost = brandCost(body.form);
      const what = 'brand registration' + (body.form === 'sole proprietor' ? '' : ' and vetting');
      await this.businesses.charge(w, businessId, cost, what, 'brand', id, idFrom('mon', id, key));
      const attempt = brand.attempt + 1;
      await saveBrand(brand, {
        state: 'in review',
        attempt,
        submittedAt: Math.round(this.p.clock.now()),
        decidedAt: null,
        reasons: [],
        lastSubmitted: body,
      });
      await this.p.outbox.put(w, 'registrar.brand', `${id}:${attempt}`, {
        filing: { ...body, nameLine: business.name_line },
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
    return this.show(await this.row(this.p.db, businessId));
  }

  private async decide(w: Writer, key: string, answer: Answer): Promise<void> {
    const [id = '', attempt = '0'] = key.split(':');
    const brand = await brandById(w, id);
    if (brand?.state !== 'in review' || brand.attempt !== Number(attempt)) return;
    const { state, reasons } = answer;
    await saveBrand(brand, {
      state,
      reasons,
      decidedAt: Math.round(this.p.clock.now()),
      ...(state === 'registered' ? { score: answer.score } : {}),
    });
    await noteAnswer(this.p, w, 'brand', brand, answer);
  }

  private findings(brand: BrandModel): Finding[] {
    return reviewBrand({ ...brand.body, taxNumber: this.p.vault.unseal(brand.taxNumber) });
  }

  show(brand: BrandModel): BrandView {
    const { id, body, state, score, attempt, submittedAt, decidedAt, reasons, version } = brand;
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
  };
}

/** Once at submission: the brand, and vetting for all but sole proprietors. */
function brandCost(form: Body['form']): number {
  return DEFAULT_PRICES.brand + (form === 'sole proprietor' ? 0 : DEFAULT_PRICES.vetting);
}
