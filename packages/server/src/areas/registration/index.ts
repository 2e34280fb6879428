export { Registration } from './registration.js';
export { registrationRoutes } from './routes.js';
