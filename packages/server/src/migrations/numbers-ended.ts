import type { QueryInterface } from 'sequelize';
import { addColumn, maybe, text } from '../platform/table.js';

/**
 * How a number ended, who ordered it, what its public card says, the programme a short code is leased for, and where the
 * calls to a number that is being bought will go; what the signer of a letter was shown.
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
  // What the holder was shown, and why a link ended.
  await addColumn(qi, 'signing_link', 'letter', maybe(text()));
  await addColumn(qi, 'signing_link', 'endedWhy', text(''));
  // What stood in the note alone before.
  await qi.sequelize.query(
    `UPDATE number SET ended = CASE WHEN note LIKE 'ported away%' THEN 'ported away' WHEN note LIKE '%unpaid%' THEN 'unpaid' WHEN note LIKE 'gone back%' THEN 'gone back'
     WHEN note LIKE 'texting taken off%' THEN 'texting off' WHEN note LIKE 'given up%' THEN 'given up' ELSE 'released' END WHERE state = 'released'`,
  );
}
