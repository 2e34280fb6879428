export { Registration, type Standing, type StandingCampaign } from './registration.js';
export { registrationRoutes } from './routes.js';
