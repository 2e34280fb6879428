import { TollFreeFiling } from '@long-gate/gateways';
import { z } from 'zod';
import { DAY } from '../outside/outside.js';
import type { Desk } from './desk.js';
import { tollFreeReasons } from './toll-free-check.js';

/** Verifies toll-free numbers for what they are used for; until then their texts are taken by nobody. */
export function addTollFree(desk: Desk): void {
  const { outside } = desk;
  const { store } = outside;
  desk.accept(
    '/registrar/toll-free',
    z.object({ key: z.string(), filing: TollFreeFiling }),
    'toll-free',
    [3 * DAY, 5 * DAY],
    'toll-free',
  );
  outside.onDue<{ key: string; filing: TollFreeFiling }>('toll-free', async ({ key, filing }, at) => {
    const reasons = tollFreeReasons(filing);
    if (reasons.length > 0) return store.tell({ at, kind: 'toll-free.declined', key, reasons });
    await store.run(
      'INSERT INTO assigned (e164, campaign_key) VALUES ($1, $2) ON CONFLICT (e164) DO UPDATE SET campaign_key = $2',
      [filing.e164, key],
    );
    return store.tell({ at, kind: 'toll-free.verified', key });
  });
}
