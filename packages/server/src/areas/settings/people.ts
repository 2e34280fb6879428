import { createHash, randomBytes, randomInt, scrypt, timingSafeEqual } from 'node:crypto';
import type { Role, Person } from '../../platform/http/route.js';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, Problem, refused } from '../../platform/problem.js';

/** Wrong codes after which a new one is needed. */
const CODE_TRIES = 5;
const SESSION_MS = 12 * 3_600_000;
const SCRYPT = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };

function derive(password: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, 32, SCRYPT, (error, key) => (error ? reject(error) : resolve(key)));
  });
}

/** scrypt with a salt of its own (RFC 7914); stored as `scrypt:salt:key`, base64. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt:${salt.toString('base64')}:${(await derive(password, salt)).toString('base64')}`;
}

export async function checkPassword(password: string, stored: string): Promise<boolean> {
  const [, salt = '', key = ''] = stored.split(':');
  const wanted = Buffer.from(key, 'base64');
  const got = await derive(password, Buffer.from(salt, 'base64'));
  return wanted.length === got.length && timingSafeEqual(wanted, got);
}

/** A hash to check against when there is no such person, so that the time taken tells nothing. */
const NOBODY = `scrypt:${Buffer.alloc(16).toString('base64')}:${Buffer.alloc(32).toString('base64')}`;

const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');

/** People, their roles, and their sessions (wall time). */
export class People {
  constructor(private readonly p: Platform) {
    p.outbox.carry<{ userId: string }>('staff.code', {
      deliver: async (key, { userId }) => {
        const row = await p.db.one<{ mobile_pending: string; mobile_code: string }>(
          'SELECT mobile_pending, mobile_code FROM user WHERE id = $1',
          [userId],
        );
        // Taken away again meanwhile: nothing is sent.
        if (!row || row.mobile_pending === '') return;
        const code = p.vault.unseal(row.mobile_code);
        await p.gateways.network.sendCode(
          key,
          row.mobile_pending,
          `Long Gate: your code is ${code}. Nobody will ask you for it.`,
        );
      },
      refused: async () => undefined,
    });
  }

  async anybody(): Promise<boolean> {
    return (await this.p.db.one('SELECT id FROM user LIMIT 1')) !== undefined;
  }

  async signIn(email: string, password: string): Promise<{ token: string }> {
    const user = await this.p.db.one<{ id: string; password: string }>(
      'SELECT id, password FROM user WHERE email = $1',
      [email.trim().toLowerCase()],
    );
    const ok = await checkPassword(password, user?.password ?? NOBODY);
    if (!user || !ok)
      throw new Problem(401, 'sign-in', 'E-mail or password is wrong.', [
        { field: 'password', message: 'E-mail or password is wrong.' },
      ]);
    return { token: await this.openSession(user.id) };
  }

