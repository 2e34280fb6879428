export { Watch } from './watch.js';
export { watchRoutes } from './routes.js';
