import type { Intakes } from '../contacts/index.js';
import type { Ledger } from './ledger.js';

/** What an imported list says of its people is a claim: recorded as such, and it opens no gate. */
export function claimImported(intakes: Intakes, ledger: Ledger): void {
  intakes.fileClaims(async (w, actor, businessId, e164s, claim, intakeId) => {
    await ledger.append(
      w,
      businessId,
      e164s.map((e164) => ({
        e164,
        purposes: ['informational', 'promotional'],
        kind: 'claimed',
        how: 'imported record',
        recordedBy: actor.id,
        evidence: { claim, intake: intakeId },
      })),
    );
  });
}
