import { ReasonShape } from '@long-gate/contracts';
import type { QueryInterface } from 'sequelize';
import { z } from 'zod';
import { big, createTable, json, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

/** Each submission of a campaign with its decision; of what was submitted before, the last is known. */
export async function campaignTries(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'campaign_try', {
    campaignId: refers(key(text()), 'campaign'),
    attempt: key(whole()),
    body: json('body', z.unknown()),
    submittedAt: big(),
    state: oneOf(['in review', 'registered', 'declined'], 'in review'),
    decidedAt: maybe(big()),
    reasons: json('reasons', z.array(ReasonShape), '[]'),
  });
  await qi.sequelize.query(
    `INSERT INTO campaign_try (campaign_id, attempt, body, submitted_at, state, decided_at, reasons)
     SELECT id, attempt, last_submitted, submitted_at, state, decided_at, reasons FROM campaign
     WHERE attempt > 0 AND last_submitted IS NOT NULL AND submitted_at IS NOT NULL AND state <> 'draft'`,
  );
}
