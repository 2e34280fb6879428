import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import type { SettingsArea } from '../settings/index.js';
import { Contacts } from './contacts.js';
import { Intakes } from './intakes.js';
import { ListChanges } from './list-changes.js';
import { Lists } from './lists.js';
import { Lookups } from './lookups.js';
import { CONTACT_COUNTS } from './kept-counts-store.js';
import { nameContacts } from './object-names.js';
import { tellContacts } from './matters.js';
import { contactsRoutes } from './routes.js';

/** Whom a business knows, how they came in, and whether texts reach them. */
export function contactsArea(p: Platform, router: Router, { businesses }: SettingsArea) {
  const contacts = new Contacts(p, businesses);
  const lists = new Lists(p);
  const lookups = new Lookups(p, contacts, businesses);
  const intakes = new Intakes(p, lists);
  p.keptCounts.add(...CONTACT_COUNTS);
  nameContacts(p);
  tellContacts(p, contacts, intakes);
  contactsRoutes(router, p, contacts, lists, new ListChanges(p, contacts, lists), intakes, lookups);
  return { contacts, lists, lookups, intakes };
}
export type ContactsArea = ReturnType<typeof contactsArea>;
