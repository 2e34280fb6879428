import { randomBytes } from 'node:crypto';
import { generateSecret, generateURI, verifySync } from 'otplib';
import QRCode from 'qrcode';
import type { Writer } from '../../../platform/db.js';
import type { Person } from '../../../platform/http/route.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, refused } from '../../../platform/problem.js';
import {
  membershipsOf,
  recoveryCodesLeft,
  setFactor,
  setRecoveryCodes,
  takeRecoveryCode,
  userById,
} from './people-store.js';
import type { FactorOf, UserModel } from './model.js';
import { trailOfPerson } from './person-trail.js';
import type { SignIn } from './sign-in.js';
import { tokenHash } from './tokens.js';

const RECOVERY_CODES = 10;
/** One step of 30 seconds to either side, for clocks that differ. source: RFC 6238, 5.2 */
const TOLERANCE_S = 30;

/** What a person writes into a recovery code does not matter: spaces, dashes, case. */
const plain = (code: string): string => code.toLowerCase().replace(/[^0-9a-z]/g, '');

/** Eighty random bits, in groups of four, read and written easily. */
function newRecoveryCode(): string {
  const text = BigInt(`0x${randomBytes(10).toString('hex')}`)
    .toString(32)
    .padStart(16, '0');
  return text.replace(/(.{4})(?=.)/g, '$1-');
}

/**
 * Takes a code of the authenticator (RFC 6238), each once, or a recovery code, each once.
 * @returns false where it is neither.
 */
export async function takeFactorCode(w: Writer, p: Platform, user: FactorOf, code: string): Promise<boolean> {
  const digits = code.replace(/\s/g, '');
  if (/^\d{6}$/.test(digits)) {
    const result = verifySync({
      secret: p.vault.unseal(user.factorSecret),
      token: digits,
      epochTolerance: TOLERANCE_S,
      ...(user.factorStep > 0 ? { afterTimeStep: user.factorStep } : {}),
    });
    if (!result.valid || !('timeStep' in result)) return false;
    await setFactor(w, user.id, { secret: user.factorSecret, pending: user.factorPending, step: result.timeStep });
    return true;
  }
  return plain(code) !== '' && takeRecoveryCode(w, user.id, tokenHash(plain(code)));
}

/** A second factor beside the password: an authenticator, with recovery codes for the day it is lost. */
export class SecondFactor {
  constructor(
    private readonly p: Platform,
    private readonly signIn: SignIn,
  ) {}

  async state(userId: string): Promise<{ on: boolean; recoveryCodesLeft: number }> {
    const user = await userById(this.p.db, userId);
    return {
      on: (user?.factorSecret ?? '') !== '',
      recoveryCodesLeft: await recoveryCodesLeft(this.p.db, userId),
    };
  }

  /** Makes a secret for an authenticator; it counts once a code of it was given back. */
  async begin(person: Person, password: string, address: string): Promise<{ secret: string; uri: string; qr: string }> {
    await this.signIn.confirmPassword(person.id, password, address);
    const secret = generateSecret();
    await this.p.db.write(async (w) => {
      const user = await this.user(w, person.id);
      if (user.factorSecret !== '') throw conflict('There is a second factor already; take it away first.');
      await setFactor(w, user.id, { secret: '', pending: this.p.vault.seal(secret), step: 0 });
    });
    const uri = generateURI({ issuer: 'Long Gate', label: person.email, secret });
    return { secret, uri, qr: await QRCode.toDataURL(uri, { margin: 2, width: 200 }) };
  }

  /** The first code is given back: from now on it is asked for. Returns the recovery codes, which are shown once. */
  async confirm(person: Person, code: string): Promise<string[]> {
    return this.p.db.write(async (w) => {
      const user = await this.user(w, person.id);
      if (user.factorPending === '') throw conflict('Begin anew: there is no authenticator to confirm.');
      const trial: FactorOf = {
        id: user.id,
        factorSecret: user.factorPending,
        factorPending: user.factorPending,
        factorStep: 0,
      };
      if (!/^\d{6}$/.test(code.replace(/\s/g, '')) || !(await takeFactorCode(w, this.p, trial, code)))
        throw refused('This is not the code that the authenticator shows now.', [
          { field: 'code', message: 'Not the code of now; is the clock of the phone right?' },
        ]);
      const step = (await this.user(w, person.id)).factorStep;
      await setFactor(w, user.id, { secret: user.factorPending, pending: '', step });
      const codes = await this.newRecoveryCodes(w, user.id);
      await trailOfPerson(w, this.p, person, 'second factor set up');
      return codes;
    });
  }

  /** Takes the second factor away. Password and a code are asked, so that an open screen is not enough. */
  async end(person: Person, password: string, code: string, address: string): Promise<void> {
    await this.signIn.confirmPassword(person.id, password, address);
    await this.withCode(person, code, address, async (w, user) => {
      const wanted = (await membershipsOf(w, user.id)).some((m) => m.wantsFactor && m.role === 'administrator');
      if (wanted) throw refused('A business you administer wants a second factor; it cannot be taken away.');
      await setFactor(w, user.id, { secret: '', pending: '', step: 0 });
      await setRecoveryCodes(w, user.id, []);
      await trailOfPerson(w, this.p, person, 'second factor taken away');
    });
  }

  /** New recovery codes; the earlier ones are good for nothing. */
  async renewRecoveryCodes(person: Person, code: string, address: string): Promise<string[]> {
    let codes: string[] = [];
    await this.withCode(person, code, address, async (w, user) => {
      codes = await this.newRecoveryCodes(w, user.id);
      await trailOfPerson(w, this.p, person, 'recovery codes made anew');
    });
    return codes;
  }

  private async newRecoveryCodes(w: Writer, userId: string): Promise<string[]> {
    const codes = Array.from({ length: RECOVERY_CODES }, newRecoveryCode);
    await setRecoveryCodes(
      w,
      userId,
      codes.map((c) => tokenHash(plain(c))),
    );
    return codes;
  }

  private async withCode(
    person: Person,
    code: string,
    address: string,
    work: (w: Writer, user: UserModel) => Promise<void>,
  ): Promise<void> {
    await this.signIn.mayTry(person.email, address);
    const right = await this.p.db.write(async (w) => {
      const user = await this.user(w, person.id);
      if (user.factorSecret === '') throw conflict('There is no second factor.');
      if (!(await takeFactorCode(w, this.p, user, code))) return false;
      await work(w, user);
      return true;
    });
    if (right) return;
    await this.signIn.noteFailure(person.email, address);
    throw refused('This code is not good.', [{ field: 'code', message: 'Not the code of now, nor a recovery code.' }]);
  }

  private async user(w: Writer, id: string): Promise<UserModel> {
    const user = await userById(w, id);
    if (!user) throw conflict('This account is no more.');
    return user;
  }
}
