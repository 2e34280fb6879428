export { Contacts, carrierKind, sortName } from './contacts.js';
export { Intakes } from './intakes.js';
export { Lookups } from './lookups.js';
export { contactsRoutes } from './routes.js';
export { subjectColumns, subjectOf, type SubjectRow } from './subjects.js';
