import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import type { SettingsArea } from '../settings/index.js';
import { DossierFiles } from './dossier-files.js';
import { DossierStarts } from './dossier-starts.js';
import { Dossiers } from './dossiers.js';
import { tellRegistration } from './matters.js';
import { nameRegistration } from './object-names.js';
import { Registration } from './registration.js';
import { registrationRoutes } from './routes.js';

/** Brands and campaigns as the registrar knows them. */
export function registrationArea(p: Platform, router: Router, { businesses, fees, people }: SettingsArea) {
  const registration = new Registration(p, businesses, fees);
  nameRegistration(p);
  tellRegistration(p, registration);
  const dossiers = new Dossiers(p, businesses, registration, people);
  const dossierFiles = new DossierFiles(p, businesses, registration);
  const dossierStarts = new DossierStarts(p, businesses, people);
  registrationRoutes(router, registration, { dossiers, dossierFiles, dossierStarts });
  return { registration, dossiers, dossierFiles, dossierStarts };
}
export type RegistrationArea = ReturnType<typeof registrationArea>;
