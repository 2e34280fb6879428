import type { Span } from '../finding/finding.js';
import { useCase } from '../registration/terms.data.js';
import { promotionalWords } from './promotion.js';

/** What the sending number's campaign is registered for. */
export interface RegisteredUse {
  useCase: string;
  /** The named uses of a mixed campaign. */
  subUses: readonly string[];
}

const CODE =
  /\b(?:verification|security|one[- ]?time|log[- ]?in|sign[- ]?in|access|confirmation) (?:code|pass ?code|password|pin)\b|\b(?:code|pin) is:? ?\d{4,8}\b/i;
const VOTE =
  /\b(?:vote (?:for|on|today|early|yes|no)|cast your (?:vote|ballot)|election day|on the ballot|take (?:our|the|this) (?:poll|survey)|reelect|elect [A-Z])/;
const FRAUD = /\b(?:fraud alert|suspicious (?:activity|charge|transaction)|did you (?:authorize|make) (?:a|this))\b/i;

const CALLED_FOR: readonly { label: string; find: (text: string) => Span | null; uses: readonly string[] }[] = [
  {
    label: 'promotional texts',
    find: (t) => promotionalWords(t),
    uses: ['marketing', 'low-volume-mixed', 'mixed', 'charity', 'sole-proprietor', 'number-pool'],
  },
  { label: 'codes to sign in with', find: (t) => at(CODE, t), uses: ['two-factor', 'low-volume-mixed', 'mixed'] },
  {
    label: 'polling and voting',
    find: (t) => at(VOTE, t),
    uses: ['polling', 'political', 'low-volume-mixed', 'mixed'],
  },
  {
    label: 'fraud alerts',
    find: (t) => at(FRAUD, t),
    uses: ['fraud-alert', 'security-alert', 'account-notification', 'low-volume-mixed', 'mixed'],
  },
];

function at(re: RegExp, text: string): Span | null {
  const m = re.exec(text);
  return m ? { start: m.index, end: m.index + m[0].length } : null;
}

/**
 * The words of a text that belong to another use than its number's campaign is registered for, or null. A mixed
 * campaign with named uses covers those; without names (and the low-volume one) it covers all.
 * Source: rules.md, the gate (post 8) and A2P 10DLC use cases.
 */
export function otherUse(
  text: string,
  registered: RegisteredUse | null,
): (Span & { label: string; registeredFor: string }) | null {
  if (!registered || !useCase(registered.useCase)) return null;
  // A mixed campaign whose uses are written in words of its own covers what a mixed one may.
  const named = registered.subUses.length > 0 && registered.subUses.every((u) => useCase(u));
  const covered = registered.useCase === 'mixed' && named ? registered.subUses : [registered.useCase];
  for (const { label, find, uses } of CALLED_FOR) {
    if (covered.some((u) => uses.includes(u))) continue;
    const span = find(text);
    if (span)
      return {
        start: span.start,
        end: span.end,
        label,
        registeredFor: covered.map((u) => useCase(u)?.label ?? u).join(', '),
      };
  }
  return null;
}
