export { Dispatches, gateProblem, MESSAGE_SELECT, showMessage, type MessageRecord } from './dispatches.js';
export { dispatchRoutes } from './routes.js';
export { Texts, whyOf } from './texts.js';
