import { z } from 'zod';
import type { Platform } from '../../../platform/platform.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger } from './ledger.js';

const DAY_MS = 86_400_000;

/** Signs where every chain stands, once a day of scenario time. */
export async function signDaily(p: Platform, businesses: Businesses, ledger: Ledger): Promise<void> {
  p.jobs.handle(
    'heads.sign',
    z.unknown(),
    async () => {
      for (const id of await businesses.ids(p.db)) await ledger.signHeads(id);
      return { done: false, at: p.clock.now() + DAY_MS };
    },
    'the heads of the ledger are signed, as each day',
  );
  await p.db.write((w) =>
    p.jobs.add(w, { kind: 'heads.sign', businessId: '', payload: {}, key: 'heads.sign', at: p.clock.now() + DAY_MS }),
  );
}
