import { PURPOSES } from '@long-gate/core';
import type { MootTexts } from '../dispatch/index.js';
import type { Ledger } from './ledger/ledger.js';
import { programmesAsked } from './opt-in-request-store.js';

/**
 * Which answers and questions have nothing left to say when at last they leave: the network was busy, or nobody knew
 * whether it had them, and their reader has said something else since. After a wish to stop nothing follows but its one
 * confirmation (rules.md, Consent); HELP is answered in any case.
 */
export function mootAnswers(ledger: Ledger, now: () => number): MootTexts {
  return async (r, texts) => {
    const moot = new Set<string>();
    for (const { id, businessId, e164, kind } of texts) {
      if (kind !== 'opt-in request' && kind !== 'opt-in answer' && kind !== 'opt-out confirmation') continue;
      const states = await ledger.statesOf(r, businessId, e164);
      const isIn = PURPOSES.some((x) => states[x].state === 'granted');
      const still =
        kind === 'opt-in request'
          ? (await programmesAsked(r, id, now())).some((x) => states[x.purpose].askedAt !== null)
          : isIn === (kind === 'opt-in answer');
      if (!still) moot.add(id);
    }
    return moot;
  };
}
