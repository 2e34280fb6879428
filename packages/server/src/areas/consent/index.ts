export type { ConsentArea } from './area.js';
export { sha256 } from './ledger/ledger-check.js';
export type { Ledger, NewEvent } from './ledger/ledger.js';
export { eventOf, type EventRow } from './ledger/ledger-store.js';
export type { Replies } from './replies.js';
