import { nextPacificMidnight } from '../../hours/send-window.js';
import { hold, holdUntil, PASS, post } from '../post.js';

/** What the text costs, and what carriers that cap a brand's day still take. */
export const allowance = post({
  key: 'allowance',
  label: 'allowance',
  short: 'allowance',
  reads: [
    'subject.carrierKind',
    'message.segments',
    'rules.segmentPrice',
    'rules.at',
    'allowance.balance',
    'allowance.dailySegments',
  ],
  notAsked: [],
  reasons: {
    'balance-short': { why: 'balance does not reach', lift: 'a top-up' },
    'daily-cap': { why: 'daily cap reached', lift: 'midnight Pacific' },
  },
  ask: ({ subject, message, rules, allowance: left }) => {
    if (left.balance < message.segments * rules.segmentPrice) return hold('balance-short');
    return subject.carrierKind === 'B' && left.dailySegments < message.segments
      ? holdUntil('daily-cap', nextPacificMidnight(rules.at))
      : PASS;
  },
});
