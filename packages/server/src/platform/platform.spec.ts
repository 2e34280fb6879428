import { appendFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { GatewayBusy, GatewayDown, GatewayRefused, type FeedEvent, type OutsideEvent } from '@long-gate/gateways';
import fc from 'fast-check';
import { pino } from 'pino';
import { z } from 'zod';
import { AUDIT_CHAIN, record, trailHead, verifyTrail } from './audit.js';
import { ScenarioClock } from './clock.js';
import { Db } from './db.js';
import { FeedReader } from './feed.js';
import { Heads } from './heads.js';
import { idFrom, newId } from './ids.js';
import { Jobs } from './jobs.js';
import { Live } from './live.js';
import { migrate } from './migrate.js';
import { Outbox } from './outbox.js';
import { openSetAside } from './set-aside-store.js';
import { Vault } from './vault.js';
import { emptyDatabase, ofSqlite, withoutGuard } from '../testing/database.js';
import { FakeOutside } from '../testing/fake-outside.js';

describe('the platform', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  let clock: ScenarioClock;
  const log = pino({ level: 'silent' });
  const live = new Live();

  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'platform-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place);
    await migrate(db);
    clock = await ScenarioClock.load(db);
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  describe('the write queue', () => {
    it('lets writes through one at a time, in order, and readers beside them', async () => {
      await db.write((w) => w.run(`INSERT INTO setting (name, value) VALUES ('n', '0')`));
      await Promise.all(
        Array.from({ length: 25 }, () =>
          db.write(async (w) => {
            const now = await w.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'n'`);
            await new Promise((r) => setTimeout(r, 1));
            await w.run(`UPDATE setting SET value = $1 WHERE name = 'n'`, [String(Number(now?.value) + 1)]);
          }),
        ),
      );
      expect((await db.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'n'`))?.value).toBe('25');
    });

    it('rolls everything back on an error, and runs what waits for the commit only then', async () => {
      let ran = false;
      await expectAsync(
        db.write(async (w) => {
          await w.run(`INSERT INTO setting (name, value) VALUES ('half', 'done')`);
          w.afterCommit(() => (ran = true));
          throw new Error('no');
        }),
      ).toBeRejectedWithError('no');
      expect(await db.one(`SELECT 1 FROM setting WHERE name = 'half'`)).toBeUndefined();
      expect(ran).toBe(false);
      await db.write((w) => w.run(`INSERT INTO setting (name, value) VALUES ('after', 'x')`));
      expect(await db.one(`SELECT 1 FROM setting WHERE name = 'after'`)).toBeDefined();
    });

    ofSqlite('keeps what was committed on disk, with the safest synchronisation', async () => {
      const [mode] = await db.write((w) => w.all<{ synchronous: number }>('PRAGMA synchronous'));
      expect(mode?.synchronous).toBe(2);
    });

    it('holds rows to what they refer to, and lets no reader write', async () => {
      await expectAsync(
        db.write((w) => w.run(`INSERT INTO brand (id, business_id, body) VALUES ('b', 'nobody', '{}')`)),
      ).toBeRejected();
      await expectAsync(db.all(`DELETE FROM setting`)).withContext('a reader cannot write').toBeRejected();
    });
  });

  it('never changes or deletes what is in the audit trail or the ledger', async () => {
    await db.write((w) =>
      record(w, clock, {
        businessId: 'b',
        actor: { id: 'u', name: 'U' },
        action: 'did',
        objectKind: 'x',
        objectId: '1',
      }),
    );
    await expectAsync(db.write((w) => w.run(`UPDATE audit SET action = 'did not'`))).toBeRejected();
    await expectAsync(db.write((w) => w.run(`DELETE FROM audit`))).toBeRejected();
    await db.write((w) =>
      w.run(
        `INSERT INTO consent_event VALUES ('b',1,'e','+1','promotional','granted',FALSE,1,1,'web page','','','{}','contact','','')`,
      ),
    );
    await expectAsync(db.write((w) => w.run(`UPDATE consent_event SET kind = 'revoked'`))).toBeRejected();
    await expectAsync(db.write((w) => w.run(`DELETE FROM consent_event`))).toBeRejected();
    // Nor by an insert that would replace, or one out of its turn.
    const replace = db.dialect === 'sqlite' ? 'INSERT OR REPLACE INTO' : 'INSERT INTO';
    for (const [seq, id] of [
      [1, 'other'],
      [2, 'e'],
      [3, 'later'],
    ])
      await expectAsync(
        db.write((w) =>
          w.run(
            `${replace} consent_event VALUES ('b',$1,$2,'+1','promotional','revoked',FALSE,1,1,'web page','','','{}','contact','','')`,
            [seq, id],
          ),
        ),
      )
        .withContext(`${seq} ${id}`)
        .toBeRejected();
    await expectAsync(
      db.write((w) =>
        w.run(
          `${replace} audit (n, id, at, business_id, actor_id, actor_name, action, object_kind, object_id) VALUES (1,'x',0,'b','u','U','did not','x','1')`,
        ),
      ),
    ).toBeRejected();
    expect((await db.one<{ action: string }>('SELECT action FROM audit'))?.action).toBe('did');
    expect((await db.one<{ kind: string }>('SELECT kind FROM consent_event'))?.kind).toBe('granted');
  });

  it('links the audit trail, and shows what was changed, left out, cut off or written anew', async () => {
    const note = (action: string): Promise<void> =>
      db.write((w) =>
        record(w, clock, {
          businessId: 'b',
          actor: { id: 'u', name: 'U' },
          action,
          objectKind: 'x',
          objectId: '1',
          before: { a: 1 },
        }),
      );
    for (const action of ['one', 'two', 'three', 'four']) await note(action);
    const heads = await Heads.open(path.join(dir, 'heads'));
    await heads.sign(AUDIT_CHAIN, await trailHead(db), clock.now());
    const verdict = async () => verifyTrail(db, (await heads.of(AUDIT_CHAIN)).heads);
    expect(await verdict()).toEqual({ ok: true, count: 4, unchained: 0 });
    for (const t of ['audit_no_update', 'audit_no_delete']) await db.write((w) => withoutGuard(w, 'audit', t));
    const undo = async (sql: string, back: string, brokenAt: number): Promise<void> => {
      await db.write((w) => w.run(sql));
      expect(await verdict())
        .withContext(sql)
        .toEqual(jasmine.objectContaining({ ok: false, brokenAt }));
      await db.write((w) => w.run(back));
      expect((await verdict()).ok)
        .withContext(back)
        .toBe(true);
    };
    await undo(`UPDATE audit SET action = 'zwei' WHERE n = 2`, `UPDATE audit SET action = 'two' WHERE n = 2`, 2);
    await undo(
      `UPDATE audit SET hash = 'x' WHERE n = 3`,
      `UPDATE audit SET hash = (SELECT prev_hash FROM audit WHERE n = 4) WHERE n = 3`,
      3,
    );
    await db.write((w) => w.run('DELETE FROM audit WHERE n = 4'));
    expect(await verdict()).toEqual(jasmine.objectContaining({ ok: false, brokenAt: 4 }));
    // Heads nobody of ours signed do not count.
    await appendFile(
      path.join(dir, 'heads', 'heads.jsonl'),
      `${JSON.stringify({ chain: AUDIT_CHAIN, count: 3, head: 'x', at: 1, signature: 'AAAA' })}\n`,
    );
    expect((await heads.of(AUDIT_CHAIN)).forged).toBe(1);
  });

  it('moves the scenario clock forward only, and remembers it', async () => {
    const later = clock.now() + 86_400_000;
    await clock.moveTo(later);
    await clock.moveTo(later - 3_600_000);
    expect(clock.now()).toBeGreaterThanOrEqual(later);
    expect((await ScenarioClock.load(db)).now()).toBeGreaterThanOrEqual(later);
  });

  it('keeps secrets sealed, and notices when one was tampered with', async () => {
    const vault = await Vault.open(dir, {});
    const sealed = vault.seal('36-1234567');
    expect(sealed).not.toContain('1234567');
    expect((await Vault.open(dir, {})).unseal(sealed)).toBe('36-1234567');
    const raw = Buffer.from(sealed, 'base64');
    raw[raw.length - 1] = (raw[raw.length - 1] ?? 0) ^ 1;
    expect(() => vault.unseal(raw.toString('base64'))).toThrow();
    await expectAsync(Vault.open(dir, { key: 'short' })).toBeRejectedWithError(/64 hexadecimal digits/);
  });

  it('makes the same id of the same words and another of others', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (a, b) => {
        expect(idFrom('x', a, b)).toBe(idFrom('x', a, b));
        if (a !== b) expect(idFrom('x', a, b)).not.toBe(idFrom('x', b, a));
      }),
    );
    expect(new Set(Array.from({ length: 1000 }, () => newId('x'))).size).toBe(1000);
  });

  describe('jobs', () => {
    const jobs = (): Jobs => new Jobs(db, clock, live, log);

    it('ends the same wherever it is killed', async () => {
      await fc.assert(
        fc.asyncProperty(fc.integer({ min: 0, max: 9 }), async (killAt) => {
          await db.write((w) =>
            w.run(`INSERT INTO setting (name, value) VALUES ('sum', '0') ON CONFLICT (name) DO UPDATE SET value = '0'`),
          );
          await db.write((w) => w.run('DELETE FROM job'));
          let steps = 0;
          const make = (): Jobs => {
            const j = jobs();
            // Each step keeps its effect and its place in one transaction.
            j.handle('count', z.object({}), async () => {
              if (steps++ === killAt) throw new Error('killed');
              const n = await db.write(async (w) => {
                const now = Number(
                  (await w.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'sum'`))?.value,
                );
                if (now < 10) await w.run(`UPDATE setting SET value = $1 WHERE name = 'sum'`, [String(now + 1)]);
                return now;
              });
              return n >= 10 ? { done: true } : { done: false };
            });
            return j;
          };
          await db.write((w) => make().add(w, { kind: 'count', businessId: 'b', payload: {}, key: 'only' }));
          await db.write((w) => make().add(w, { kind: 'count', businessId: 'b', payload: {}, key: 'only' }));
          for (let i = 0; i < 60; i++) {
            const j = make();
            if (i % 5 === 0) await j.takeBack();
            await db.write((w) => w.run(`UPDATE job SET run_at = 0 WHERE state = 'waiting'`));
            if (!(await j.workOne())) break;
          }
          expect((await db.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'sum'`))?.value).toBe('10');
          expect((await db.all<{ state: string }>('SELECT state FROM job')).map((x) => x.state)).toEqual(['done']);
        }),
        { numRuns: 10 },
      );
    });

    it('that is long keeps no other waiting, and learns that somebody waits for it', async () => {
      const j = jobs();
      const worked: string[] = [];
      let awaited = false;
      j.handle(
        'paced',
        z.object({}),
        async (_, context) => {
          worked.push('paced begins');
          while (!context.isAwaited()) await new Promise((r) => setTimeout(r, 5));
          worked.push('paced ends');
          return { done: true };
        },
        undefined,
        'long',
      );
      j.handle('quick', z.object({}), () => {
        worked.push('quick');
        return Promise.resolve({ done: true });
      });
      await db.write((w) => j.add(w, { kind: 'paced', businessId: 'b', payload: {} }));
      expect([await j.workOne({ lane: 'short' }), await j.nextDue('short')]).toEqual([false, null]);
      const long = j.workOne({ lane: 'long', isAwaited: () => awaited });
      await new Promise((r) => setTimeout(r, 40));
      await db.write((w) => j.add(w, { kind: 'quick', businessId: 'b', payload: {} }));
      expect(await j.workOne({ lane: 'long' })).toBe(false);
      expect(await j.workOne({ lane: 'short' })).toBe(true);
      awaited = true;
      expect(await long).toBe(true);
      expect(worked).toEqual(['paced begins', 'quick', 'paced ends']);
    });

    it('is worked on by one at a time, and taken back when its lease has run out', async () => {
      const a = jobs();
      const b = jobs();
      let running = 0;
      let most = 0;
      for (const j of [a, b])
        j.handle('slow', z.object({}), async () => {
          most = Math.max(most, ++running);
          await new Promise((r) => setTimeout(r, 30));
          running--;
          return { done: true };
        });
      await db.write((w) => a.add(w, { kind: 'slow', businessId: 'b', payload: {} }));
      const worked = await Promise.all([a.workOne(), b.workOne()]);
      expect(worked.filter(Boolean).length).toBe(1);
      expect(most).toBe(1);
      await db.write((w) =>
        w.run(
          `INSERT INTO job (id, key, kind, business_id, payload, run_at, state, lease_until, created_at) VALUES ('dead','dead','slow','b','{}',0,'running',1,0)`,
        ),
      );
      expect(await b.workOne()).toBe(true);
      expect((await db.one<{ state: string }>(`SELECT state FROM job WHERE id = 'dead'`))?.state).toBe('done');
    });

    it('loses no wake-up that comes while it runs', async () => {
      const j = jobs();
      let runs = 0;
      j.handle('sleeper', z.object({}), async () => {
        if (runs++ === 0) await db.write((w) => j.wake(w, { key: 'sleep' }));
        return { done: false, at: clock.now() + 3_600_000 };
      });
      await db.write((w) => j.add(w, { kind: 'sleeper', businessId: 'b', payload: {}, key: 'sleep' }));
      expect(await j.workOne()).toBe(true);
      expect(await j.workOne())
        .withContext('woken: it comes back at once')
        .toBe(true);
      expect(await j.workOne())
        .withContext('then it sleeps')
        .toBe(false);
      await db.write((w) => j.wake(w, { businessId: 'b', kind: 'sleeper' }));
      expect(await j.workOne()).toBe(true);
      expect(runs).toBe(3);
    });

    it('gives up after some tries and says why', async () => {
      const j = jobs();
      j.handle('bad', z.object({}), () => Promise.reject(new Error('cannot be done')));
      await db.write((w) => j.add(w, { kind: 'bad', businessId: 'b', payload: {} }));
      for (let i = 0; i < 12; i++) {
        await db.write((w) => w.run(`UPDATE job SET run_at = 0 WHERE state = 'waiting'`));
        await j.workOne();
      }
      expect(await db.one<{ state: string; error: string }>('SELECT state, error FROM job')).toEqual(
        jasmine.objectContaining({ state: 'failed', error: 'cannot be done' }),
      );
    });

    it('pauses, goes on and cancels', async () => {
      const j = jobs();
      let runs = 0;
      j.handle('long', z.object({}), () => Promise.resolve({ done: ++runs > 3 }));
      const id = await db.write((w) => j.add(w, { kind: 'long', businessId: 'b', payload: {} }));
      await j.workOne();
      expect(await db.write((w) => j.control(w, 'b', id, 'pause'))).toBe(true);
      expect(await j.workOne()).toBe(false);
      expect(await db.write((w) => j.control(w, 'somebody-else', id, 'resume'))).toBe(false);
      await db.write((w) => j.control(w, 'b', id, 'resume'));
      expect(await j.workOne()).toBe(true);
      await db.write((w) => j.control(w, 'b', id, 'cancel'));
      expect(await j.workOne()).toBe(false);
      expect(runs).toBe(2);
    });
  });

  describe('jobs that are over', () => {
    const People = z.object({ e164s: z.array(z.string()), formId: z.string() });
    const carried = async (): Promise<unknown> =>
      JSON.parse((await db.one<{ payload: string }>('SELECT payload FROM job'))?.payload ?? '');

    for (const [how, end] of [
      ['were done', (j: Jobs) => j.workOne()],
      ['were called off', (j: Jobs, id: string) => db.write((w) => j.control(w, 'b', id, 'cancel'))],
    ] as const)
      it(`keep not whom they were about, where they ${how}; what else they carried stays`, async () => {
        const j = new Jobs(db, clock, live, log);
        let heard: string[] = [];
        j.handle('form', People, ({ e164s }) => {
          heard = e164s;
          return Promise.resolve({ done: true });
        });
        const payload = { e164s: ['+12125550101'], formId: 'frm_1' };
        const id = await db.write((w) => j.add(w, { kind: 'form', businessId: 'b', payload }));
        expect(await carried()).toEqual(payload);
        await end(j, id);
        expect(await carried()).toEqual({ formId: 'frm_1' });
        expect(heard).toEqual(how === 'were done' ? ['+12125550101'] : []);
      });
  });

  describe('the outbox', () => {
    const Send = z.object({ from: z.string(), to: z.string(), text: z.string(), segments: z.number() });
    const send = { from: '+1', to: '+2', text: 'x', segments: 1 };

    function outbox(outside: FakeOutside): { box: Outbox; refused: string[]; delivered: string[] } {
      const box = new Outbox(db, clock, log);
      const refused: string[] = [];
      const delivered: string[] = [];
      box.carry('text', Send, {
        deliver: (key, p) => outside.network.send({ key, ...p, readUpTo: 0, takeBy: Infinity }),
        delivered: (_w, key) => Promise.resolve(void delivered.push(key)),
        refused: (_w, key) => Promise.resolve(void refused.push(key)),
      });
      return { box, refused, delivered };
    }
    const due = (): Promise<void> => db.write((w) => w.run('UPDATE outbox SET due_at = 0'));

    it('delivers each key once, however often it is put', async () => {
      const outside = new FakeOutside();
      const { box } = outbox(outside);
      await db.write((w) => box.put(w, 'text', 'k', send));
      await db.write((w) => box.put(w, 'text', 'k', send));
      while ((await box.work()) > 0);
      expect(outside.sent.map((t) => t.key)).toEqual(['k']);
    });

    it('tries again under the same key when the answer was lost, and repeats nothing', async () => {
      const outside = new FakeOutside();
      const first = outbox(outside);
      await db.write((w) => first.box.put(w, 'text', 'k', send));
      // The text was taken, then we died before noting it.
      outside.afterSend = () => {
        outside.afterSend = null;
        throw new GatewayDown('the answer was lost');
      };
      await first.box.work();
      await due();
      const second = outbox(outside);
      await second.box.work();
      expect(outside.sent.length).toBe(1);
      expect(second.delivered).toEqual(['k']);
    });

    it('backs off when the network is busy, and tells the owner when it says no', async () => {
      const outside = new FakeOutside();
      const { box, refused } = outbox(outside);
      await db.write((w) => box.put(w, 'text', 'k', send));
      outside.nextSend = new GatewayBusy('full', 60_000);
      await box.work();
      expect(await box.work())
        .withContext('not before its time')
        .toBe(0);
      await due();
      outside.nextSend = new GatewayRefused('no', 'unregistered');
      await box.work();
      expect(refused).toEqual(['k']);
      await due();
      expect(await box.work()).toBe(0);
    });

    it('sets aside what fails for no reason the outside gave, and the rest goes on', async () => {
      const outside = new FakeOutside();
      const { box } = outbox(outside);
      let broken = true;
      box.carry('bad', z.object({}), {
        deliver: () => (broken ? Promise.reject(new TypeError('no such thing')) : Promise.resolve()),
        refused: () => Promise.resolve(),
      });
      await db.write((w) => box.put(w, 'bad', 'b', {}));
      await db.write((w) => box.put(w, 'text', 'k', send));
      for (let i = 0; i < 6; i++) {
        await box.work();
        await due();
      }
      expect(outside.sent.map((t) => t.key)).toEqual(['k']);
      expect((await openSetAside(db)).map((x) => [x.lane, x.key, x.cause])).toEqual([['outbox', 'b', 'no such thing']]);
      expect(await box.work()).toBe(0);
      broken = false;
      await db.write((w) => box.takeUp(w, 'b'));
      await box.work();
      expect((await db.one<{ state: string }>(`SELECT state FROM outbox WHERE key = 'b'`))?.state).toBe('delivered');
    });
  });

  describe('the feed', () => {
    const opened = (seq: number, key: string): OutsideEvent => ({ seq, at: seq, kind: 'account.opened', key });
    const seen = async (): Promise<string[]> =>
      (await db.all<{ name: string }>(`SELECT name FROM setting WHERE name LIKE 'seen.%' ORDER BY name`)).map((x) =>
        x.name.slice(5),
      );
    function reading(outside: FakeOutside, fails: (key: string) => boolean): FeedReader {
      const reader = new FeedReader(db, outside, clock);
      reader.on('account.opened', async (w, e) => {
        await w.run(`INSERT INTO setting (name, value) VALUES ($1, 'seen')`, [`seen.${e.key}`]);
        if (fails(e.key)) throw new Error(`no room for ${e.key}`);
      });
      return reader;
    }

    it('gives each event its effect exactly once, whenever we crash', async () => {
      const outside = new FakeOutside();
      outside.told.push(opened(1, 'a'), opened(2, 'b'));
      const write = db.write.bind(db);
      let crash = true;
      // The power goes before anything of the lot is on disk.
      spyOn(db, 'write').and.callFake((work) => (crash ? Promise.reject(new Error('power cut')) : write(work)));
      const reader = reading(outside, () => false);
      await expectAsync(reader.work()).toBeRejectedWithError('power cut');
      expect(await seen()).toEqual([]);
      crash = false;
      expect(await reader.dry()).toBe(2);
      expect(await reader.work()).toBe(0);
      expect(await seen()).toEqual(['a', 'b']);
    });

    it('sets a bad event aside by itself, and nothing else waits for it', async () => {
      const outside = new FakeOutside();
      for (let i = 1; i <= 9; i++) outside.told.push(opened(i, String(i)));
      outside.told.push({ seq: 10, at: 1, kind: 'text.exploded', key: 'x' } as never, opened(11, '11'));
      let broken = true;
      const reader = reading(outside, (key) => broken && (key === '3' || key === '8'));
      expect(await reader.dry()).toBe(11);
      expect(await seen()).toEqual(['1', '11', '2', '4', '5', '6', '7', '9']);
      const aside = await openSetAside(db);
      expect(aside.map((x) => [x.key, x.kind, x.cause.slice(0, 9)])).toEqual([
        ['feed:3', 'account.opened', 'no room f'],
        ['feed:8', 'account.opened', 'no room f'],
        ['feed:10', 'text.exploded', '✖ Invalid'],
      ]);
      // Mended, it can be taken up again.
      broken = false;
      const three = aside.find((x) => x.key === 'feed:3');
      await db.write((w) => reader.carryOut(w, [three?.body as FeedEvent]));
      expect(await seen()).toContain('3');
    });

    it('takes each event once where two read at the same time', async () => {
      const outside = new FakeOutside();
      for (let i = 1; i <= 30; i++) outside.told.push(opened(i, String(i)));
      const [a, b] = [reading(outside, () => false), reading(outside, () => false)];
      await Promise.all([a.dry(), b.dry()]);
      expect((await seen()).length).toBe(30);
      expect(await openSetAside(db)).toEqual([]);
    });
  });

  describe('facts', () => {
    it('are heard in the transaction that makes them true, once, or not at all', async () => {
      const heard: string[] = [];
      db.facts.on('money.added', async (w, { businessId }) => {
        heard.push(businessId);
        await w.run(`INSERT INTO setting (name, value) VALUES ($1, 'heard')`, [`heard.${businessId}`]);
        w.tell('account.changed', { businessId });
      });
      db.facts.on('account.changed', async (w, { businessId }) =>
        w.run(`UPDATE setting SET value = 'heard twice' WHERE name = $1`, [`heard.${businessId}`]),
      );
      await db.write((w) => {
        w.tell('money.added', { businessId: 'b' });
        w.tell('money.added', { businessId: 'b' });
        return Promise.resolve();
      });
      expect(heard).toEqual(['b']);
      expect((await db.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'heard.b'`))?.value).toBe(
        'heard twice',
      );
      await expectAsync(
        db.write((w) => {
          w.tell('money.added', { businessId: 'c' });
          return Promise.reject(new Error('no'));
        }),
      ).toBeRejected();
      expect(heard).toEqual(['b']);
      // Where the hearing fails, what was told is not true either.
      db.facts.on('country.changed', () => Promise.reject(new Error('deaf')));
      await expectAsync(
        db.write(async (w) => {
          await w.run(`INSERT INTO setting (name, value) VALUES ('told', 'x')`);
          w.tell('country.changed', { businessId: 'b' });
        }),
      ).toBeRejectedWithError('deaf');
      expect(await db.one(`SELECT 1 FROM setting WHERE name = 'told'`)).toBeUndefined();
    });
  });
});
