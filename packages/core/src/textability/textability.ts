/** What a lookup says a number is. */
export type LineType = 'mobile' | 'landline' | 'voip' | 'toll-free' | 'none' | 'unknown';
export type Textable = 'yes' | 'no' | 'unknown';

export interface TextabilityPolicy {
  voip: boolean;
  tollFree: boolean;
  /** Days after which an answer is stale. */
  staleDays: number;
  /** The same for a number found unreachable. */
  staleUnreachableDays: number;
}

export const DEFAULT_TEXTABILITY: TextabilityPolicy = {
  voip: true,
  tollFree: false,
  staleDays: 180,
  staleUnreachableDays: 30,
};

/** Permitted pace of lookups: never more than this in any window of one second. */
export const LOOKUP_PACE_PER_SECOND = 20;

/** Whether texts reach a line of this type under the policy (rules.md, line type and textability). */
export function textableBy(lineType: LineType, policy: TextabilityPolicy = DEFAULT_TEXTABILITY): Textable {
  switch (lineType) {
    case 'mobile':
      return 'yes';
    case 'voip':
      return policy.voip ? 'yes' : 'no';
    case 'toll-free':
      return policy.tollFree ? 'yes' : 'no';
    case 'landline':
    case 'none':
      return 'no';
    case 'unknown':
      return 'unknown';
  }
}

/** True when the number must be asked about again. Times in milliseconds since the epoch. */
export function lookupIsStale(
  lookedUpAt: number | null,
  reachable: boolean,
  asOf: number,
  policy: TextabilityPolicy = DEFAULT_TEXTABILITY,
): boolean {
  if (lookedUpAt === null) return true;
  const days = reachable ? policy.staleDays : policy.staleUnreachableDays;
  return asOf - lookedUpAt > days * 86_400_000;
}

/** What delivery has taught about a number (rules.md): kept beside the lookup. */
export type Trouble = 'none' | 'not-textable' | 'out-of-service' | 'refused-by-owner' | 'passing-fault';

/** Passing faults in 30 days that hold a number for review. */
export const PASSING_FAULTS_HOLD = 3;
