import { keptTable, type Kept } from '../../platform/kept-counts-store.js';
import { textCountTable, textWaitingTable, textDayTable, textLatencyTable, textLatencyWeekTable } from './model.js';

/** A text counts on the day it left, an answer on the day it came; what never left counts nowhere. */
const DAY = `coalesce(day, (CASE direction WHEN 'in' THEN created_at ELSE sent_at END) / 86400000)`;
/** Tenths of a second up to ten seconds, then seconds, tens and hundreds: never off by more than a tenth. */
const STEP = `CASE WHEN final_at - sent_at < 10000 THEN CASE WHEN final_at < sent_at THEN 0 ELSE final_at - sent_at END / 100
  WHEN final_at - sent_at < 100000 THEN 90 + (final_at - sent_at) / 1000
  WHEN final_at - sent_at < 1000000 THEN 180 + (final_at - sent_at) / 10000 ELSE 270 + (final_at - sent_at) / 100000 END`;

/** What is counted of texts as they are judged, leave and arrive, by triggers (`migrations/first/counts.ts`). */
export const TEXT_COUNTS: readonly Kept[] = [
  keptTable({
    what: 'texts of each dispatch by where they stand',
    table: textCountTable,
    values: ['n'],
    counted: `SELECT dispatch_id, state, coalesce(post, 0) AS post, coalesce(reason, '') AS reason, count(*) AS n FROM message WHERE dispatch_id IS NOT NULL GROUP BY 1, 2, 3, 4`,
  }),
  keptTable({
    what: 'segments that wait, by kind of network',
    table: textWaitingTable,
    values: ['segments'],
    counted: `SELECT business_id, network, sum(segments) AS segments FROM message WHERE state = 'waiting' AND direction = 'out' GROUP BY 1, 2`,
  }),
  keptTable({
    what: 'texts by day, number, carrier and outcome',
    table: textDayTable,
    values: ['n'],
    counted: `SELECT business_id, ${DAY} AS day, number_id, carrier,
        CASE WHEN direction = 'in' THEN 'received' WHEN state IN ('delivered','failed') THEN state ELSE 'pending' END AS outcome,
        coalesce(failure, '') AS failure, coalesce(failure_reason, '') AS reason, count(*) AS n
      FROM message WHERE direction = 'in' OR sent_at IS NOT NULL GROUP BY 1, 2, 3, 4, 5, 6, 7`,
  }),
  keptTable({
    what: 'how long delivery took, by number and day',
    table: textLatencyTable,
    values: ['n'],
    counted: `SELECT business_id, number_id, ${DAY} AS day, ${STEP} AS step, count(*) AS n FROM message WHERE state = 'delivered' AND sent_at IS NOT NULL AND final_at IS NOT NULL GROUP BY 1, 2, 3, 4`,
  }),
  keptTable({
    what: 'how long delivery took, by number and week',
    table: textLatencyWeekTable,
    values: ['n'],
    counted: `SELECT business_id, ${DAY} / 7 AS week, number_id, ${STEP} AS step, count(*) AS n FROM message WHERE state = 'delivered' AND sent_at IS NOT NULL AND final_at IS NOT NULL GROUP BY 1, 2, 3, 4`,
  }),
];
