export { confirmOptIns } from './confirmations.js';
export { eventOf, Ledger, sha256, type EventRow, type NewEvent } from './ledger.js';
export { Pages } from './pages.js';
export { Replies } from './replies.js';
export { Reviews } from './reviews.js';
export { consentRoutes } from './routes.js';
export { signDaily } from './sign-daily.js';
