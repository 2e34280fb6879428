import { linkHash } from '@long-gate/core';
import { withoutGuard } from '../../../testing/database.js';
import { Office } from '../../../testing/office.js';
import { sha256 } from '../ledger/ledger-check.js';
import { chainDigests } from './chain-digests.js';

const EVENTS = 41;

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
  });
  afterAll(() => o.close());

  const hashOf = async (seq: number): Promise<string> =>
    (await o.app.platform.db.one<{ hash: string }>('SELECT hash FROM consent_event WHERE seq = $1', [seq]))?.hash ?? '';
  const read = async (count: number, short: number, head?: string): Promise<string> => {
    const { db } = o.app.platform;
    const signed = { businessId: o.business, count, head: head ?? (await hashOf(count)) };
    return (await chainDigests(db, db.place, signed, short)).toString();
  };

  it('are the same by one thread and by two, and lead to what was signed', async () => {
    for (const count of [EVENTS, 40, 3, 2]) {
      const one = await read(count, EVENTS);
      expect(await read(count, 1)).toBe(one);
      const lines = one.trimEnd().split('\n');
      expect(lines.length).toBe(count);
      expect(lines.reduce((hash, digest) => linkHash(hash, digest, sha256), '0'.repeat(64))).toBe(await hashOf(count));
    }
  });

  it('are none of a chain that comes to another hash than was signed, or ends before it', async () => {
    for (const short of [EVENTS, 1]) {
      await expectAsync(read(EVENTS, short, 'f'.repeat(64))).toBeRejectedWithError(/does not hold at event 41/);
      await expectAsync(read(EVENTS + 3, short, 'f'.repeat(64))).toBeRejectedWithError(/does not hold at event 42/);
    }
  });

  it('are none of a chain that was changed, and the first event that does not fit is named, also where the halves meet', async () => {
    const { db } = o.app.platform;
    const half = Math.floor(EVENTS / 2);
    await db.write((w) => withoutGuard(w, 'consent_event', 'consent_event_no_update'));
    for (const [column, seq] of [
      ['evidence', 5],
      ['hash', half],
      ['evidence', half],
      ['evidence', half + 1],
      ['prev_hash', half + 1],
      ['evidence', EVENTS],
    ] as const) {
      const was = await db.one<Record<string, string>>(`SELECT ${column} FROM consent_event WHERE seq = $1`, [seq]);
      const head = await hashOf(EVENTS);
      const set = (value: string): Promise<void> =>
        db.write((w) => w.run(`UPDATE consent_event SET ${column} = $1 WHERE seq = $2`, [value, seq]));
      await set(column === 'evidence' ? '{"page":"another"}' : 'e'.repeat(64));
      for (const short of [EVENTS, 1])
        await expectAsync(read(EVENTS, short, head))
          .withContext(`${column} of ${seq}, ${short}`)
          .toBeRejectedWithError(new RegExp(`does not hold at event ${seq}:`));
      await set(was?.[column] ?? '');
    }
    expect((await read(EVENTS, 1)).length).toBe(EVENTS * 65);
  });
});
