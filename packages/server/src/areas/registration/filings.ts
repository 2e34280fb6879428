import { blocks, type Finding } from '@long-gate/core';
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

/** What the registrar answers. */
export interface Answer {
  state: 'registered' | 'declined';
  score: number | null;
  reasons: { field: string; code: string; message: string }[];
}

/** Notes an answer of the registrar, and tells whoever sends under it. */
export async function noteAnswer(
  p: Platform,
  w: Writer,
  what: 'brand' | 'campaign',
  filing: { id: string; businessId: string },
  answer: Answer,
  before = 'in review',
): Promise<void> {
  await record(w, p.clock, {
    businessId: filing.businessId,
    actor: SYSTEM,
    action: `${what} ${answer.state} by the registrar`,
    objectKind: what,
    objectId: filing.id,
    before: { state: before },
    after: answer,
  });
  changed(p, w, filing.businessId);
  w.tell('number.changed', { businessId: filing.businessId });
  w.afterCommit(() => p.live.tell({ businessId: filing.businessId, topic: 'numbers' }));
}
