import { ReasonShape } from '@long-gate/contracts';
import { REGISTERED_DAYS } from '@long-gate/core';
import type { QueryInterface } from 'sequelize';
import { z } from 'zod';
import { keepFromNow, keepHistory, type KeptFacts } from './kept-history.js';
import { addColumn, big, createTable, index, json, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

const FILED = ['draft', 'in review', 'registered', 'declined'];
/** Nothing was written of what a toll-free number is for before it was asked for. */
const UNWRITTEN = `'{"useCase":"","volume":0,"description":"","agreement":"","samples":[""],"proofUrl":""}'`;

/** What the gate reads of these from now on, beside what it did. */
const STANDING: KeptFacts = {
  table: 'campaign',
  business: 'business_id',
  since: 'created_at',
  facts: ['halt', 'renews_at'],
  more: '_standing',
};
const VERIFIED: KeptFacts = {
  table: 'toll_free_verification',
  business: 'business_id',
  id: 'number_id',
  since: '',
  facts: ['state', 'body'],
};

/**
 * How far filings have come, what closes a campaign, what an identity check found, vetting by itself, and toll-free
 * numbers verified for their own use. Campaigns that are registered stand for a year from their decision.
 */
export async function registrationInDepth(qi: QueryInterface): Promise<void> {
  for (const table of ['brand', 'campaign']) await addColumn(qi, table, 'stages', text('[]'));
  await addColumn(qi, 'brand', 'results', text('[]'));
  await addColumn(qi, 'brand', 'appeal', text(''));
  await addColumn(qi, 'brand', 'appealedAt', maybe(big()));
  await addColumn(qi, 'brand', 'confirmBy', maybe(big()));
  await addColumn(qi, 'brand', 'confirmLapsed', whole(0));
  await addColumn(qi, 'brand', 'confirmAsks', whole(0));
  for (const column of ['emailConfirmed', 'emailCode', 'emailCodeFor']) await addColumn(qi, 'brand', column, text(''));
  await addColumn(qi, 'brand', 'emailTries', whole(0));
  await addColumn(qi, 'campaign', 'halt', text(''));
  await addColumn(qi, 'campaign', 'haltedAt', maybe(big()));
  await addColumn(qi, 'campaign', 'haltReasons', text('[]'));
  await addColumn(qi, 'campaign', 'haltAnswer', text(''));
  await addColumn(qi, 'campaign', 'haltAnsweredAt', maybe(big()));
  await addColumn(qi, 'campaign', 'renewsAt', maybe(big()));
  await addColumn(qi, 'campaign', 'renewalAskedAt', maybe(big()));
  await qi.sequelize.query(
    `UPDATE campaign SET renews_at = decided_at + ${REGISTERED_DAYS * 86_400_000} WHERE state = 'registered' AND decided_at IS NOT NULL`,
  );
  await keepHistory(qi, STANDING);
  await keepFromNow(qi, STANDING);
  await createTable(qi, 'brand_vetting', {
    id: key(text()),
    brandId: refers(text(), 'brand'),
    objection: text(''),
    orderedAt: big(),
    decidedAt: maybe(big()),
    score: maybe(whole()),
    failure: text(''),
  });
  await index(qi, 'brand_vetting', 'brand_vetting_brand', ['brand_id', 'ordered_at']);
  await createTable(qi, 'toll_free_verification', {
    numberId: key(text()),
    businessId: refers(text(), 'business'),
    body: json('body', z.unknown()),
    state: oneOf(FILED, 'draft'),
    attempt: whole(0),
    submittedAt: maybe(big()),
    decidedAt: maybe(big()),
    reasons: json('reasons', z.array(ReasonShape), '[]'),
    stages: json('stages', z.array(z.unknown()), '[]'),
    lastSubmitted: maybe(json('lastSubmitted', z.unknown())),
    version: whole(1),
  });
  await index(qi, 'toll_free_verification', 'toll_free_verification_business', ['business_id']);
  await keepHistory(qi, VERIFIED);
  await createTable(qi, 'filing_try', {
    filingId: key(text()),
    attempt: key(whole()),
    body: json('body', z.unknown()),
    submittedAt: big(),
    state: oneOf(['in review', 'registered', 'declined'], 'in review'),
    decidedAt: maybe(big()),
    reasons: json('reasons', z.array(ReasonShape), '[]'),
  });
  await qi.sequelize.query(
    `INSERT INTO filing_try (filing_id, attempt, body, submitted_at, state, decided_at, reasons)
     SELECT id, attempt, last_submitted, submitted_at, state, decided_at, reasons FROM brand
     WHERE attempt > 0 AND last_submitted IS NOT NULL AND submitted_at IS NOT NULL AND state <> 'draft'`,
  );
  // Toll-free numbers were verified by their tie to a campaign; those that were stay so.
  await qi.sequelize.query(
    `INSERT INTO toll_free_verification (number_id, business_id, body, state, attempt, decided_at)
     SELECT id, business_id, ${UNWRITTEN}, 'registered', 1, active_at FROM number WHERE kind = 'toll-free' AND tie_state = 'attached'`,
  );
  await qi.sequelize.query(`UPDATE number SET campaign_id = NULL, tie_state = 'none' WHERE kind = 'toll-free'`);
}
