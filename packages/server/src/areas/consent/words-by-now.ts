import { confirmingLess, PURPOSES } from '@long-gate/core';
import type { WordsByNow } from '../dispatch/index.js';
import type { Ledger } from './ledger/ledger.js';
import { narrowRequest, programmesAsked } from './opt-in-request-store.js';

/**
 * What answers and questions have left to say when at last they leave: the network was busy, or nobody knew whether it
 * had them, and their reader has said something else since. After a wish to stop nothing follows but its one
 * confirmation (rules.md, Consent); HELP is answered in any case. A question of which its reader refused one kind
 * asks for the others.
 */
export function wordsByNow(ledger: Ledger, now: () => number): WordsByNow {
  return async (w, texts) => {
    const out = new Map<string, string | null>();
    for (const { id, businessId, e164, kind, text } of texts) {
      if (kind !== 'opt-in request' && kind !== 'opt-in answer' && kind !== 'opt-out confirmation') continue;
      const states = await ledger.statesOf(w, businessId, e164);
      if (kind === 'opt-in request') {
        const asked = await programmesAsked(w, id, now());
        const still = asked.filter((x) => states[x.purpose].askedAt !== null);
        if (still.length === asked.length && asked.length > 0) continue;
        out.set(id, still.length > 0 ? confirmingLess(text, asked, still) : null);
        if (still.length > 0) await narrowRequest(w, id, still);
      } else {
        const isIn = PURPOSES.some((x) => states[x].state === 'granted');
        if (isIn !== (kind === 'opt-in answer')) out.set(id, null);
      }
    }
    return out;
  };
}
