import { foldConsent, type ConsentState, type LedgerEvent } from '@long-gate/core';

/** How every claim comes: with what was imported. */
export const CLAIMED_BY = 'imported record';

/** What of lots of claims changes. */
export interface ClaimRow {
  intakeId: string;
  people: number;
  open: number;
  informational: number;
  promotional: number;
  agreed: number;
  firstSeq: number;
  lastSeq: number;
}

const isClaim = (e: Pick<LedgerEvent, 'kind' | 'how'>): boolean => e.kind === 'claimed' && e.how === CLAIMED_BY;

/** Adds up claims by the lots they came in, a number at a time: each as what its number stands at makes it. */
export class ClaimTally {
  private readonly lots = new Map<string, ClaimRow>();

  /**
   * What new events of numbers change. @param by all events of each number, the new ones last.
   * @param before how many of them there were before. @param asOf milliseconds.
   */
  change(by: ReadonlyMap<string, readonly LedgerEvent[]>, before: ReadonlyMap<string, number>, asOf: number): void {
    for (const [e164, events] of by) {
      if (!events.some(isClaim)) continue;
      this.take(events.slice(0, before.get(e164) ?? 0), asOf, -1);
      this.take(events, asOf, 1);
    }
  }

  /** Adds the claims among all events of one number, or takes them away. */
  private take(events: readonly LedgerEvent[], asOf: number, sign: 1 | -1): void {
    const claims = events.filter(isClaim);
    if (claims.length === 0) return;
    const stands = foldConsent(events, asOf);
    const is = (state: ConsentState, p: 'informational' | 'promotional'): 0 | 1 => (stands[p].state === state ? 1 : 0);
    const [informational, promotional] = [is('unproven', 'informational'), is('unproven', 'promotional')];
    const open = informational | promotional;
    const agreed = open ? 0 : is('granted', 'informational') | is('granted', 'promotional');
    for (const { seq, evidence } of claims) {
      const lot = this.lot(evidence['intake'] ?? '', seq);
      lot.people += sign;
      lot.open += sign * open;
      lot.informational += sign * informational;
      lot.promotional += sign * promotional;
      lot.agreed += sign * agreed;
    }
  }

  /** The lots that change. */
  rows(): ClaimRow[] {
    return [...this.lots.values()].filter((x) => x.people || x.open || x.informational || x.promotional || x.agreed);
  }

  private lot(intakeId: string, seq: number): ClaimRow {
    const lot = this.lots.get(intakeId);
    if (!lot) {
      const none = { people: 0, open: 0, informational: 0, promotional: 0, agreed: 0 };
      const made = { intakeId, ...none, firstSeq: seq, lastSeq: seq };
      this.lots.set(intakeId, made);
      return made;
    }
    lot.firstSeq = Math.min(lot.firstSeq, seq);
    lot.lastSeq = Math.max(lot.lastSeq, seq);
    return lot;
  }
}
