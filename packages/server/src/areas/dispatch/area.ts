import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import { erasedNumber, type ContactsArea } from '../contacts/index.js';
import type { NumbersArea } from '../numbers/index.js';
import type { RegistrationArea } from '../registration/index.js';
import type { SettingsArea } from '../settings/index.js';
import { DispatchCalendar } from './dispatch-calendar.js';
import { Drafts } from './drafts.js';
import { GatePreview } from './gate-preview.js';
import { HandOver } from './hand-over.js';
import { TEXT_COUNTS } from './kept-counts-store.js';
import { tellDispatch } from './matters.js';
import { eraseTexts, isLeaving } from './message-store.js';
import { nameDispatches } from './object-names.js';
import { PeopleBehind } from './people-behind.js';
import { Receipts } from './receipts.js';
import { dispatchRoutes } from './routes.js';
import { Scheduling } from './scheduling.js';
import { Sending } from './sending.js';
import { TextDays } from './text-days.js';
import { Texts } from './texts.js';
import { TextsAt } from './texts-at.js';

/** Texts: written, judged, sent, and what became of them. */
export function dispatchArea(
  p: Platform,
  router: Router,
  {
    businesses,
    contacts,
    removals,
    lists,
    lookups,
    textability,
    numbers,
    releases,
    portRunbook,
    registration,
  }: SettingsArea & RegistrationArea & ContactsArea & NumbersArea,
) {
  const texts = new Texts(p, businesses, numbers, contacts, lists);
  p.db.facts.on('contact.erased', async (w, { businessId, people }) => {
    for (const [e164, digest] of people) await eraseTexts(w, businessId, e164, erasedNumber(digest));
  });
  removals.heldBy(async (w, businessId, e164s) =>
    (await isLeaving(w, businessId, e164s)) ? 'A text to them is leaving this moment. Try again in a minute.' : '',
  );
  const handOver = new HandOver(p, businesses, numbers, contacts, texts, new Receipts(p, contacts, texts));
  new TextDays(p, businesses);
  const drafts = new Drafts(p);
  const preview = new GatePreview(p, businesses, numbers, texts, textability);
  const sending = new Sending(p, drafts, preview, contacts, lookups, texts);
  releases.usedBy((r, numberId) => drafts.using(r, numberId));
  portRunbook.askDelivered((r, businessId, numberId, since) => texts.deliveredSince(r, businessId, numberId, since));
  registration.askSent(async (r, businessId, limit) =>
    drafts.sentTexts(r, businessId, (await businesses.row(r, businessId)).name_line, limit),
  );
  p.keptCounts.add(...TEXT_COUNTS);
  nameDispatches(p);
  tellDispatch(p, drafts);
  const behind = new PeopleBehind(p, preview, lists, lookups);
  const scheduling = new Scheduling(p, businesses, drafts, preview, sending);
  const dispatchCalendar = new DispatchCalendar(p, businesses, drafts);
  dispatchRoutes(router, p, { contacts, drafts, preview, behind, sending, scheduling, dispatchCalendar });
  const textsAt = new TextsAt(businesses, numbers, texts, drafts, preview);
  return { texts, textsAt, handOver, drafts, preview, behind, sending, scheduling, dispatchCalendar };
}
export type DispatchArea = ReturnType<typeof dispatchArea>;
