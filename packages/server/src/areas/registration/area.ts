import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import type { SettingsArea } from '../settings/index.js';
import { Dossiers } from './dossiers.js';
import { tellRegistration } from './matters.js';
import { nameRegistration } from './object-names.js';
import { Registration } from './registration.js';
import { registrationRoutes } from './routes.js';

/** Brands and campaigns as the registrar knows them. */
export function registrationArea(p: Platform, router: Router, { businesses, fees }: SettingsArea) {
  const registration = new Registration(p, businesses, fees);
  nameRegistration(p);
  tellRegistration(p, registration);
  const dossiers = new Dossiers(p, businesses, registration);
  registrationRoutes(router, registration, dossiers);
  return { registration, dossiers };
}
export type RegistrationArea = ReturnType<typeof registrationArea>;
