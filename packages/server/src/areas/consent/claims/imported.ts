import type { LedgerEvent, Purpose } from '@long-gate/core';
import { consentDayStart, OWNERS_WORD, PURPOSES } from '@long-gate/core';
import type { Actor } from '../../../platform/audit.js';
import type { Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import type { Intakes, SaidOf } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger, NewEvent } from '../ledger/ledger.js';
import { CLAIMED_BY } from './claim-tally.js';

const PROVABLE: readonly Purpose[] = ['informational', 'promotional'];

/**
 * What an imported list says of its people. A claim without date, source and disclosure, or without a kept document that
 * proves them, or of a day that is none or still to come, is recorded as such and opens no gate; with all of them it is filed as consent, except for whom only their
 * own word can speak. A no counts at once.
 */
export function recordImported(p: Platform, businesses: Businesses, intakes: Intakes, ledger: Ledger): void {
  intakes.recordConsent({
    claim: async (w, actor, businessId, e164s, claim, intakeId) => {
      await ledger.append(
        w,
        businessId,
        e164s.map((e164) => claimOf(e164, actor, { claim, intake: intakeId })),
      );
    },
    say: async (w, actor, businessId, said, intake) => {
      const events: NewEvent[] = [];
      const zone = (await businesses.row(w, businessId)).time_zone;
      const spoken = await ownersWords(w, ledger, businessId, said);
      let [revoked, proven] = [0, 0];
      for (const s of said) {
        const evidence = { source: s.source || intake.fileName, intake: intake.id };
        const happenedAt = consentDayStart(s.date, zone, p.clock.now());
        if (s.says === 'no') {
          // A day without its time could fall before what was agreed later that day: the stricter reading is now.
          events.push({
            e164: s.e164,
            purposes: [...PURPOSES],
            kind: 'revoked',
            how: 'imported record',
            recordedBy: actor.id,
            evidence: { ...evidence, said: 'no', ...(s.date ? { date: s.date } : {}) },
          });
          revoked++;
        } else if (happenedAt !== null && isProven(s, intake.documentDigest)) {
          const purposes = PROVABLE.filter((p) => intake.purposes.includes(p) && !spoken.get(s.e164)?.includes(p));
          if (purposes.length === 0) continue;
          events.push({
            e164: s.e164,
            purposes,
            kind: 'granted',
            how: 'imported record',
            disclosure: s.disclosure,
            disclosureVersion: `as brought in with ${intake.fileName}`,
            recordedBy: actor.id,
            evidence: { ...evidence, sha256: intake.documentDigest },
            happenedAt,
          });
          proven++;
        } else if (s.says === 'yes' || s.date !== '' || s.source !== '' || s.disclosure !== '')
          events.push(
            claimOf(s.e164, actor, {
              ...evidence,
              ...(s.date ? { date: s.date } : {}),
              ...(s.disclosure ? { disclosure: s.disclosure } : {}),
            }),
          );
      }
      if (events.length > 0) await ledger.append(w, businessId, events);
      return { revoked, proven };
    },
    undo: async (w, actor, businessId, e164s, intakeId) => {
      const events: NewEvent[] = [];
      const own = (e: LedgerEvent): boolean => e.evidence['intake'] === intakeId;
      for (const [e164, all] of await ledger.eventsOfAll(w, businessId, e164s)) {
        const gone = new Set(all.filter((e) => e.kind === 'withdrawn').map((e) => e.evidence['intake']));
        const claims = all.filter((e) => e.kind === 'claimed' && !gone.has(e.evidence['intake']));
        // What another list claims of them too stands on.
        if (claims.some(own) && claims.every(own))
          events.push({
            e164,
            purposes: claims.flatMap((e) => e.purposes),
            kind: 'withdrawn',
            how: 'imported record',
            recordedBy: actor.id,
            evidence: { why: 'the intake that claimed it was taken back', intake: intakeId },
          });
        const last = all.at(-1);
        if (last?.kind === 'granted' && last.how === 'imported record' && own(last))
          events.push({
            e164,
            purposes: last.purposes,
            kind: 'voided',
            how: 'imported record',
            recordedBy: actor.id,
            evidence: { why: 'the intake that proved it was taken back', intake: intakeId },
          });
      }
      if (events.length > 0) await ledger.append(w, businessId, events);
    },
  });
}

function claimOf(e164: string, actor: Actor, evidence: Record<string, string>): NewEvent {
  return {
    e164,
    purposes: [...PROVABLE],
    kind: 'claimed',
    how: CLAIMED_BY,
    recordedBy: actor.id,
    evidence,
  };
}

const isProven = (s: SaidOf, document: string): boolean => document !== '' && s.source !== '' && s.disclosure !== '';

/** Of each number the purposes of which only its owner may say anything any more. */
async function ownersWords(
  w: Writer,
  ledger: Ledger,
  businessId: string,
  said: readonly SaidOf[],
): Promise<Map<string, Purpose[]>> {
  const states = await ledger.statesOfAll(
    w,
    businessId,
    said.map((s) => s.e164),
  );
  return new Map(states.map((s) => [s.e164, PROVABLE.filter((p) => OWNERS_WORD.includes(s[p]))]));
}
