import { DAY_MS, MINUTE_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import { addReset, resetByToken, useResets } from './invitation-store.js';
import { hashPassword } from './passwords.js';
import { setPassword, userByEmail } from './people-store.js';
import { trailOfPerson } from './person-trail.js';
import type { Sessions } from './sessions.js';
import { newToken, tokenHash } from './tokens.js';

/** How long a link to a new password is good (wall time). */
const GOOD_MS = 60 * MINUTE_MS;
const A_DAY = { account: 5, address: 20 };

/** A forgotten password: a link by e-mail to set a new one. Asking tells nobody whether there is such an account. */
export class Forgotten {
  constructor(
    private readonly p: Platform,
    private readonly sessions: Sessions,
  ) {}

  /** @throws Problem 429 where it was asked too often for this account or from this address. */
  async ask(email: string, address: string): Promise<void> {
    const token = newToken();
    await this.p.db.write(async (w) => {
      await this.p.limits.take(
        w,
        [
          { act: 'reset account', who: email, most: A_DAY.account, withinMs: DAY_MS },
          { act: 'reset address', who: address, most: A_DAY.address, withinMs: DAY_MS },
        ],
        'This was asked for often enough today. Try again tomorrow.',
      );
      // The same is done for an address nobody here has; only its mail is not sent.
      await addReset(w, tokenHash(token), email, Date.now() + GOOD_MS);
      if (await userByEmail(w, email))
        await this.p.mailer.put(w, `reset:${tokenHash(token).slice(0, 32)}`, {
          to: email,
          subject: 'A new password for Long Gate',
          text: `Somebody, you most likely, asked to set a new password for your account. This link is good for an hour and for once:\n\n${this.p.mailer.link(`/new-password/${token}`)}\n\nIf it was not you, nothing has changed and there is nothing to do.`,
        });
    });
  }

  /** Whose password a link sets. @throws Problem 404 for one that is used, too old or made up. */
  async open(token: string): Promise<{ email: string }> {
    const reset = await resetByToken(this.p.db, tokenHash(token));
    if (!reset) throw notFound('link');
    return { email: reset.email };
  }

  /** Sets the new password, ends every session and every such link. A second factor stays. */
  async set(token: string, password: string): Promise<void> {
    await this.open(token);
    const hash = await hashPassword(password);
    await this.p.db.write(async (w) => {
      const reset = await resetByToken(w, tokenHash(token));
      const user = reset && (await userByEmail(w, reset.email));
      if (!user) throw notFound('link');
      await useResets(w, user.email);
      await setPassword(w, user.id, hash);
      await this.sessions.endOthers(w, user.id, '');
      await trailOfPerson(w, this.p, user, 'own password set anew by e-mail');
    });
  }
}
