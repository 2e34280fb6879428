export type { RegistrationArea } from './area.js';
export type { Registration, Standing, StandingCampaign, StandingVerification } from './registration.js';
