export type { ContactsArea } from './area.js';
export { agreedOf, type AgreedNumber, type AgreedScope } from './agreed-store.js';
export {
  audienceClasses,
  audienceMemberships,
  audienceRows,
  audienceSql,
  longestFields,
  type AudienceRow,
  type AskedBy,
  type Audience,
} from './audience-store.js';
export type { ContactEdits } from './contact-edits.js';
export type { Person } from './contact-store.js';
export { consentKeptAfter } from './kept-consent-store.js';
export type { Contacts } from './contacts.js';
export { figuresIn, isOfWhoever } from './filter-store.js';
export type { Consenting, SaidOf } from './intake-storing.js';
export { numberAt, numberHistory, numbersKeptSince, senderTo, type NumberThen } from './history/was-store.js';
export type { Intakes } from './intakes.js';
export type { Lists } from './lists.js';
export type { Lookups } from './lookups.js';
export { PacedQuestions, SLICE } from './paced-questions.js';
export type { QuestionPayer } from './question-payer.js';
export {
  countAsked,
  countDueIn,
  markDue,
  nextAsked,
  setReassignments,
  type ReassignedScope,
} from './reassignment-store.js';
export type { Textability } from './textability.js';
export { lastNumberId, scheduledBusinesses } from './textability-store.js';
export { learntOf, setRelated, setSuppressions, suppressedAfter } from './number-store.js';
export { numbersBesideAt } from './history/beside-at.js';
export { erasedNumber, numberDigest } from './number-digest.js';
export { REFUSED } from './model.js';
export { sortName } from './sort-name.js';
export { peopleStanding, standingOf, type StandingClass } from './standing-store.js';
export { shownTrouble, type Learnt } from './trouble-store.js';
export { STOP_LINE_MS, subjectOf, type SubjectRow } from './subjects.js';
