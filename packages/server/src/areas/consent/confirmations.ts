import { CONFIRM_WITHIN_MS, confirmingText, PURPOSES, type Programme } from '@long-gate/core';
import { z } from 'zod';
import { SYSTEM } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts, Lookups } from '../contacts/index.js';
import type { Texts } from '../dispatch/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger } from './ledger/ledger.js';
import { ProgrammeShape } from './model.js';
import { askedSince, askedToday, noteRequest } from './opt-in-request-store.js';

/** What a job needs to ask for a YES. */
const OptInWishShape = z.object({
  e164: z.string(),
  numberId: z.string(),
  eventId: z.string(),
  programmes: z.array(ProgrammeShape),
  termsUrl: z.string(),
  /** The number itself wrote the word that asks; a page may have been filled in by anybody. */
  byHandset: z.boolean().default(false),
});
export type OptInWish = z.input<typeof OptInWishShape>;

const isAmong = (x: Programme, all: readonly Programme[]): boolean => all.some((y) => y.purpose === x.purpose);

/** The confirming text of a double opt-in, and its lapse after 72 hours. No reminder is ever sent. */
export function confirmOptIns(
  p: Platform,
  businesses: Businesses,
  contacts: Contacts,
  lookups: Lookups,
  texts: Texts,
  ledger: Ledger,
): void {
  p.jobs.handle('optin.confirm', OptInWishShape, async ({ e164, numberId, eventId, ...wish }, { job }) => {
    const businessId = job.businessId;
    const known = await contacts.byAddress(p.db, businessId, e164);
    if (!known) return { done: true };
    if (known.lookedUpAt === null) await lookups.one(businessId, e164, `optin:${eventId}`);
    await p.db.write(async (w) => {
      const states = await ledger.statesOf(w, businessId, e164);
      const now = p.clock.now();
      const isOpen = (x: Programme): boolean => states[x.purpose].askedAt !== null;
      const fresh = wish.programmes.filter(isOpen);
      const today = await askedToday(w, businessId, e164, now);
      // Whoever writes a word themselves is asked about it beside what a page asked today; no word is asked about twice.
      const isNew = wish.byHandset ? fresh.some((x) => !isAmong(x, today)) : today.length === 0;
      if (fresh.length === 0 || !isNew) return;
      // A YES answers the last question: what still waits for one is part of it.
      const waiting = wish.byHandset ? await askedSince(w, businessId, e164, now - CONFIRM_WITHIN_MS) : [];
      const open = [...fresh];
      for (const x of waiting.filter(isOpen)) if (!isAmong(x, open)) open.unshift(x);
      const name = (await businesses.row(w, businessId)).name_line;
      const messageId = idFrom('msg', eventId, 'confirm');
      const { verdict } = await texts.queue(w, {
        id: messageId,
        businessId,
        kind: 'opt-in request',
        purpose: 'informational',
        numberId,
        e164,
        text: confirmingText(name, open, wish.termsUrl),
        sentBy: SYSTEM.name,
      });
      if (verdict.result !== 'pass') return;
      await noteRequest(w, { messageId, businessId, e164, programmes: open, at: now });
    });
    return { done: true };
  });

  p.jobs.handle(
    'optin.lapse',
    z.object({ e164: z.string() }),
    async ({ e164 }, { job }) => {
      await p.db.write(async (w) => {
        const states = await ledger.statesOf(w, job.businessId, e164);
        // The fold already says "lapsed"; the event makes it stand in the ledger for the reader.
        const lapsed = PURPOSES.filter(
          (x) => states[x].state === 'lapsed' && p.clock.now() - (states[x].since ?? 0) < CONFIRM_WITHIN_MS,
        );
        if (lapsed.length > 0)
          await ledger.append(w, job.businessId, [
            {
              e164,
              purposes: lapsed,
              kind: 'expired',
              how: 'clock',
              recordedBy: 'system',
              evidence: { why: 'confirming text not answered in 72 hours' },
            },
          ]);
        else await ledger.project(w, job.businessId, [e164]);
      });
      return { done: true };
    },
    'an opt-in that nobody confirmed lapses',
  );
}
