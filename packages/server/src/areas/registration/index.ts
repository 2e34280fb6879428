export type { RegistrationArea } from './area.js';
export type { Registration, Standing, StandingCampaign } from './registration.js';
