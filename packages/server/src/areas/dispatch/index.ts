export type { DispatchArea } from './area.js';
export type { DispatchDraft, Drafts } from './drafts.js';
export type { PeopleBehind } from './people-behind.js';
export { dayCounts, lastNumbers, latencySteps, saidBefore, type DayCount } from './shown-store.js';
export { cutTextDays } from './text-days.js';
export { gateProblem } from './sending.js';
export { whyOf, type Texts } from './texts.js';
