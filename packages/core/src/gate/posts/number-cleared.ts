import { hold, PASS, post, stop } from '../post.js';

/** Whether the business and the number of ours may send at all, and into this country. */
export const numberCleared = post({
  key: 'number-cleared',
  label: 'our number cleared',
  short: 'number cleared',
  reads: [
    'subject.country',
    'message.kind',
    'message.accountState',
    'message.textsOff',
    'message.clearance',
    'message.senderCountries',
  ],
  notAsked: [],
  reasons: {
    'account-provisional': { why: 'account provisional', lift: 'open the account' },
    'account-restricted': { why: 'account restricted', lift: 'the provider lifts the restriction' },
    'account-suspended': { why: 'account suspended', lift: 'the provider lifts the suspension' },
    'texts-switched-off': { why: 'all texts switched off', lift: 'switch texts on again' },
    'no-number': { why: 'no sending number chosen', lift: 'choose a number' },
    'number-not-active': { why: 'our number is not active yet', lift: 'its activation' },
    'number-ended': { why: 'our number is no longer ours', lift: 'choose another number' },
    'number-not-tied': { why: 'our number is in no campaign', lift: 'tie it to a registered campaign' },
    'number-not-verified': { why: 'our toll-free number is not verified', lift: 'have it verified' },
    'registration-suspended': { why: 'registration suspended', lift: 'the registrar lifts the suspension' },
    'registration-expired': { why: 'registration expired', lift: 'renew the campaign' },
    'registration-pending': { why: 'registration in review', lift: 'the registrar’s answer' },
    'registration-declined': { why: 'registration declined', lift: 'mend and resubmit' },
    'sender-not-for-country': {
      why: 'our sender may not be used in this country',
      lift: 'register it there, or choose another number',
    },
  },
  ask: ({ subject: s, message: m }) => {
    if (m.accountState === 'provisional') return stop('account-provisional');
    if (m.accountState === 'suspended') return stop('account-suspended');
    if (m.accountState === 'restricted' && m.kind === 'dispatch') return stop('account-restricted');
    if (m.textsOff) return hold('texts-switched-off');
    if (m.clearance === 'cleared')
      return m.senderCountries && !m.senderCountries.includes(s.country) ? stop('sender-not-for-country') : PASS;
    return m.clearance === 'number-not-active' || m.clearance === 'registration-pending'
      ? hold(m.clearance)
      : stop(m.clearance);
  },
});
