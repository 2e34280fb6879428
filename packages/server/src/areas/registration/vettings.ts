import { appealUntil, DEFAULT_PRICES, formatAmount } from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { clearanceChanged, changed, requireOpen } from './filings.js';
import { addVetting, brandById, brandOf, vettingById, vettingsOf } from './registration-store.js';

/** Vetting: how well the registrar knows a business, as a score from 0 to 100, which sets how much it may send. */
export class Vettings {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.outbox.carry(
      'registrar.vetting',
      z.object({ brandKey: z.string(), legalName: z.string(), objection: z.string() }),
      {
        deliver: (key, about) => p.gateways.registrar.vetBrand(key, about),
        refused: (w, key, _about, error) => this.decide(w, key, { score: null, failure: error.message }),
      },
    );
    p.feed.on('vetting.scored', (w, { key, score }) => this.decide(w, key, { score, failure: '' }));
    p.feed.on('vetting.failed', (w, { key, reason }) => this.decide(w, key, { score: null, failure: reason }));
  }

  /**
   * Orders a vetting for its fee; with an objection, has the last score looked at once more, which is free and heard
   * once for each score within 45 days.
   * @throws Problem 409 where the brand is not registered, has no use for a score, or one is on its way.
   */
  async order(actor: Actor, businessId: string, key: string, objection: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const brand = await brandOf(w, businessId);
      if (brand?.state !== 'registered') throw conflict('A brand is vetted once it is registered.');
      if (brand.body.form === 'sole proprietor')
        throw conflict('A sole proprietor is not vetted; what one may send is fixed.');
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      const id = idFrom('vet', brand.id, key);
      const all = await vettingsOf(w, brand.id);
      if (all.some((v) => v.id === id)) return;
      if (all.some((v) => v.decidedAt === null)) throw conflict('A vetting is on its way; wait for its score.');
      const last = all.at(-1);
      const now = Math.round(this.p.clock.now());
      if (objection !== '') {
        if (!last || last.score === null || last.objection !== '')
          throw conflict('There is no score to object to; an objection is heard once for each score.');
        if (last.decidedAt !== null && appealUntil(last.decidedAt) <= now)
          throw conflict('A score can be objected to for 45 days. Order a new vetting.');
      } else
        await this.businesses.charge(
          w,
          businessId,
          DEFAULT_PRICES.vetting,
          'vetting',
          'brand',
          brand.id,
          idFrom('mon', id),
        );
      await addVetting(w, { id, brandId: brand.id, objection, orderedAt: now });
      await this.p.outbox.put(w, 'registrar.vetting', id, {
        brandKey: `${brand.id}:${brand.attempt}`,
        legalName: brand.body.legalName,
        objection,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: objection === '' ? 'vetting ordered' : 'vetting score objected to',
        objectKind: 'brand',
        objectId: brand.id,
        before: { score: brand.score },
        after: objection === '' ? { cost: formatAmount(DEFAULT_PRICES.vetting) } : { objection },
      });
      changed(this.p, w, businessId);
    });
  }

  private async decide(w: Writer, id: string, found: { score: number | null; failure: string }): Promise<void> {
    const vetting = await vettingById(w, id);
    if (vetting?.decidedAt !== null) return;
    await vetting.update({ ...found, decidedAt: Math.round(this.p.clock.now()) });
    const brand = await brandById(w, vetting.brandId);
    if (!brand) return;
    const before = brand.score;
    // Nothing anybody edits changes with it, so whoever does is not disturbed.
    if (found.score !== null) await brand.update({ score: found.score });
    await record(w, this.p.clock, {
      businessId: brand.businessId,
      actor: SYSTEM,
      action: found.score === null ? 'vetting failed' : `vetted with a score of ${found.score}`,
      objectKind: 'brand',
      objectId: brand.id,
      before: { score: before },
      after: found,
    });
    clearanceChanged(this.p, w, brand.businessId);
  }
}
