/** The posts of the gate, in order (rules.md, the gate). */
export const POSTS = [
  { no: 1, key: 'well-formed', label: 'number well-formed', short: 'well-formed' },
  { no: 2, key: 'country', label: 'country open for this number', short: 'country open' },
  { no: 3, key: 'textable', label: 'textable', short: 'textable' },
  { no: 4, key: 'reachable', label: 'reachable', short: 'reachable' },
  { no: 5, key: 'not-opted-out', label: 'not opted out or suppressed', short: 'not opted out' },
  { no: 6, key: 'consent', label: 'consent for this purpose', short: 'consent' },
  { no: 7, key: 'number-cleared', label: 'our number cleared', short: 'number cleared' },
  { no: 8, key: 'content', label: 'content fit', short: 'content fit' },
  { no: 9, key: 'frequency', label: 'frequency', short: 'frequency' },
  { no: 10, key: 'hours', label: 'hours', short: 'hours' },
  { no: 11, key: 'allowance', label: 'allowance', short: 'allowance' },
] as const;

/** The kinds of text the gate knows. */
export const TEXT_KINDS = [
  'dispatch',
  'answer',
  'opt-out confirmation',
  'help answer',
  'opt-in request',
  'staff test',
] as const;
export type TextKind = (typeof TEXT_KINDS)[number];

/** The posts each kind of text is not asked; all others are asked everything. */
export const NOT_ASKED: Record<TextKind, readonly number[]> = {
  dispatch: [],
  answer: [6, 9, 10],
  'opt-out confirmation': [5, 6, 9, 10],
  'help answer': [5, 6, 9, 10],
  'opt-in request': [5, 6, 9, 10],
  'staff test': [6, 9, 10],
};

export const RESULTS = ['pass', 'hold', 'stop'] as const;
export type Result = (typeof RESULTS)[number];

/** Every answer a post can give other than pass, with the words shown and what would lift it. */
export const REASONS = {
  'not-well-formed': { post: 1, why: 'not a well-formed number', lift: 'correct the number' },
  'country-closed': { post: 2, why: 'country not open for this number', lift: 'open the country for texting' },
  'never-looked-up': { post: 3, why: 'never looked up', lift: 'its lookup' },
  'lookup-unknown': { post: 3, why: 'line type unknown', lift: 'ask again' },
  'not-textable': {
    post: 3,
    why: 'texts do not reach this line',
    lift: 'a later answer, or another number of the contact',
  },
  'out-of-service': { post: 4, why: 'out of service', lift: 'a new number from the contact' },
  'faults-in-review': { post: 4, why: 'three faults in 30 days', lift: 'a look at the number' },
  unreachable: { post: 4, why: 'not reachable when last asked', lift: 'ask again' },
  'opted-out': { post: 5, why: 'opted out', lift: 'only the contact: START, or the opt-in page' },
  'refused-at-carrier': { post: 5, why: 'opted out at the carrier', lift: 'only the contact, at the carrier' },
  suppressed: { post: 5, why: 'on a suppression list', lift: 'written consent, or the list’s end' },
  'wish-in-review': { post: 5, why: 'may have asked to stop', lift: 'a person reads the reply' },
  'consent-none': { post: 6, why: 'never agreed to this kind of text', lift: 'their own act: the opt-in page' },
  'consent-unproven': { post: 6, why: 'imported claim without proof', lift: 'file the form, or invite to the page' },
  'consent-awaiting': { post: 6, why: 'confirming text not answered yet', lift: 'their YES' },
  'consent-lapsed': { post: 6, why: 'confirming text never answered', lift: 'their own act: the opt-in page' },
  'consent-declined': { post: 6, why: 'declined', lift: 'their own act: the opt-in page' },
  'consent-expired': { post: 6, why: 'consent expired', lift: 'their own act: the opt-in page' },
  'consent-voided': { post: 6, why: 'number changed hands since consent', lift: 'ask for the new number' },
  'consent-disputed': { post: 6, why: 'consent disputed', lift: 'the dispute’s end' },
  'conversation-over': { post: 6, why: 'last word too long ago to answer', lift: 'their next message, or consent' },
  'purpose-not-for-dispatch': {
    post: 6,
    why: 'a dispatch is never conversational',
    lift: 'choose informational or promotional',
  },
  'account-provisional': { post: 7, why: 'account provisional', lift: 'open the account' },
  'account-restricted': { post: 7, why: 'account restricted', lift: 'the provider lifts the restriction' },
  'account-suspended': { post: 7, why: 'account suspended', lift: 'the provider lifts the suspension' },
  'texts-switched-off': { post: 7, why: 'all texts switched off', lift: 'switch texts on again' },
  'no-number': { post: 7, why: 'no sending number chosen', lift: 'choose a number' },
  'number-not-active': { post: 7, why: 'our number is not active yet', lift: 'its activation' },
  'number-not-tied': { post: 7, why: 'our number is in no campaign', lift: 'tie it to a registered campaign' },
  'registration-pending': { post: 7, why: 'registration in review', lift: 'the registrar’s answer' },
  'registration-declined': { post: 7, why: 'registration declined', lift: 'mend and resubmit' },
  'sender-not-for-country': {
    post: 7,
    why: 'our sender may not be used in this country',
    lift: 'register it there, or choose another number',
  },
  'content-blocked': { post: 8, why: 'the text does not fit', lift: 'mend the text' },
  'link-filtered': { post: 8, why: 'a link that networks filter', lift: 'a link on your own domain' },
  'words-promotional': {
    post: 8,
    why: 'reads as promotional, but has another purpose',
    lift: 'choose promotional, take the offer out, or an administrator’s written reason',
  },
  'other-use': {
    post: 8,
    why: 'another use than this number’s campaign is registered for',
    lift: 'another number, or other words',
  },
  'first-text-incomplete': { post: 8, why: 'a first text must name us and show STOP', lift: 'add the stop line' },
  'signature-missing': { post: 8, why: 'one-way offers must name a way to stop', lift: 'give the sender a signature' },
  'stop-line-due': { post: 8, why: 'stop line due after 30 days', lift: 'add the stop line' },
  'field-empty': { post: 8, why: 'a merge field is empty', lift: 'give the field a fallback' },
  'frequency-cap': { post: 9, why: 'three offers in 24 hours', lift: 'time' },
  'outside-hours': { post: 10, why: 'outside permitted hours', lift: 'time' },
  'no-common-hours': {
    post: 10,
    why: 'no hour is permitted in every possible place',
    lift: 'the contact’s own address',
  },
  'balance-short': { post: 11, why: 'balance does not reach', lift: 'a top-up' },
  'daily-cap': { post: 11, why: 'daily cap reached', lift: 'midnight Pacific' },
} as const satisfies Record<string, { post: number; why: string; lift: string }>;
export type ReasonCode = keyof typeof REASONS;
