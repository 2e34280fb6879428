export { IncomingCalls } from './incoming-calls.js';
export { Inbox } from './inbox.js';
export { inboxRoutes } from './routes.js';
