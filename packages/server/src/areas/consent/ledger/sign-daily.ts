import { z } from 'zod';
import type { Platform } from '../../../platform/platform.js';
import type { Businesses } from '../../settings/index.js';
import type { ChainDigests } from '../evidence/chain-digests.js';
import { BrokenLedger } from '../evidence/chain-lines.js';
import type { Ledger } from './ledger.js';

const DAY_MS = 86_400_000;
/** Keeping the digests of a chain. It is a job of its own: of a ledger that was brought in at once it takes a while. */
const KEEP = 'chain.keep';
const Chain = z.strictObject({ businessId: z.string(), count: z.number().int(), head: z.string() });

/** Once a day of scenario time signs where every chain stands, and keeps its digests up to there. */
export async function signDaily(
  p: Platform,
  businesses: Businesses,
  ledger: Ledger,
  chains: ChainDigests,
): Promise<void> {
  p.jobs.handle(
    KEEP,
    Chain,
    async (chain, context) => {
      try {
        return (await chains.keep(chain, () => context.isAwaited())) ? { done: true } : { done: false };
      } catch (error) {
        if (!(error instanceof BrokenLedger)) throw error;
        // From here on its states only become stricter.
        await ledger.verify(chain.businessId);
        return { done: true };
      }
    },
    'the digests of the ledger are kept',
    'long',
  );
  p.jobs.handle(
    'heads.sign',
    z.unknown(),
    async () => {
      for (const businessId of await businesses.ids(p.db)) {
        await ledger.signHeads(businessId);
        const { count, head } = await ledger.lastSigned(businessId);
        const chain = { businessId, count, head };
        if (await chains.isBehind(chain))
          await p.db.write((w) =>
            p.jobs.add(w, { kind: KEEP, businessId, payload: chain, key: `${KEEP}:${businessId}:${count}` }),
          );
      }
      return { done: false, at: p.clock.now() + DAY_MS };
    },
    'the heads of the ledger are signed, as each day',
  );
  await p.db.write((w) =>
    p.jobs.add(w, { kind: 'heads.sign', businessId: '', payload: {}, key: 'heads.sign', at: p.clock.now() + DAY_MS }),
  );
}
