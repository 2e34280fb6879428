export type { ConsentArea } from './area.js';
export { sha256 } from './ledger-check.js';
export type { Ledger, NewEvent } from './ledger.js';
export { eventOf, type EventRow } from './ledger-store.js';
export type { Replies } from './replies.js';
