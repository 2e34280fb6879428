import type { Stage } from '@long-gate/contracts';
import { blocks, type FilingState, type Finding } from '@long-gate/core';
import { record, SYSTEM } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { Problem, refused } from '../../platform/problem.js';
import type { BusinessRow } from '../settings/index.js';

/** What brand and campaign have in common: both are filed with the registrar and answered by it. */

export function requireOpen(b: BusinessRow): void {
  if (b.account_state !== 'open')
    throw refused(`The account is ${b.account_state}; registration begins once it is open.`, [
      { field: 'account', message: 'Open the account in Settings.' },
    ]);
}

export function requireNoBlock(findings: Finding[], what: string): void {
  if (!blocks(findings)) return;
  const list = findings.filter((f) => f.severity === 'block');
  throw new Problem(
    422,
    'findings',
    `${what} has ${list.length} finding${list.length === 1 ? '' : 's'} to mend before it can be submitted.`,
    list.map((f) => ({ field: f.field, message: `${f.message} ${f.fix}` })),
  );
}

export function changed(p: Platform, w: Writer, businessId: string): void {
  w.afterCommit(() => p.live.tell({ businessId, topic: 'registration' }));
}

/** Why the registrar says no: the field each reason speaks of, its public code, and words. */
export type Reasons = { field: string; code: string; message: string }[];

/** What the registrar answers. */
export interface Answer {
  state: 'registered' | 'declined';
  reasons: Reasons;
}

/** How a campaign stands at a moment: a registered one may be suspended, or past the year it was registered for. */
export function stateOf(
  c: { state: 'draft' | 'in review' | 'registered' | 'declined'; halt: string; renewsAt: number | null },
  now: number,
): FilingState {
  if (c.state !== 'registered') return c.state;
  if (c.halt === 'suspended') return 'suspended';
  return c.renewsAt !== null && c.renewsAt <= now ? 'expired' : 'registered';
}

/** The stages of a filing with one more; told twice, the first time stands. */
export function withStage(stages: readonly Stage[], stage: Stage['stage'], at: number): Stage[] {
  return stages.some((s) => s.stage === stage) ? [...stages] : [...stages, { stage, at: Math.round(at) }];
}

/** Notes an answer of the registrar, and tells whoever sends under it. */
export async function noteAnswer(
  p: Platform,
  w: Writer,
  what: 'brand' | 'campaign' | 'toll-free number',
  filing: { id: string; businessId: string },
  answer: Answer,
  before = 'in review',
): Promise<void> {
  await record(w, p.clock, {
    businessId: filing.businessId,
    actor: SYSTEM,
    action: `${what} ${answer.state} by the registrar`,
    objectKind: what === 'toll-free number' ? 'number' : what,
    objectId: filing.id,
    before: { state: before },
    after: answer,
  });
  clearanceChanged(p, w, filing.businessId);
}

/** What may be sent from the numbers of a business is other than it was: whoever is about to send judges anew. */
export function clearanceChanged(p: Platform, w: Writer, businessId: string): void {
  changed(p, w, businessId);
  w.tell('number.changed', { businessId });
  w.afterCommit(() => p.live.tell({ businessId, topic: 'numbers' }));
}
