import { MINUTE_MS, type Limit } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { Problem, refused } from '../../../platform/problem.js';
import { checkPassword, hashPassword, NOBODY } from './passwords.js';
import { setPassword, userByEmail, userById } from './people-store.js';
import { trailOfPerson } from './person-trail.js';
import { takeFactorCode } from './second-factor.js';
import type { From, Sessions } from './sessions.js';

/** Wrong passwords and codes in a quarter of an hour: for one account, from wherever; from one address, for whomever. */
const FAILURES = { account: 10, address: 30, withinMs: 15 * MINUTE_MS };

const account = (email: string): Limit => ({
  act: 'sign-in account',
  who: email,
  most: FAILURES.account,
  withinMs: FAILURES.withinMs,
});
const addressOf = (address: string): Limit => ({
  act: 'sign-in address',
  who: address,
  most: FAILURES.address,
  withinMs: FAILURES.withinMs,
});

/** Signing in by password and, where there is one, a second factor; and changing the password. */
export class SignIn {
  constructor(
    private readonly p: Platform,
    private readonly sessions: Sessions,
  ) {}

  /**
   * @param code of the second factor; empty where it was not asked yet.
   * @throws Problem 401 `sign-in`, 401 `second-factor` where a code is wanted, 429 after too many failures.
   */
  async signIn(
    given: { email: string; password: string; code: string },
    from: From,
    before: string | undefined,
  ): Promise<{ token: string }> {
    const email = given.email.trim().toLowerCase();
    await this.mayTry(email, from.address);
    const user = await userByEmail(this.p.db, email);
    const ok = await checkPassword(given.password, user?.password || NOBODY);
    if (!user || !ok) {
      await this.noteFailure(email, from.address);
      throw new Problem(401, 'sign-in', 'E-mail or password is wrong.', [
        { field: 'password', message: 'E-mail or password is wrong.' },
      ]);
    }
    if (user.factorSecret !== '' && given.code.trim() === '')
      throw new Problem(401, 'second-factor', 'Give the code of your authenticator.', [
        { field: 'code', message: 'Give the code of your authenticator, or a recovery code.' },
      ]);
    const token = await this.p.db.write(async (w) => {
      const now = await userById(w, user.id);
      if (!now) return null;
      if (now.factorSecret !== '' && !(await takeFactorCode(w, this.p, now, given.code))) return null;
      await this.p.limits.forgive(w, account(email));
      return this.sessions.open(w, user.id, from, before);
    });
    if (token !== null) return { token };
    await this.noteFailure(email, from.address);
    throw new Problem(401, 'second-factor', 'This code is not good; codes change every half minute.', [
      { field: 'code', message: 'Not the code of now, nor an unused recovery code.' },
    ]);
  }

  /** @throws Problem 429 after too many failures for this account or from this address. */
  async mayTry(email: string, address: string): Promise<void> {
    if (await this.p.limits.full(this.p.db, [account(email), addressOf(address)]))
      throw new Problem(429, 'too-many', 'Too many wrong tries; wait a quarter of an hour and try again.');
  }

  async noteFailure(email: string, address: string): Promise<void> {
    await this.p.db.write((w) => this.p.limits.note(w, [account(email), addressOf(address)]));
  }

  /** Asks a signed-in person for their password once more. @throws Problem 422 when it is wrong. */
  async confirmPassword(userId: string, password: string, address: string): Promise<void> {
    const user = await userById(this.p.db, userId);
    await this.mayTry(user?.email ?? '', address);
    if (user && (await checkPassword(password, user.password || NOBODY))) return;
    await this.noteFailure(user?.email ?? '', address);
    throw refused('This is not your password.', [{ field: 'password', message: 'Not your present password.' }]);
  }

  /** Changes one's own password; every other session of theirs ends. */
  async changePassword(
    person: { id: string; name: string },
    sessionId: string,
    given: { password: string; next: string },
    address: string,
  ): Promise<number> {
    await this.confirmPassword(person.id, given.password, address);
    const hash = await hashPassword(given.next);
    return this.p.db.write(async (w) => {
      await setPassword(w, person.id, hash);
      await trailOfPerson(w, this.p, person, 'own password changed');
      return this.sessions.endOthers(w, person.id, sessionId);
    });
  }
}
