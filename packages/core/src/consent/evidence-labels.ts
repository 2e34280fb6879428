/** What people call the members of an event's evidence; the ledger keeps them by these keys. */
const LABELS: Readonly<Record<string, string>> = {
  ip: 'IP address',
  agent: 'Browser',
  page: 'Page',
  pageSha256: 'Page, SHA-256',
  site: 'Shown on the site',
  wish: 'Wished',
  words: 'Words',
  message: 'Text',
  answers: 'Answers the text',
  cites: 'Cites the event',
  keyword: 'Keyword',
  programme: 'Keyword programme',
  comes: 'Who wrote it was',
  place: 'Told of it by',
  call: 'Call',
  pressed: 'Key pressed',
  to: 'Called',
  invitation: 'Letter',
  numberRequest: 'Letter',
  form: 'Filed form',
  document: 'Document',
  sha256: 'Document, SHA-256',
  digest: 'Document, digest',
  claim: 'Claim',
  intake: 'Intake',
  source: 'Source',
  date: 'Day it says',
  saidOn: 'Said on',
  said: 'It says',
  disclosure: 'Words it says',
  optOutList: 'List of opt-outs',
  file: 'File',
  fileSha256: 'File, SHA-256',
  line: 'Line',
  asked: 'Asked',
  answer: 'Answer',
  query: 'Question',
  policy: 'Policy',
  lastContact: 'Last contact',
  lastContactBy: 'Last contact by',
  listed: 'Listed as ending',
  why: 'Why',
  note: 'Note',
};

/** What a member of an event's evidence is called; its key where it is none of ours. */
export const evidenceLabel = (key: string): string => (Object.hasOwn(LABELS, key) ? (LABELS[key] ?? key) : key);

/** Members that are ids of what stands elsewhere: they say nothing to who reads them by themselves. */
const IDS: ReadonlySet<string> = new Set([
  'programme',
  'form',
  'optOutList',
  'intake',
  'cites',
  'invitation',
  'numberRequest',
  'message',
  'answers',
]);
/** What of an event's evidence a person can read as it stands, each member with what it is called. */
export const legibleEvidence = (evidence: Readonly<Record<string, string>>): [label: string, value: string][] =>
  Object.entries(evidence).flatMap(([key, value]) =>
    value === '' || IDS.has(key) ? [] : [[evidenceLabel(key), value]],
  );
