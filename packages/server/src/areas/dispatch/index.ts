export { Drafts } from './drafts.js';
export { GatePreview } from './gate-preview.js';
export { MESSAGE_SELECT, showMessage, type MessageRecord } from './messages.js';
export { dispatchRoutes } from './routes.js';
export { gateProblem, Sending } from './sending.js';
export { Texts, whyOf } from './texts.js';
