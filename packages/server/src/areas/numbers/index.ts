export { Numbers, type Sender } from './numbers.js';
export { numbersRoutes } from './routes.js';
