import type { PersonView } from '@long-gate/contracts';
import { record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Role } from '../../../platform/http/route.js';
import { newId } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, notFound, refused } from '../../../platform/problem.js';
import {
  addUser,
  anyUser,
  endMembership,
  membership,
  nameByMobile,
  otherAdministrators,
  peopleOf,
  setMembership,
  setSecondFactorWish,
  userById,
} from './people-store.js';

/** Who has had an administrator's role for so long may say a second yes. source: the product's own rule */
const SECOND_YES_AFTER_MS = 86_400_000;

/** People and their roles in each business. */
export class People {
  constructor(private readonly p: Platform) {}

  async anybody(): Promise<boolean> {
    return anyUser(this.p.db);
  }

  /** The same inside a write. */
  async anybodyIn(r: Reader): Promise<boolean> {
    return anyUser(r);
  }

  async add(w: Writer, draft: { name: string; email: string; passwordHash: string }): Promise<string> {
    const id = newId('usr');
    await addUser(w, {
      id,
      email: draft.email,
      name: draft.name,
      password: draft.passwordHash,
      at: Math.round(this.p.clock.now()),
    });
    return id;
  }

  async give(
    w: Writer,
    actor: Actor,
    userId: string,
    businessId: string,
    role: Role,
    more: Record<string, string> = {},
  ): Promise<void> {
    await setMembership(w, { userId, businessId, role, at: Math.round(this.p.clock.now()) });
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: `role ${role} given`,
      objectKind: 'person',
      objectId: userId,
      after: { role, ...more },
    });
  }

  async changeRole(actor: Actor, businessId: string, userId: string, role: Role | 'none'): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await membership(w, userId, businessId);
      if (!before) throw notFound('person');
      if (
        before.role === 'administrator' &&
        role !== 'administrator' &&
        (await otherAdministrators(w, businessId, userId)) === 0
      )
        throw conflict('This is the only administrator; give somebody else that role first.');
      if (role === 'none') await endMembership(w, userId, businessId);
      else await setMembership(w, { userId, businessId, role, at: Math.round(this.p.clock.now()) });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: role === 'none' ? 'role taken away' : `role ${role} given`,
        objectKind: 'person',
        objectId: userId,
        before: { role: before.role },
        after: { role },
      });
      w.afterCommit(() => {
        this.p.live.lookAgain();
        this.p.live.tell({ businessId, topic: 'settings' });
      });
    });
  }

  async list(businessId: string): Promise<PersonView[]> {
    return (await peopleOf(this.p.db, businessId)).map(({ factor, ...p }) => ({ ...p, secondFactor: factor }));
  }

  /** Whose own mobile this is; null where nobody’s. */
  async withMobile(r: Reader, e164: string): Promise<string | null> {
    return nameByMobile(r, e164);
  }

  async nameOf(r: Reader, userId: string): Promise<string> {
    return (await userById(r, userId))?.name ?? '';
  }

  async roleOf(r: Reader, userId: string, businessId: string): Promise<Role | null> {
    return (await membership(r, userId, businessId))?.role ?? null;
  }

  /** Whether the business wants a second factor of its administrators. Whoever says so has to have one. */
  async wantSecondFactor(actor: Actor, businessId: string, wanted: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      if (wanted && ((await userById(w, actor.id))?.factorSecret ?? '') === '')
        throw refused('Set up your own second factor first, under You; else this would shut you out.', [
          { field: 'wanted', message: 'Set up your own second factor first.' },
        ]);
      await setSecondFactorWish(w, businessId, wanted);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: wanted ? 'second factor wanted of administrators' : 'second factor left to administrators',
        objectKind: 'business',
        objectId: businessId,
        after: { secondFactor: wanted },
      });
      w.afterCommit(() => {
        this.p.live.lookAgain();
        this.p.live.tell({ businessId, topic: 'settings' });
      });
    });
  }

  // -- the second yes ----------------------------------------------------------------------------------------------

  /** Whether a person is the only administrator: then nobody else can say a second yes. */
  async alone(r: Reader, businessId: string, userId: string): Promise<boolean> {
    return (await otherAdministrators(r, businessId, userId)) === 0;
  }

  /**
   * The moment from which a person's yes counts as a second one: an administrator for a day. Null for anybody else.
   * That they are somebody else rests on the invitation: a link to their own e-mail, a password of their own, and
   * sessions that belong to one person.
   */
  async secondYesFrom(r: Reader, businessId: string, userId: string): Promise<number | null> {
    const m = await membership(r, userId, businessId);
    return m?.role === 'administrator' ? (m.administratorSince ?? 0) + SECOND_YES_AFTER_MS : null;
  }
}
