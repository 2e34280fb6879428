import type Router from '@koa/router';
import { Documents } from '../../platform/documents.js';
import type { Platform } from '../../platform/platform.js';
import type { SettingsArea } from '../settings/index.js';
import { ContactEdits } from './contact-edits.js';
import { Contacts } from './contacts.js';
import { IntakeStoring } from './intake-storing.js';
import { IntakeUndo } from './intake-undo.js';
import { Intakes } from './intakes.js';
import { ListChanges } from './list-changes.js';
import { Lists } from './lists.js';
import { Lookups } from './lookups.js';
import { Merges } from './merges.js';
import { PacedQuestions } from './paced-questions.js';
import { OwnFields } from './own-fields.js';
import { peopleRoutes } from './people-routes.js';
import { QuestionPayer } from './question-payer.js';
import { Removals } from './removals.js';
import { CONTACT_COUNTS } from './kept-counts-store.js';
import { nameContacts } from './object-names.js';
import { tellContacts } from './matters.js';
import { Textability } from './textability.js';
import { Unreached } from './unreached.js';
import { contactsRoutes } from './routes.js';

/** Whom a business knows, how they came in, and whether texts reach them. */
export async function contactsArea(p: Platform, router: Router, { businesses, aside }: SettingsArea) {
  const payer = new QuestionPayer(p, businesses);
  const textability = new Textability(p, businesses, payer);
  const contacts = new Contacts(p, businesses, textability);
  const lists = new Lists(p);
  const questions = new PacedQuestions(p, payer);
  const lookups = new Lookups(p, contacts, textability, questions, payer);
  const storing = new IntakeStoring(p, lists, contacts);
  await lookups.begin();
  const intakes = new Intakes(p, lists, new Documents(p.vault, p.clock), storing, new IntakeUndo(p, contacts, storing));
  const fields = new OwnFields(p);
  const edits = new ContactEdits(p, businesses, contacts, fields);
  const merges = new Merges(p, businesses);
  const removals = new Removals(p, contacts);
  removals.heldBy((w, _, e164s) => aside.holds(w, e164s));
  p.keptCounts.add(...CONTACT_COUNTS);
  nameContacts(p);
  tellContacts(p, contacts, intakes);
  contactsRoutes(router, p, contacts, lists, new ListChanges(p, contacts, lists), intakes, lookups);
  peopleRoutes(router, p, { fields, edits, merges, removals, unreached: new Unreached(p), textability, payer });
  return { contacts, lists, lookups, intakes, edits, fields, merges, removals, textability, questions, payer };
}
export type ContactsArea = Awaited<ReturnType<typeof contactsArea>>;
