import { ledgerLine } from '@long-gate/core';
import type { Reader } from '../../../platform/db.js';
import { serveText } from '../../../platform/thread.js';
import { eventOf, eventsAfter } from './ledger-store.js';

const CHUNK = 1000;

/** The whole chain in order, an event a line: what was hashed, and its two hashes. */
async function* ledgerLines(r: Reader, { businessId }: { businessId: string }): AsyncGenerator<string> {
  for (let after = 0; ;) {
    const rows = await eventsAfter(r, businessId, after, CHUNK);
    const last = rows.at(-1);
    if (!last) return;
    yield rows
      .map(eventOf)
      .map((e) => `${ledgerLine(e)}\n`)
      .join('');
    after = last.seq;
  }
}

serveText(import.meta.url, ledgerLines);
