import { randomInt } from 'node:crypto';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader } from '../../platform/db.js';
import { DAY_MS } from '../../platform/limits.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, refused } from '../../platform/problem.js';
import { changed } from './filings.js';
import type { BrandModel } from './model.js';
import { brandOf } from './registration-store.js';

/** Wrong codes after which a new one is needed, and codes that are mailed for a business in a day. */
const TRIES = 5;
const A_DAY = 5;

/**
 * A listed company's business e-mail is confirmed before its campaigns: a code is mailed to it and given back. source:
 * rules.md, A2P 10DLC (brands by legal form).
 */
export class BrandEmail {
  constructor(private readonly p: Platform) {}

  /** Whether campaigns wait for the address to be confirmed. */
  static isMissing({ body, emailConfirmed }: Pick<BrandModel, 'body' | 'emailConfirmed'>): boolean {
    return body.form === 'listed company' && emailConfirmed !== body.email.trim().toLowerCase();
  }

  /** Mails a code to the address of the brand; the one before is good no more. Once for one key. */
  async mailCode(actor: Actor, businessId: string, key: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const brand = await this.waiting(w, businessId);
      const mail = `brand-email:${brand.id}:${key}`;
      if (brand.emailCodeFor === mail) return;
      await this.p.limits.take(
        w,
        [{ act: 'brand code', who: brand.id, most: A_DAY, withinMs: DAY_MS }],
        'Enough codes were mailed today. Try again tomorrow.',
      );
      const code = String(randomInt(100_000, 1_000_000));
      await brand.update({ emailCode: this.p.vault.seal(code), emailCodeFor: mail, emailTries: 0 });
      await this.p.mailer.put(w, mail, {
        to: brand.body.email.trim(),
        subject: `${brand.body.legalName}: a code for its registration`,
        text: `${brand.body.legalName} registers numbers to send texts from. To confirm that this address is the company’s, give this code back in Long Gate:\n\n${code}\n\nIf you know nothing of it, do nothing.`,
      });
      await this.note(w, actor, brand, 'code mailed to the brand’s e-mail', { email: brand.body.email });
      changed(this.p, w, businessId);
    });
  }

  /** The code is given back. After five wrong ones a new one is needed. */
  async confirm(actor: Actor, businessId: string, code: string): Promise<void> {
    const right = await this.p.db.write(async (w) => {
      const brand = await this.waiting(w, businessId);
      if (brand.emailCode === '' || brand.emailTries >= TRIES) return null;
      if (code.replace(/\D/g, '') !== this.p.vault.unseal(brand.emailCode)) {
        await brand.update({ emailTries: brand.emailTries + 1 });
        return false;
      }
      const email = brand.body.email.trim().toLowerCase();
      await brand.update({ emailConfirmed: email, emailCode: '', emailCodeFor: '' });
      await this.note(w, actor, brand, 'e-mail of the brand confirmed', { email });
      changed(this.p, w, businessId);
      return true;
    });
    if (right === null)
      throw refused('There is no code to give back; have a new one mailed.', [
        { field: 'code', message: 'Ask for a new code.' },
      ]);
    if (!right)
      throw refused('This is not the code of the last mail.', [
        { field: 'code', message: 'Not the code of the last mail.' },
      ]);
  }

  private async waiting(r: Reader, businessId: string): Promise<BrandModel> {
    const brand = await brandOf(r, businessId);
    if (!brand || brand.state !== 'registered' || !BrandEmail.isMissing(brand))
      throw conflict('Only a registered brand of a listed company has its e-mail confirmed, once for each address.');
    return brand;
  }

  private async note(
    w: Parameters<typeof record>[0],
    actor: Actor,
    { id, businessId }: BrandModel,
    action: string,
    after: object,
  ): Promise<void> {
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'brand', objectId: id, after });
  }
}
