import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { Op, type FindOptions } from 'sequelize';
import { replyReviewTable } from '../../areas/consent/model.js';
import { emptyDatabase } from '../../testing/database.js';
import { Db } from '../db.js';
import { hearStatements } from './connection.js';
import { jobTable, type JobModel } from '../model.js';
import { quickRead } from './quick-reads-store.js';

const KINDS = ['intake', 'two words', 'O’Brien; DROP', "it's", 'Upper', ''];
const STATES = ['waiting', 'done', 'failed'] as const;

describe('reading a table by plain values', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeAll(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'quick-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    await db.write(async (w) => {
      for (let i = 0; i < 40; i++)
        await w.of(jobTable).create({
          id: `job_${i}`,
          key: i === 7 ? 'plain' : `key ${i}`,
          kind: KINDS[i % KINDS.length] ?? '',
          businessId: `biz_${i % 3}`,
          payload: { n: i, words: ['"', 'ø', null] },
          state: STATES[i % STATES.length] ?? 'waiting',
          runAt: 1_900_000_000_000 + (i % 5),
          leaseUntil: i % 4 === 0 ? null : i,
          woken: i % 2 === 0,
          createdAt: i,
        });
    });
  });
  afterAll(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });
  afterEach(() => hearStatements(null));

  type Options = FindOptions<JobModel>;
  const jobs = (): ReturnType<typeof db.of<JobModel>> => db.of(jobTable);
  /** One option more than is known beforehand leaves it to Sequelize. */
  const slowly = (o: Options): Options => ({ ...o, subQuery: false });
  const plain = (found: JobModel[] | JobModel | null): unknown =>
    found === null ? null : Array.isArray(found) ? found.map((x) => x.get()) : found.get();

  it('finds what Sequelize finds, by any of them, in any order, one or many', async () => {
    const where = fc.record(
      {
        id: fc.constantFrom('job_1', 'job_39', 'nobody'),
        kind: fc.constantFrom(...KINDS),
        businessId: fc.constantFrom('biz_0', 'biz_2'),
        state: fc.constantFrom(...STATES, ['done', 'failed'], { [Op.ne]: 'done' }),
        runAt: fc.constantFrom(1_900_000_000_001, 7, { [Op.gte]: 1_900_000_000_003 }),
        leaseUntil: fc.constantFrom(null, 5, 6, { [Op.ne]: null }, { [Op.gt]: 5, [Op.lt]: 21 }, { [Op.lte]: 9 }),
        woken: fc.boolean(),
      },
      { requiredKeys: [] },
    );
    const order = fc.constantFrom<Options['order']>(
      undefined,
      ['createdAt'],
      ['runAt', ['createdAt', 'DESC']],
      [['id', 'DESC']],
    );
    const limit = fc.constantFrom(undefined, 1, 7);
    await fc.assert(
      fc.asyncProperty(where, order, limit, fc.boolean(), async (by, inOrder, most, one) => {
        const options: Options = {
          where: by,
          // Without an order none is promised.
          order: inOrder ?? ['id'],
          ...(most === undefined ? {} : { limit: most }),
        };
        const read = (o: Options): Promise<JobModel[] | JobModel | null> =>
          one ? jobs().findOne(o) : jobs().findAll(o);
        expect(plain(await read({ ...options }))).toEqual(plain(await read(slowly({ ...options }))));
        expect(await jobs().count({ where: by })).toBe(await jobs().count({ where: by, distinct: false }));
      }),
      { numRuns: 150 },
    );
  });

  it('gives some columns, or rows as they stand, as Sequelize does', async () => {
    for (const o of [
      { where: { key: 'plain' }, attributes: ['id', 'woken', 'payload'] },
      { where: { woken: true, state: 'done' }, attributes: ['id', 'leaseUntil'], raw: true, order: ['id'] },
      { where: { id: 'job_3' }, raw: true },
    ] satisfies Options[]) {
      const [quick, slow] = [await jobs().findAll({ ...o }), await jobs().findAll(slowly({ ...o }))];
      expect(quick.length).toBeGreaterThan(0);
      expect(JSON.stringify(quick)).toBe(JSON.stringify(slow));
    }
  });

  it('gives models that can be changed, and inside a write what it has written so far', async () => {
    await db.write(async (w) => {
      const job = await w.of(jobTable).findOne({ where: { id: 'job_5' } });
      await job?.update({ title: 'Renamed', woken: true });
      expect((await w.of(jobTable).findOne({ where: { id: 'job_5' } }))?.title).toBe('Renamed');
    });
    const after = await jobs().findOne({ where: { id: 'job_5' } });
    expect([after?.title, after?.woken, after?.payload]).toEqual(['Renamed', true, { n: 5, words: ['"', 'ø', null] }]);
  });

  it('writes its statement once for all values, but words of the code, which may decide which index serves', async () => {
    const heard: string[] = [];
    const fresh = await Db.open(database.place, false);
    hearStatements((text) => heard.push(text));
    for (let i = 0; i < 9; i++) {
      await fresh.of(jobTable).findOne({ where: { id: `job_${i}`, kind: 'Upper' } });
      await fresh.of(jobTable).findOne({ where: { key: 'plain', state: i < 5 ? 'done' : 'waiting' } });
    }
    hearStatements(null);
    await fresh.close();
    const wheres = heard.map((t) => /WHERE.*$/.exec(t)?.[0]).sort();
    // One or more connections read; each prepares for itself.
    expect([...new Set(wheres)]).toEqual([
      `WHERE "id" = $1 AND "kind" = $2 LIMIT 1`,
      `WHERE "key" = $1 AND "state" = 'done' LIMIT 1`,
      `WHERE "key" = $1 AND "state" = 'waiting' LIMIT 1`,
    ]);
    expect(heard.length).toBeLessThan(18);
  });

  it('finds one without a copy of what was asked, and refuses where nobody is found as Sequelize does', async () => {
    const asked: Options = Object.freeze({ where: Object.freeze({ key: 'plain' }), order: ['id'] });
    expect((await jobs().findOne(asked))?.id).toBe('job_7');
    expect((await jobs().findByPk('job_7'))?.key).toBe('plain');
    expect(await jobs().findOne({ where: { key: 'nobody' }, raw: true })).toBeNull();
    await expectAsync(jobs().findOne({ where: { key: 'nobody' }, rejectOnEmpty: true })).toBeRejected();
  });

  it('reads and counts through a scope by what that says, beside what is asked, in one statement each', async () => {
    await db.write(async (w) => {
      for (const [id, state, at] of [
        ['rev_1', 'open', 1],
        ['rev_2', 'open', 2],
        ['rev_3', 'decided', 3],
      ] as const)
        await w.of(replyReviewTable).create({
          id,
          businessId: 'biz_0',
          e164: '+12125550100',
          messageId: id,
          reading: { matched: 'ok', confidence: 0.5, purposes: [], stopped: false },
          state,
          at,
        });
    });
    const heard: string[] = [];
    const fresh = await Db.open(database.place, false);
    hearStatements((text) => heard.push(text));
    const open = fresh.of(replyReviewTable).scope('open');
    const after = { where: { at: { [Op.gt]: 1 } } };
    expect((await open.findAll(after)).map((x) => x.id)).toEqual(['rev_2']);
    expect(await open.count()).toBe(2);
    expect(await open.count(after)).toBe(1);
    expect(await fresh.of(replyReviewTable).count(after)).toBe(2);
    hearStatements(null);
    await fresh.close();
    expect(heard.map((t) => /(?:FROM) .*$/.exec(t)?.[0])).toEqual([
      `FROM "reply_review" WHERE "state" = 'open' AND "at" > $1`,
      `FROM "reply_review" WHERE "state" = 'open'`,
      `FROM "reply_review" WHERE "state" = 'open' AND "at" > $1`,
      `FROM "reply_review" WHERE "at" > $1`,
    ]);
  });

  it('leaves to Sequelize whatever is not plain', async () => {
    const columns = Object.fromEntries(
      Object.entries(jobTable.columns).map(([name, c]) => [name, { ...c, field: name }]),
    );
    const read = (o: FindOptions): unknown => quickRead('job', columns, 'sqlite', o);
    expect(read({ where: { id: 'a' } })).not.toBeNull();
    for (const o of [
      { where: { runAt: { [Op.lt]: null } } },
      { where: { runAt: { [Op.between]: [1, 2] } } },
      { where: { runAt: {} } },
      { where: { state: [] } },
      { where: { state: ['done', "it's"] } },
      { where: { [Op.or]: [{ id: 'a' }, { id: 'b' }] } },
      { where: { id: ['a', 'b'] } },
      { where: { id: 'a', nobody: 1 } },
      { where: { id: undefined } },
      { where: { runAt: new Date() } },
      { order: [['id', 'sideways']] },
      { order: [['nobody', 'ASC']] },
      { attributes: ['id', 'nobody'] },
      { attributes: { exclude: ['id'] } },
      { limit: 1.5 },
      { limit: 2, offset: 2 },
      { where: { id: 'a' }, include: [] },
    ] as unknown as FindOptions[])
      expect(read(o)).withContext(JSON.stringify(o)).toBeNull();
    expect((await jobs().findAll({ where: { createdAt: { [Op.lt]: 3 } } })).length).toBe(3);
    expect((await jobs().findAll({ where: { id: ['job_1', 'job_2'] } })).length).toBe(2);
  });
});
