export { Countries } from './countries.js';
export { SenderIds } from './sender-ids.js';
export { abroadRoutes } from './routes.js';
