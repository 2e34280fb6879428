export { confirmOptIns } from './confirmations.js';
export { eventOf, Ledger, sha256, type EventRow, type NewEvent } from './ledger.js';
export { disclosureOf, Pages } from './pages.js';
export { Replies } from './replies.js';
export { consentRoutes } from './routes.js';
