export { confirmOptIns } from './confirmations.js';
export { sha256 } from './ledger-check.js';
export { Ledger, type NewEvent } from './ledger.js';
export { eventOf, type EventRow } from './ledger-store.js';
export { Pages } from './pages.js';
export { Replies } from './replies.js';
export { Reviews } from './reviews.js';
export { consentRoutes } from './routes.js';
export { signDaily } from './sign-daily.js';