  async openSession(userId: string): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    await this.p.db.write(async (w) => {
      await w.run('DELETE FROM session WHERE expires_wall < $1', [Date.now()]);
      await w.run('INSERT INTO session (token_hash, user_id, csrf, expires_wall) VALUES ($1,$2,$3,$4)', [
        tokenHash(token),
        userId,
        randomBytes(18).toString('base64url'),
        Date.now() + SESSION_MS,
      ]);
    });
    return token;
  }

  async closeSession(token: string): Promise<void> {
    await this.p.db.write((w) => w.run('DELETE FROM session WHERE token_hash = $1', [tokenHash(token)]));
  }

  /** Who holds this session token, or undefined. */
  async bySession(token: string): Promise<{ person: Person; csrf: string; mobile: string } | undefined> {
    const row = await this.p.db.one<{ user_id: string; csrf: string; name: string; email: string; mobile: string }>(
      'SELECT s.user_id, s.csrf, u.name, u.email, u.mobile FROM session s JOIN user u ON u.id = s.user_id WHERE s.token_hash = $1 AND s.expires_wall > $2',
      [tokenHash(token), Date.now()],
    );
    if (!row) return undefined;
    const roles = await this.p.db.all<{ business_id: string; role: Role }>(
      'SELECT business_id, role FROM membership WHERE user_id = $1',
      [row.user_id],
    );
    return {
      person: {
        id: row.user_id,
        name: row.name,
        email: row.email,
        roles: Object.fromEntries(roles.map((r) => [r.business_id, r.role])),
      },
      csrf: row.csrf,
      mobile: row.mobile,
    };
  }

  async add(w: Writer, draft: { name: string; email: string; passwordHash: string }): Promise<string> {
    const id = newId('usr');
    await w.run('INSERT INTO user (id, email, name, password, created_at) VALUES ($1,$2,$3,$4,$5)', [
      id,
      draft.email,
      draft.name,
      draft.passwordHash,
      this.p.clock.now(),
    ]);
    return id;
  }

  async give(w: Writer, actor: Actor, userId: string, businessId: string, role: Role): Promise<void> {
    await w.run(
      'INSERT INTO membership (user_id, business_id, role) VALUES ($1,$2,$3) ON CONFLICT (user_id, business_id) DO UPDATE SET role = $3',
      [userId, businessId, role],
    );
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: `role ${role} given`,
      objectKind: 'person',
      objectId: userId,
      after: { role },
    });
  }

  async addToBusiness(
    actor: Actor,
    businessId: string,
    draft: { name: string; email: string; role: Role; password: string },
  ): Promise<string> {
    const passwordHash = await hashPassword(draft.password);
    return this.p.db.write(async (w) => {
      const known = await w.one<{ id: string }>('SELECT id FROM user WHERE email = $1', [draft.email]);
      if (
        known &&
        (await w.one('SELECT 1 FROM membership WHERE user_id = $1 AND business_id = $2', [known.id, businessId]))
      )
        throw conflict('This person already has a role here.');
      const id = known?.id ?? (await this.add(w, { name: draft.name, email: draft.email, passwordHash }));
      await this.give(w, actor, id, businessId, draft.role);
      return id;
    });
  }

  async changeRole(actor: Actor, businessId: string, userId: string, role: Role | 'none'): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await w.one<{ role: Role }>(
        'SELECT role FROM membership WHERE user_id = $1 AND business_id = $2',
        [userId, businessId],
      );
      if (!before) throw notFound('person');
      const admins = await w.one<{ n: number }>(
        `SELECT count(*) AS n FROM membership WHERE business_id = $1 AND role = 'administrator' AND user_id <> $2`,
        [businessId, userId],
      );
      if (before.role === 'administrator' && role !== 'administrator' && (admins?.n ?? 0) === 0)
        throw conflict('This is the only administrator; give somebody else that role first.');
      if (role === 'none')
        await w.run('DELETE FROM membership WHERE user_id = $1 AND business_id = $2', [userId, businessId]);
      else
        await w.run('UPDATE membership SET role = $3 WHERE user_id = $1 AND business_id = $2', [
          userId,
          businessId,
          role,
        ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: role === 'none' ? 'role taken away' : `role ${role} given`,
        objectKind: 'person',
        objectId: userId,
        before,
        after: { role },
      });
    });
  }

  async list(r: Reader, businessId: string): Promise<{ id: string; name: string; email: string; role: Role }[]> {
    return r.all(
      'SELECT u.id, u.name, u.email, m.role FROM membership m JOIN user u ON u.id = m.user_id WHERE m.business_id = $1 ORDER BY u.name',
      [businessId],
    );
  }

  /** A mobile just given gets a code; it counts only once the code is given back. The empty text takes the mobile away. */
  async setMobile(actor: Person, mobile: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const code = mobile === '' ? '' : String(randomInt(100_000, 1_000_000));
      const before = await this.mobileOf(w, actor.id);
      await w.run(
        `UPDATE user SET mobile_pending = $2, mobile_code = $3, mobile_tries = 0, mobile = CASE WHEN $2 = '' THEN '' ELSE mobile END WHERE id = $1`,
        [actor.id, mobile, this.p.vault.seal(code)],
      );
      if (mobile !== '') {
        const n = await w.one<{ n: number }>(
          `SELECT count(*) AS n FROM outbox WHERE kind = 'staff.code' AND key LIKE $1 || ':%'`,
          [actor.id],
        );
        await this.p.outbox.put(w, 'staff.code', `${actor.id}:${n?.n ?? 0}`, { userId: actor.id });
      }
      await this.trail(
        w,
        actor,
        mobile === '' ? 'own mobile taken away' : 'code sent to own mobile',
        { mobile: before.mobile },
        { pending: mobile },
      );
    });
  }

  async mobileOf(r: Reader, userId: string): Promise<{ mobile: string; pending: string }> {
    const row = await r.one<{ mobile: string; pending: string }>(
      'SELECT mobile, mobile_pending AS pending FROM user WHERE id = $1',
      [userId],
    );
    return row ?? { mobile: '', pending: '' };
  }

  /** The code is given back: the mobile is theirs. After five wrong ones a new code is needed. */
  async confirmMobile(actor: Person, code: string): Promise<void> {
    const right = await this.p.db.write(async (w) => {
      const row = await w.one<{ mobile_pending: string; mobile_code: string; mobile_tries: number }>(
        'SELECT mobile_pending, mobile_code, mobile_tries FROM user WHERE id = $1',
        [actor.id],
      );
      if (!row || row.mobile_pending === '' || row.mobile_tries >= CODE_TRIES) return 'none' as const;
      if (code.replace(/\D/g, '') !== this.p.vault.unseal(row.mobile_code)) {
        await w.run('UPDATE user SET mobile_tries = mobile_tries + 1 WHERE id = $1', [actor.id]);
        return 'wrong' as const;
      }
      await w.run(`UPDATE user SET mobile = mobile_pending, mobile_pending = '', mobile_code = '' WHERE id = $1`, [
        actor.id,
      ]);
      await this.trail(w, actor, 'own mobile confirmed', undefined, { mobile: row.mobile_pending });
      return 'right' as const;
    });
    if (right === 'wrong')
      throw refused('This is not the code of the last text.', [
        { field: 'code', message: 'Not the code of the last text.' },
      ]);
    if (right === 'none')
      throw refused('There is no code to give back; save the mobile again and a new one comes.', [
        { field: 'code', message: 'Ask for a new code.' },
      ]);
  }

  private async trail(w: Writer, actor: Person, action: string, before: unknown, after: unknown): Promise<void> {
    for (const businessId of Object.keys(actor.roles)) {
      await record(w, this.p.clock, {
        businessId,
        actor,
        action,
        objectKind: 'person',
        objectId: actor.id,
        before,
        after,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'settings' }));
    }
  }
}
