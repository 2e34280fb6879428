export type { DispatchArea } from './area.js';
export type { DispatchDraft, Drafts } from './drafts.js';
export type { LinkedText, LinkKey, OwnPageLinks } from './own-page-links.js';
export type { PeopleBehind } from './people-behind.js';
export {
  countTextsOf,
  dayCounts,
  lastNumbers,
  lastTextsTo,
  latencySteps,
  saidBefore,
  textById,
  textsOfNumbers,
  type DayCount,
  type TextRow,
} from './shown-store.js';
export { lastReached } from './message-store.js';
export { cutTextDays } from './text-days.js';
export { gateProblem } from './sending.js';
export type { AskedText, TextsAt } from './texts-at.js';
export { NOBODY, rulesOf, whyOf, type Texts, type WordsByNow } from './texts.js';
