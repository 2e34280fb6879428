import { record, type Actor } from '../../platform/audit.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, refused } from '../../platform/problem.js';
import { z } from 'zod';
import { parsePhone } from '@long-gate/core';
import { asCalled } from './brands.js';
import { changed } from './filings.js';
import type { BrandModel } from './model.js';
import { brandById, brandOf, saveBrand } from './registration-store.js';

/**
 * A sole proprietor's brand is confirmed by its owner, who answers YES from the mobile within 24 hours. source:
 * rules.md, A2P 10DLC (brands by legal form).
 */
export class OwnerConfirmation {
  constructor(private readonly p: Platform) {
    p.outbox.carry('registrar.confirmation', z.object({ brandKey: z.string(), mobile: z.string() }), {
      deliver: (key, about) => p.gateways.registrar.askConfirmation(key, about),
      refused: async (w, _key, { brandKey }) => {
        const brand = await this.waiting(brandKey, (id) => brandById(w, id));
        if (brand) await saveBrand(brand, { confirmLapsed: 1 });
      },
    });
    p.feed.on('brand.confirmation-asked', async (w, e) => {
      const brand = await this.waiting(e.key, (id) => brandById(w, id));
      if (!brand) return;
      await saveBrand(brand, {
        confirmBy: Math.round(e.until),
        confirmLapsed: 0,
        confirmAsks: Math.max(1, brand.confirmAsks),
      });
      changed(p, w, brand.businessId);
    });
    p.feed.on('brand.confirmation-lapsed', async (w, e) => {
      const brand = await this.waiting(e.key, (id) => brandById(w, id));
      if (!brand || (brand.confirmBy ?? 0) > p.clock.now()) return;
      await saveBrand(brand, { confirmLapsed: 1 });
      changed(p, w, brand.businessId);
    });
  }

  /** Has the owner asked once more, also on another mobile. @throws Problem 409 where nobody waits for an answer. */
  async askAgain(actor: Actor, businessId: string, key: string, mobile: string): Promise<void> {
    if (!parsePhone(mobile, { defaultRegion: 'US', allowFictional: true }).ok)
      throw refused('This is no telephone number.', [{ field: 'mobile', message: 'Write it like (732) 555-0134.' }]);
    await this.p.db.write(async (w) => {
      const brand = await brandOf(w, businessId);
      if (brand?.state !== 'in review' || brand.confirmBy === null)
        throw conflict('The registrar does not wait for an answer from the owner.');
      const wish = `${brand.id}:${brand.attempt}:ask:${key}`;
      if ((await this.p.outbox.count(w, 'registrar.confirmation', wish)) > 0) return;
      const { id, attempt, body } = brand;
      await saveBrand(brand, { body: { ...body, mobile }, confirmLapsed: 0, confirmAsks: brand.confirmAsks + 1 });
      await this.p.outbox.put(w, 'registrar.confirmation', `${wish}:1`, {
        brandKey: `${id}:${attempt}`,
        mobile: asCalled(mobile),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'owner asked again to confirm the brand',
        objectKind: 'brand',
        objectId: id,
        before: { mobile: body.mobile },
        after: { mobile },
      });
      changed(this.p, w, businessId);
    });
  }

  /** The brand of a key, where it still waits in that try. */
  private async waiting(key: string, find: (id: string) => Promise<BrandModel | null>): Promise<BrandModel | null> {
    const [id = '', attempt = '0'] = key.split(':');
    const brand = await find(id);
    return brand?.state === 'in review' && brand.attempt === Number(attempt) ? brand : null;
  }
}
