export { Hosted } from './hosted.js';
export { hostedRoutes } from './routes.js';
