import { CONFIRM_WITHIN_MS, confirmingText, PURPOSES, type Programme } from '@long-gate/core';
import { SYSTEM } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts, Lookups } from '../contacts/index.js';
import type { Texts } from '../dispatch/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger } from './ledger.js';
import { askedToday, noteRequest } from './opt-in-request-store.js';

/** What a job needs to ask for a YES. */
export interface OptInWish {
  e164: string;
  numberId: string;
  eventId: string;
  programmes: Programme[];
  termsUrl: string;
}

/** The confirming text of a double opt-in, and its lapse after 72 hours. No reminder is ever sent. */
export function confirmOptIns(
  p: Platform,
  businesses: Businesses,
  contacts: Contacts,
  lookups: Lookups,
  texts: Texts,
  ledger: Ledger,
): void {
  p.jobs.handle<OptInWish>('optin.confirm', async ({ e164, numberId, eventId, programmes, termsUrl }, { job }) => {
    const businessId = job.business_id;
    const known = await contacts.byAddress(p.db, businessId, e164);
    if (!known) return { done: true };
    if (known.lookedUpAt === null) await lookups.one(businessId, e164, `optin:${eventId}`);
    await p.db.write(async (w) => {
      const states = await ledger.statesOf(w, businessId, e164);
      const open = programmes.filter((x) => states[x.purpose].askedAt !== null);
      if (open.length === 0 || (await askedToday(w, businessId, e164, p.clock.now()))) return;
      const name = (await businesses.row(w, businessId)).name_line;
      const messageId = idFrom('msg', eventId, 'confirm');
      const { verdict } = await texts.queue(w, {
        id: messageId,
        businessId,
        kind: 'opt-in request',
        purpose: 'informational',
        numberId,
        e164,
        text: confirmingText(name, open, termsUrl),
        sentBy: SYSTEM.name,
      });
      if (verdict.result !== 'pass') return;
      await noteRequest(w, { messageId, businessId, e164, programmes: open, at: p.clock.now() });
    });
    return { done: true };
  });

  p.jobs.handle<{ e164: string }>('optin.lapse', async ({ e164 }, { job }) => {
    await p.db.write(async (w) => {
      const states = await ledger.statesOf(w, job.business_id, e164);
      // The fold already says "lapsed"; the event makes it stand in the ledger for the reader.
      const lapsed = PURPOSES.filter(
        (x) => states[x].state === 'lapsed' && p.clock.now() - (states[x].since ?? 0) < CONFIRM_WITHIN_MS,
      );
      if (lapsed.length > 0)
        await ledger.append(w, job.business_id, [
          {
            e164,
            purposes: lapsed,
            kind: 'expired',
            how: 'clock',
            recordedBy: 'system',
            evidence: { why: 'confirming text not answered in 72 hours' },
          },
        ]);
      else await ledger.project(w, job.business_id, [e164]);
    });
    return { done: true };
  });
}
