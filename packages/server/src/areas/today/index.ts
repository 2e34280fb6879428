export { Today } from './today.js';
export { todayRoutes } from './routes.js';
