import type { QueryInterface } from 'sequelize';
import { addColumn, big, maybe, text } from '../platform/table.js';

/**
 * How a number ended, who ordered it, what its public card says, the programme a short code is leased for, and where the
 * calls to a number that is being bought will go; what the signer of a letter was shown; and when the fee of
 * a campaign is due.
 */
export async function numbersEnded(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'number', 'ended', text(''));
  await addColumn(qi, 'number', 'orderedBy', text(''));
  await addColumn(qi, 'number', 'cardName', text(''));
  await addColumn(qi, 'number', 'cardPicture', maybe(text()));
  await addColumn(qi, 'number', 'programme', maybe(text()));
  await addColumn(qi, 'basket_item', 'putBy', text(''));
  await addColumn(qi, 'basket_item', 'programme', maybe(text()));
  await addColumn(qi, 'basket_item', 'forwardTo', text(''));
  // Until when a campaign's monthly fee is paid, and since when it could not be.
  await addColumn(qi, 'campaign', 'nextFeeAt', maybe(big()));
  await addColumn(qi, 'campaign', 'unpaidSince', maybe(big()));
  // What the holder was shown, and why a link ended.
  await addColumn(qi, 'signing_link', 'letter', maybe(text()));
  await addColumn(qi, 'signing_link', 'endedWhy', text(''));
  // From the running job, which alone knew it.
  await qi.sequelize.query(
    `UPDATE campaign SET next_fee_at = (SELECT min(j.run_at) FROM job j WHERE j.kind = 'fee' AND j.key = 'fee:' || campaign.id) WHERE state = 'registered'`,
  );
  // What stood in the note alone before.
  await qi.sequelize.query(
    `UPDATE number SET ended = CASE WHEN note LIKE 'ported away%' THEN 'ported away' WHEN note LIKE '%unpaid%' THEN 'unpaid' WHEN note LIKE 'gone back%' THEN 'gone back'
     WHEN note LIKE 'texting taken off%' THEN 'texting off' WHEN note LIKE 'given up%' THEN 'given up' ELSE 'released' END WHERE state = 'released'`,
  );
}
