export { Inbox } from './inbox.js';
export { inboxRoutes } from './routes.js';
