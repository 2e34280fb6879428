import { blocks, type Finding } from '../finding/finding.js';
import { wilson, type Rate } from '../reputation/wilson.js';
import { DECISIONS_BY_RISK } from './decisions.data.js';

/** The risks among findings as one key: their codes, each once, in order; '' where there is none. */
export const risksOf = (findings: readonly Finding[]): string =>
  [...new Set(findings.filter((f) => f.severity === 'risk').map((f) => f.code))].sort().join(' ');

/**
 * How likely a dossier is to be approved: of the corpus's dossiers with the same risks, those that were, with an
 * interval. `declined` where anything blocks; `unknown` where nothing like it was decided yet.
 */
export type Readiness = { is: 'declined'; because: number } | { is: 'unknown' } | { is: 'likely'; rate: Rate };

export function readinessOf(findings: readonly Finding[]): Readiness {
  if (blocks(findings)) return { is: 'declined', because: findings.filter((f) => f.severity === 'block').length };
  const past = DECISIONS_BY_RISK[risksOf(findings)];
  const rate = past ? wilson(past.approved, past.of) : null;
  return rate ? { is: 'likely', rate } : { is: 'unknown' };
}
