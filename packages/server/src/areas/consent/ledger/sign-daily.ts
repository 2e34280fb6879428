import { z } from 'zod';
import type { Platform } from '../../../platform/platform.js';
import type { Businesses } from '../../settings/index.js';
import type { ChainDigests } from '../evidence/chain-digests.js';
import { BrokenLedger } from '../evidence/chain-lines.js';
import type { Ledger } from './ledger.js';

const DAY_MS = 86_400_000;

/** Once a day of scenario time signs where every chain stands, and keeps its digests up to there. */
export async function signDaily(
  p: Platform,
  businesses: Businesses,
  ledger: Ledger,
  chains: ChainDigests,
): Promise<void> {
  const keep = async (businessId: string): Promise<void> => {
    try {
      await chains.keep({ businessId, ...(await ledger.lastSigned(businessId)) });
    } catch (error) {
      if (!(error instanceof BrokenLedger)) throw error;
      // From here on its states only become stricter.
      await ledger.verify(businessId);
    }
  };
  p.jobs.handle(
    'heads.sign',
    z.unknown(),
    async () => {
      for (const id of await businesses.ids(p.db)) {
        await ledger.signHeads(id);
        await keep(id);
      }
      return { done: false, at: p.clock.now() + DAY_MS };
    },
    'the heads of the ledger are signed, as each day',
  );
  await p.db.write((w) =>
    p.jobs.add(w, { kind: 'heads.sign', businessId: '', payload: {}, key: 'heads.sign', at: p.clock.now() + DAY_MS }),
  );
}
