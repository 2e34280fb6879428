export { PortCalendar } from './port-calendar.js';
export { PortDesk } from './port-desk.js';
export { PortFollowing, type SeenTexts } from './port-following.js';
export { portingRoutes } from './routes.js';
