import type { Invitation, InvitationSeen } from '@long-gate/contracts';
import { dayIn } from '@long-gate/core';
import { record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { DAY_MS } from '../../../platform/limits.js';
import { idFrom } from '../../../platform/ids.js';
import type { Role } from '../../../platform/http/route.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, notFound, refused } from '../../../platform/problem.js';
import type { Businesses } from '../businesses.js';
import {
  addInvitation,
  closeInvitation,
  invitation,
  invitationByToken,
  openInvitations,
  openInvitationTo,
  renewInvitation,
} from './invitation-store.js';
import type { InvitationModel, InvitationRow } from './model.js';
import { hashPassword } from './passwords.js';
import type { People } from './people.js';
import { membership, userByEmail, userById } from './people-store.js';
import type { From, Sessions } from './sessions.js';
import type { SignIn } from './sign-in.js';
import { newToken, tokenHash } from './tokens.js';

/** How long an invitation is good. */
const GOOD_MS = 7 * 86_400_000;
const A_DAY = 50;

/** How people come in: invited by e-mail, they set their own name and password, or sign in to the account they have. */
export class Invitations {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly people: People,
    private readonly sessions: Sessions,
    private readonly signIn: SignIn,
  ) {}

  async list(businessId: string): Promise<Invitation[]> {
    const rows = await openInvitations(this.p.db, businessId);
    return Promise.all(rows.map((row) => this.show(row)));
  }

  private async show(row: InvitationRow): Promise<Invitation> {
    return {
      id: row.id,
      email: row.email,
      role: row.role,
      invitedBy: (await userById(this.p.db, row.invitedBy))?.name ?? '',
      invitedAt: row.invitedAt,
      expiresAt: row.expiresAt,
      expired: row.expiresAt <= this.p.clock.now(),
      sent: row.sent,
    };
  }

  /**
   * Invites by e-mail; once for one key. The answer is the same whether or not there is such an account: whose address
   * it is, only its owner learns. The same address again renews the link.
   */
  async invite(
    actor: Actor,
    businessId: string,
    wish: { email: string; role: Role },
    key: string,
  ): Promise<Invitation> {
    const id = idFrom('inv', businessId, key);
    const row = await this.p.db.write(async (w) => {
      const known = await invitation(w, businessId, id);
      if (known) return known;
      const user = await userByEmail(w, wish.email);
      if (user && (await membership(w, user.id, businessId))) throw conflict('This person already has a role here.');
      const open = await openInvitationTo(w, businessId, wish.email);
      if (open) return this.sendAgain(w, actor, { ...open.get(), role: wish.role }, key);
      await this.limit(w, businessId);
      const token = newToken();
      const now = this.p.clock.now();
      const made: InvitationRow = {
        id,
        businessId,
        email: wish.email,
        role: wish.role,
        invitedBy: actor.id,
        invitedAt: Math.round(now),
        expiresAt: Math.round(now + GOOD_MS),
        state: 'open',
        sent: 1,
        lastKey: key,
      };
      await addInvitation(w, { ...made, tokenHash: tokenHash(token) });
      await this.mail(w, actor, made, token);
      await this.trail(w, actor, made, 'invited');
      return made;
    });
    return this.show(row);
  }

  async again(actor: Actor, businessId: string, id: string, key: string): Promise<Invitation> {
    const row = await this.p.db.write(async (w) =>
      this.sendAgain(w, actor, (await this.open(w, businessId, id)).get(), key),
    );
    return this.show(row);
  }

  private async sendAgain(w: Writer, actor: Actor, row: InvitationRow, key: string): Promise<InvitationRow> {
    // The same wish a second time sends nothing new.
    if (row.lastKey === key) return row;
    await this.limit(w, row.businessId);
    const token = newToken();
    const next = { ...row, expiresAt: Math.round(this.p.clock.now() + GOOD_MS), sent: row.sent + 1 };
    await renewInvitation(w, row.id, {
      tokenHash: tokenHash(token),
      expiresAt: next.expiresAt,
      role: row.role,
      key,
    });
    await this.mail(w, actor, next, token);
    await this.trail(w, actor, next, 'invited again');
    return next;
  }

  private async limit(w: Writer, businessId: string): Promise<void> {
    await this.p.limits.take(
      w,
      [{ act: 'invitation business', who: businessId, most: A_DAY, withinMs: DAY_MS }],
      `At most ${A_DAY} invitations a day are sent for one business. Try again tomorrow.`,
    );
  }

  async withdraw(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.open(w, businessId, id);
      await closeInvitation(w, row.id, 'withdrawn');
      await this.trail(w, actor, row, 'invitation withdrawn');
    });
  }

  private async open(r: Reader, businessId: string, id: string): Promise<InvitationModel> {
    const row = await invitation(r, businessId, id);
    if (!row || row.state !== 'open') throw notFound('invitation');
    return row;
  }

  /** What the invited person sees. @throws Problem 404 for a link that is used, withdrawn, too old or made up. */
  async see(token: string): Promise<InvitationSeen> {
    const row = await this.byToken(this.p.db, token);
    return {
      business: (await this.businesses.row(this.p.db, row.businessId)).legal_name,
      email: row.email,
      role: row.role,
      known: (await userByEmail(this.p.db, row.email)) !== null,
    };
  }

  private async byToken(r: Reader, token: string): Promise<InvitationRow> {
    const row = await invitationByToken(r, tokenHash(token));
    if (!row || row.state !== 'open' || row.expiresAt <= this.p.clock.now()) throw notFound('invitation');
    return row;
  }

  /** Accepts: a new person sets name and password, one who has an account gives the password it has. Signs in. */
  async accept(
    token: string,
    given: { name: string; password: string; code: string },
    from: From,
    before: string | undefined,
  ): Promise<{ token: string; businessId: string }> {
    const row = await this.byToken(this.p.db, token);
    const known = await userByEmail(this.p.db, row.email);
    if (!known && given.name.trim() === '')
      throw refused('Write your name.', [{ field: 'name', message: 'Your name is missing.' }]);
    if (!known && given.password.length < 10)
      throw refused('A password has at least 10 characters.', [
        { field: 'password', message: 'A password has at least 10 characters.' },
      ]);
    const hash = known ? '' : await hashPassword(given.password);
    const signedIn = known
      ? await this.signIn.signIn({ email: known.email, password: given.password, code: given.code }, from, before)
      : null;
    return this.p.db.write(async (w) => {
      const now = await this.byToken(w, token);
      const user = await userByEmail(w, now.email);
      // Two tabs: the account was made in the other one meanwhile.
      if (user && !signedIn) throw conflict('There is an account for this address by now; open the link again.');
      const userId =
        user?.id ?? (await this.people.add(w, { name: given.name.trim(), email: now.email, passwordHash: hash }));
      const person = { id: userId, name: user?.name ?? given.name.trim() };
      await this.people.give(w, person, userId, now.businessId, now.role, { invitedBy: now.invitedBy });
      await closeInvitation(w, now.id, 'accepted');
      w.afterCommit(() => this.p.live.tell({ businessId: now.businessId, topic: 'settings' }));
      return {
        token: signedIn?.token ?? (await this.sessions.open(w, userId, from, before)),
        businessId: now.businessId,
      };
    });
  }

  private async mail(w: Writer, actor: Actor, row: InvitationRow, token: string): Promise<void> {
    const { legal_name: business, time_zone } = await this.businesses.row(w, row.businessId);
    await this.p.mailer.put(w, `invitation:${row.id}:${row.sent}`, {
      to: row.email,
      subject: `${business}: an invitation to Long Gate`,
      text: `${actor.name} invites you to work for ${business} in Long Gate, as ${row.role}. Open this link to accept; it is good until ${dayIn(row.expiresAt, time_zone)} and for once:\n\n${this.p.mailer.link(`/invited/${token}`)}\n\nIf you expect no such invitation, do nothing.`,
    });
  }

  private async trail(w: Writer, actor: Actor, row: InvitationRow, action: string): Promise<void> {
    await record(w, this.p.clock, {
      businessId: row.businessId,
      actor,
      action,
      objectKind: 'invitation',
      objectId: row.id,
      after: { email: row.email, role: row.role },
    });
    w.afterCommit(() => this.p.live.tell({ businessId: row.businessId, topic: 'settings' }));
  }
}
