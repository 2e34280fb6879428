import { GENESIS, linkHash } from '@long-gate/core';
import { withoutGuard } from '../../../testing/database.js';
import { Office } from '../../../testing/office.js';
import { sha256 } from '../ledger/ledger-check.js';
import { ChainDigests, holdAgainst } from './chain-digests.js';
import { stretchesAfter } from './chain-store.js';

const EVENTS = 41;
const NUMBER = '+12125550100';

describe('the digests of a chain', () => {
  let o: Office;
  beforeAll(async () => {
    o = await Office.open();
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(
        w,
        o.business,
        Array.from({ length: EVENTS }, (_, i) => ({
          e164: `+1212555${String(100 + (i % 7)).padStart(4, '0')}`,
          purposes: ['promotional'],
          kind: 'granted',
          how: 'web page',
          evidence: { page: `heron ${i}` },
        })),
      ),
    );
    await o.app.platform.db.write((w) => withoutGuard(w, 'consent_event', 'consent_event_no_update'));
  });
  afterAll(() => o.close());

  const hashOf = async (seq: number): Promise<string> =>
    (await o.app.platform.db.one<{ hash: string }>('SELECT hash FROM consent_event WHERE seq = $1', [seq]))?.hash ?? '';
  /** What is kept of the chain's digests. */
  const kept = async (): Promise<readonly (readonly [afterSeq: number, lastSeq: number])[]> =>
    (await stretchesAfter(o.app.platform.db, o.business, 0, 100)).map((s) => [s.afterSeq, s.lastSeq] as const);
  const forget = (): Promise<void> => o.app.platform.db.write((w) => w.run('DELETE FROM chain_stretch'));
  const read = async (count: number, stretch: number, head?: string): Promise<string> => {
    const signed = { businessId: o.business, count, head: head ?? (await hashOf(count)) };
    return (await new ChainDigests(o.app.platform, stretch).upTo(signed)).digests.toString();
  };
  /** Says for a while that something of an event was other than it was recorded. */
  const altered = async (
    column: string,
    seq: number,
    then: () => Promise<unknown>,
    to = column === 'evidence' ? '{"page":"another"}' : 'e'.repeat(64),
  ): Promise<void> => {
    const { db } = o.app.platform;
    const was = await db.one<Record<string, string>>(`SELECT ${column} FROM consent_event WHERE seq = $1`, [seq]);
    const set = (value: string): Promise<void> =>
      db.write((w) => w.run(`UPDATE consent_event SET ${column} = $1 WHERE seq = $2`, [value, seq]));
    await set(to);
    await then();
    await set(was?.[column] ?? '');
  };
  beforeEach(forget);

  it('are the same in one piece and in many, read anew and kept, and lead to what was signed', async () => {
    for (const count of [EVENTS, 40, 3, 2]) {
      await forget();
      const one = await read(count, EVENTS + 1);
      expect(await kept()).toEqual([]);
      for (const stretch of [10, 7, 1, 10]) {
        await forget();
        expect(await read(count, stretch)).toBe(one);
        expect((await kept()).length).toBe(Math.floor(count / stretch));
        expect(await read(count, stretch)).toBe(one);
      }
      const lines = one.trimEnd().split('\n');
      expect(lines.length).toBe(count);
      expect(lines.reduce((hash, digest) => linkHash(hash, digest, sha256), GENESIS)).toBe(await hashOf(count));
    }
  });

  it('are kept in stretches once those are whole, and read on from there as events come', async () => {
    const chains = new ChainDigests(o.app.platform, 10);
    const signed = async (count: number) => ({ businessId: o.business, count, head: await hashOf(count) });
    const keep = async (count: number): Promise<void> => {
      expect(await chains.isBehind(await signed(count))).toBe(count - ((await kept()).at(-1)?.[1] ?? 0) >= 10);
      expect(await chains.keep(await signed(count))).toBeTrue();
      expect(await chains.isBehind(await signed(count))).toBeFalse();
    };
    await keep(9);
    expect(await kept()).toEqual([]);
    await keep(25);
    expect(await kept()).toEqual([
      [0, 10],
      [10, 20],
    ]);
    await keep(EVENTS);
    expect((await kept()).at(-1)).toEqual([30, 40]);
  });

  it('that are being kept can be broken off for others, and are gone on with from there', async () => {
    const chains = new ChainDigests(o.app.platform, 5);
    const signed = { businessId: o.business, count: EVENTS, head: await hashOf(EVENTS) };
    let asked = 0;
    expect(await chains.keep(signed, () => ++asked > 2)).toBeFalse();
    const before = await kept();
    expect(before.length).toBeGreaterThan(0);
    expect(before.length).toBeLessThan(8);
    expect(await chains.isBehind(signed)).toBeTrue();
    expect(await chains.keep(signed)).toBeTrue();
    expect(await kept()).toEqual(Array.from({ length: 8 }, (_, i) => [i * 5, i * 5 + 5]));
  });

  it('are none of a chain that comes to another hash than was signed, or ends before it', async () => {
    for (const stretch of [EVENTS, 20, 1]) {
      await expectAsync(read(EVENTS, stretch, 'f'.repeat(64))).toBeRejectedWithError(/does not hold at event 41/);
      await expectAsync(read(EVENTS + 3, stretch, 'f'.repeat(64))).toBeRejectedWithError(/does not hold at event 42/);
    }
    // What fits is kept all the same; what does not is not.
    await forget();
    await read(EVENTS, 1, 'f'.repeat(64)).catch(() => undefined);
    expect((await kept()).at(-1)).toEqual([39, 40]);
  });

  it('are none of a chain that was changed, and the first event that does not fit is named, also where stretches meet', async () => {
    const head = await hashOf(EVENTS);
    for (const [column, seq] of [
      ['evidence', 5],
      ['hash', 20],
      ['evidence', 20],
      ['evidence', 21],
      ['prev_hash', 21],
      ['evidence', EVENTS],
    ] as const)
      await altered(column, seq, async () => {
        for (const stretch of [EVENTS, 20, 10]) {
          await forget();
          await expectAsync(read(EVENTS, stretch, head))
            .withContext(`${column} of ${seq}, ${stretch}`)
            .toBeRejectedWithError(new RegExp(`does not hold at event ${seq}:`));
        }
      });
    expect((await read(EVENTS, 20)).length).toBe(EVENTS * 65);
  });

  it('stay what was recorded where something is done to events after they were kept, which is found by its number', async () => {
    const { db } = o.app.platform;
    const signed = { businessId: o.business, count: EVENTS, head: await hashOf(EVENTS) };
    const known = () => new ChainDigests(o.app.platform, 10).upTo(signed);
    const whole = await known();
    const hold = async (numbers: readonly string[]): Promise<void> => {
      const events = [...(await o.app.ledger.eventsOfAll(db, o.business, numbers)).values()].flat();
      const chain = await known();
      expect(chain.digests.equals(whole.digests)).toBeTrue();
      await holdAgainst(chain, o.business, numbers, events);
    };
    const others = ['+12125550102', '+12125550103'];
    expect((await o.app.ledger.eventsOf(db, o.business, NUMBER)).map((e) => e.seq)).toEqual([1, 8, 15, 22, 29, 36]);
    await hold([NUMBER, ...others]);
    // Changed, or said to be somebody else's: what is about others stands all the same.
    for (const [column, to] of [
      ['evidence', '{"page":"another"}'],
      ['e164', '+12125550999'],
      ['kind', 'revoked'],
    ] as const)
      await altered(
        column,
        8,
        async () => {
          await expectAsync(hold([NUMBER, ...others]))
            .withContext(column)
            .toBeRejectedWithError(/does not hold at event 8:/);
          await hold(others);
        },
        to,
      );
    // One of another number put in its place.
    await altered(
      'e164',
      3,
      async () => {
        await expectAsync(hold([NUMBER])).toBeRejectedWithError(/does not hold at event 3:/);
      },
      NUMBER,
    );
    // Taken out.
    await db.write(async (w) => {
      await withoutGuard(w, 'consent_event', 'consent_event_no_delete');
      await w.run('CREATE TEMP TABLE taken AS SELECT * FROM consent_event WHERE seq = 8');
      await w.run('DELETE FROM consent_event WHERE seq = 8');
    });
    await expectAsync(hold([NUMBER])).toBeRejectedWithError(/does not hold at event 8:/);
    await hold(others);
    await db.write(async (w) => {
      await withoutGuard(w, 'consent_event', 'consent_event_only_next');
      await w.run('INSERT INTO consent_event SELECT * FROM taken');
      await w.run('DROP TABLE taken');
    });
    await hold([NUMBER, ...others]);
  });

  it('are read from the events where what is kept does not bear our signature, and kept anew', async () => {
    const { db } = o.app.platform;
    const whole = await read(EVENTS, 10);
    for (const change of [
      `digests = CAST('${'0'.repeat(64)}' AS BYTEA)`,
      `marks = CAST('${'0'.repeat(80)}' AS BYTEA)`,
      `signature = CAST('x' AS BYTEA)`,
      `last_hash = '${'e'.repeat(64)}'`,
      `hash_before = '${'e'.repeat(64)}'`,
      'last_seq = 21',
    ]) {
      const asBlob = db.dialect === 'sqlite' ? change.replace('BYTEA', 'BLOB') : change;
      await db.write((w) => w.run(`UPDATE chain_stretch SET ${asBlob} WHERE after_seq = 10`));
      expect(await read(EVENTS, 10))
        .withContext(change)
        .toBe(whole);
      expect(await kept())
        .withContext(change)
        .toEqual([0, 10, 20, 30].map((x) => [x, x + 10]));
    }
  });

  it('are kept each day as the ledger grows, and not of one that does not hold', async () => {
    const grow = (count: number): Promise<unknown> =>
      o.app.platform.db.write((w) =>
        o.app.ledger.append(
          w,
          o.business,
          Array.from({ length: count }, () => ({
            e164: NUMBER,
            purposes: ['promotional'],
            kind: 'granted',
            how: 'web page',
          })),
        ),
      );
    await grow(10_000);
    expect(await kept()).toEqual([]);
    await o.later(86_400_000);
    expect(await kept()).toEqual([[0, 10_000]]);
    await grow(10_000);
    await altered('evidence', 10_005, async () => {
      await o.later(86_400_000);
      expect(await kept()).toEqual([[0, 10_000]]);
      // And it is told of: until it is restored its states only become stricter.
      expect(await o.app.ledger.lookAtHeads([])).toEqual([o.business]);
    });
  });
});
