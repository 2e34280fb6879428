import { hold, PASS, post, stop } from '../post.js';

export const textable = post({
  key: 'textable',
  label: 'textable',
  short: 'textable',
  reads: ['subject.trouble', 'subject.lookedUp', 'subject.textable'],
  notAsked: [],
  reasons: {
    'never-looked-up': { why: 'never looked up', lift: 'its lookup' },
    'lookup-unknown': { why: 'line type unknown', lift: 'ask again' },
    'not-textable': {
      why: 'texts do not reach this line',
      lift: 'a later answer, or another number of the contact',
    },
  },
  ask: ({ subject: s }) => {
    if (s.trouble === 'not-textable') return stop('not-textable');
    if (!s.lookedUp) return hold('never-looked-up');
    return s.textable === 'yes' ? PASS : s.textable === 'no' ? stop('not-textable') : hold('lookup-unknown');
  },
});
