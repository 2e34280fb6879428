import { ownMoment } from '../../hours/own-time.js';
import { sendWindow } from '../../hours/send-window.js';
import type { Subject } from '../facts.js';
import { holdUntil, PASS, post, stop } from '../post.js';

/** Permitted hours in every place the person may be. */
export const hours = post({
  key: 'hours',
  label: 'hours',
  short: 'hours',
  reads: [
    'subject.zones',
    'subject.states',
    'message.purpose',
    'message.transactional',
    'message.notBefore',
    'rules.at',
    'rules.hours',
    'rules.transactionalAnyHour',
  ],
  notAsked: ['answer', 'opt-out confirmation', 'help answer', 'opt-in request', 'opt-in answer', 'staff test'],
  reasons: {
    'chosen-time': { why: 'the time chosen has not come where they are', lift: 'time' },
    'outside-hours': { why: 'outside permitted hours', lift: 'time' },
    'no-common-hours': { why: 'no hour is permitted in every possible place', lift: 'the contact’s own address' },
  },
  ask: ({ subject: s, message: m, rules }) => {
    if (m.purpose === 'conversational') return PASS;
    if (m.notBefore !== null) {
      const own = ownMoment(m.notBefore, split(s.zones));
      if (rules.at < own) return holdUntil('chosen-time', own);
    }
    // A promotional text is never transactional, whatever it says of itself.
    if (m.transactional && m.purpose === 'informational' && rules.transactionalAnyHour) return PASS;
    const window = sendWindow(placeOf(s), rules.hours, rules.at);
    if (window.open) return { result: 'pass', until: window.closesAt };
    return 'never' in window ? stop('no-common-hours') : holdUntil('outside-hours', window.opensAt);
  },
});

/** Where a recipient may be, as the hours are reckoned. */
export const placeOf = (s: Pick<Subject, 'zones' | 'states'>): { zones: string[]; states: string[] } => ({
  zones: split(s.zones),
  states: split(s.states),
});

function split(list: string): string[] {
  return list === '' ? [] : list.split(',');
}
