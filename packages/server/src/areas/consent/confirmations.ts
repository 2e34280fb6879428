import { CONFIRM_WITHIN_MS, PURPOSES, type Purpose } from '@long-gate/core';
import { SYSTEM } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts, Lookups } from '../contacts/index.js';
import type { Texts } from '../dispatch/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger } from './ledger.js';

/** The confirming text of a double opt-in, and its lapse after 72 hours. No reminder is ever sent. */
export function confirmOptIns(
  p: Platform,
  businesses: Businesses,
  contacts: Contacts,
  lookups: Lookups,
  texts: Texts,
  ledger: Ledger,
): void {
  p.jobs.handle<{ e164: string; numberId: string; eventId: string; purposes: Purpose[] }>(
    'optin.confirm',
    async ({ e164, numberId, eventId, purposes }, { job }) => {
      const businessId = job.business_id;
      const known = await contacts.byAddress(p.db, businessId, e164);
      if (!known) return { done: true };
      if (known.lookedUpAt === null) await lookups.one(businessId, e164);
      await p.db.write(async (w) => {
        const states = await ledger.statesOf(w, businessId, e164);
        if (!purposes.some((x) => states[x].state === 'awaiting')) return;
        const name = (await businesses.row(w, businessId)).name_line;
        const what = purposes.map((x) => (x === 'promotional' ? 'offers' : 'notices')).join(' and ');
        const text = `${name}: reply YES to get ${what} by text. How often varies. Msg & data rates may apply. HELP for help, STOP to end.`;
        await texts.queue(w, {
          id: idFrom('msg', eventId, 'confirm'),
          businessId,
          kind: 'opt-in request',
          purpose: 'informational',
          numberId,
          e164,
          text,
          sentBy: SYSTEM.name,
        });
      });
      return { done: true };
    },
  );

  p.jobs.handle<{ e164: string }>('optin.lapse', async ({ e164 }, { job }) => {
    await p.db.write(async (w) => {
      const states = await ledger.statesOf(w, job.business_id, e164);
      // The fold already says "lapsed"; the event makes it stand in the ledger for the reader.
      const lapsed = PURPOSES.filter(
        (x) =>
          states[x].state === 'lapsed' &&
          states[x].since !== null &&
          p.clock.now() - (states[x].since ?? 0) < CONFIRM_WITHIN_MS,
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
