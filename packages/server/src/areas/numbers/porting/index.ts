export { PortCalendar } from './port-calendar.js';
export { PortDesk } from './port-desk.js';
export { PortFollowing, type SeenTexts } from './port-following.js';
export { portingRoutes } from './routes.js';
export { portParagraphs } from './port-letter.js';
export { portDay, storedFacts, unsealed, type PortRow } from './port-row.js';
export { submittedShape } from './port-view.js';
export { openPortOf, portById } from './port-store.js';
