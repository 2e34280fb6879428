export {
  audienceClasses,
  audienceMemberships,
  audienceRows,
  audienceSql,
  longestFields,
  type AskedBy,
  type Audience,
} from './audience-store.js';
export { consentKeptAfter } from './contact-store.js';
export { Contacts, sortName } from './contacts.js';
export { Intakes } from './intakes.js';
export { Lists } from './lists.js';
export { Lookups } from './lookups.js';
export { contactsRoutes } from './routes.js';
export { subjectOf, type SubjectRow } from './subjects.js';
