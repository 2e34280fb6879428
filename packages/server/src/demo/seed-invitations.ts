import { hash } from 'node:crypto';
import { contactNumberTable, contactTable } from '../areas/contacts/model.js';
import { optInInvitationTable, personalLinkTable } from '../areas/consent/invitations/model.js';
import { mailRefusalTable } from '../areas/consent/letters/model.js';
import { keepLetter } from '../areas/consent/letters/letters.js';
import { optinPageTable } from '../areas/consent/pages/model.js';
import { idFrom } from '../platform/ids.js';
import { Seeded } from './random.js';
import { BUSINESSES, type DemoBusiness } from './scenario.data.js';
import type { Seeding } from './seed.js';

const DAY_MS = 86_400_000;
/** So many days ago it was sent: its links are still good. */
const SENT_DAYS_AGO = 19;
const PEOPLE = 24;

/** The ferries’ letter to passengers who have agreed to nothing yet, with what came of it so far. */
export async function seedInvitations({ w, start }: Seeding, b: DemoBusiness, made: { id: string }): Promise<void> {
  if (b.key !== BUSINESSES[0]?.key) return;
  const businessId = made.id;
  // Its own chances, so that what else happens in the demo stays as it is.
  const random = new Seeded('invitations');
  const page = await w.of(optinPageTable).findOne({ where: { businessId }, rejectOnEmpty: true });
  const id = idFrom('inv', businessId, 'spring');
  const sentAt = start - SENT_DAYS_AGO * DAY_MS;
  const letter = {
    subject: 'Sailing changes by text, if you like',
    text: `Hello [firstName|there],\n\nthe spring timetable is out, and in spring it changes with the weather. We can text you when it does; you decide, on a page of your own:\n\n[link]\n\nIf you want no texts, do nothing.\n\n${b.nameLine}`,
  };
  await w.of(optInInvitationTable).create({
    id,
    businessId,
    title: 'Spring timetable by text',
    pageId: page.id,
    ...letter,
    againDays: 90,
    createdBy: 'Maren Oakhurst',
    createdAt: sentAt - DAY_MS,
    lastSentAt: sentAt,
  });
  const nothing = { consentInformational: 'none', consentPromotional: 'none', consentConversational: 'none' };
  const numbers = await w.of(contactNumberTable).findAll({ where: { businessId, ...nothing }, order: ['e164'] });
  const people = new Map(
    (await w.of(contactTable).findAll({ where: { id: numbers.map((n) => n.contactId) } })).map(
      (c) => [c.id, c] as const,
    ),
  );
  const invited = numbers.filter((n) => (people.get(n.contactId)?.email ?? '') !== '').slice(0, PEOPLE);
  const words = await keepLetter(w, businessId, letter, sentAt);
  for (const [i, n] of invited.entries()) {
    const { email = '', firstName = '', lastName = '' } = people.get(n.contactId) ?? {};
    const cameBack = i % 11 === 5;
    await w.of(personalLinkTable).create({
      id: idFrom('lnk', id, n.contactId),
      businessId,
      invitationId: id,
      contactId: n.contactId,
      pageId: page.id,
      // Of nobody's token: these links lead nowhere, as their letters were never handed over.
      tokenHash: hash('sha256', `${id} ${n.contactId}`, 'hex'),
      email,
      e164: n.e164,
      sentBy: 'Maren Oakhurst',
      sentAt,
      expiresAt: sentAt + 30 * DAY_MS,
      ...{ words, firstName, lastName },
      openedAt: !cameBack && random.chance(0.4) ? sentAt + Math.round(random.next() * 4 * DAY_MS) : null,
      ...(cameBack ? { failed: 'came back', why: '550 5.1.1 No mailbox here by that name.' } : {}),
    });
    if (cameBack)
      await w.of(mailRefusalTable).create({
        businessId,
        emailHash: hash('sha256', email.toLowerCase(), 'hex'),
        why: 'came back',
        at: sentAt,
      });
  }
}
