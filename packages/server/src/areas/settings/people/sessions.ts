import { randomBytes } from 'node:crypto';
import type { Writer } from '../../../platform/db.js';
import type { Person, SignedIn } from '../../../platform/http/route.js';
import { newId } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import { membershipsOf, userById } from './people-store.js';
import { addSession, endSessionByToken, endSessions, seeSession, sessionByToken, sessionsOf } from './session-store.js';
import type { SessionModel } from './model.js';
import { newToken, tokenHash } from './tokens.js';

/** How long a session is good (wall time). */
export const SESSION_MS = 12 * 3_600_000;
/** How exactly it is kept when a session was used last. */
const SEEN_EVERY_MS = 5 * 60_000;

/** Where a request comes from. */
export interface From {
  address: string;
  agent: string;
}

/** Who is signed in where. A session belongs to one person for as long as it lasts; wall time throughout. */
export class Sessions {
  constructor(private readonly p: Platform) {}

  /** Opens a session and ends the one that stood in the same browser before. */
  async open(w: Writer, userId: string, from: From, before: string | undefined): Promise<string> {
    const token = newToken();
    const now = Date.now();
    if (before) await endSessionByToken(w, tokenHash(before));
    await addSession(w, {
      id: newId('ses'),
      tokenHash: tokenHash(token),
      userId: userId,
      csrf: randomBytes(18).toString('base64url'),
      openedWall: now,
      seenWall: now,
      expiresWall: now + SESSION_MS,
      address: from.address,
      agent: from.agent.slice(0, 300),
    });
    return token;
  }

  async close(token: string): Promise<void> {
    await this.p.db.write(async (w) => {
      await endSessionByToken(w, tokenHash(token));
      w.afterCommit(() => this.p.live.lookAgain());
    });
  }

  /** Who holds this session token, or undefined. Roles are read anew at each request. */
  async byToken(token: string): Promise<SignedIn | undefined> {
    const session = await sessionByToken(this.p.db, tokenHash(token));
    const user = session && (await userById(this.p.db, session.userId));
    if (!user) return undefined;
    if (Date.now() - session.seenWall > SEEN_EVERY_MS)
      await this.p.db.write((w) => seeSession(w, session.id, Date.now()));
    const roles = await membershipsOf(this.p.db, user.id);
    const person: Person = {
      id: user.id,
      name: user.name,
      email: user.email,
      roles: Object.fromEntries(roles.map((r) => [r.businessId, r.role])),
      factorMissing:
        user.factorSecret === ''
          ? roles.filter((r) => r.wantsFactor && r.role === 'administrator').map((r) => r.businessId)
          : [],
    };
    return { person, sessionId: session.id, csrf: session.csrf, mobile: user.mobile };
  }

  async list(userId: string): Promise<SessionModel[]> {
    return sessionsOf(this.p.db, userId);
  }

  /** @throws Problem 404 for a session that is not this person's. */
  async end(userId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      if ((await endSessions(w, userId, { id })) === 0) throw notFound('session');
      w.afterCommit(() => this.p.live.lookAgain());
    });
  }

  /** Ends all sessions of a person but one; the empty id keeps none. */
  async endOthers(w: Writer, userId: string, keep: string): Promise<number> {
    const n = await endSessions(w, userId, { except: keep });
    w.afterCommit(() => this.p.live.lookAgain());
    return n;
  }
}
