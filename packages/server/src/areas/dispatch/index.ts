export { Drafts, type DispatchDraft } from './drafts.js';
export { HandOver } from './hand-over.js';
export { GatePreview } from './gate-preview.js';
export { dispatchRoutes } from './routes.js';
export { Receipts } from './receipts.js';
export { gateProblem, Sending } from './sending.js';
export { Texts, whyOf } from './texts.js';
export { dayCounts, lastNumbers, latencySteps, saidBefore, type DayCount } from './message-store.js';
