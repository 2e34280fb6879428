import { optinPageTable } from '../areas/consent/pages/model.js';
import type { App } from '../app.js';
import { firstDesk, type Desk } from './first-desk.js';

/**
 * The first business's consent ends where nobody was in contact for eight months. Nothing older than that is in its past,
 * so that those who end next were last in contact by their YES of summer. It is kept as a person keeps it, once.
 */
export async function seedExpiry(app: App): Promise<void> {
  const desk = await firstDesk(app);
  if (!desk) return;
  const { businessId, administrator } = desk;
  const { on, version } = await app.expiry.read(businessId);
  if (on) return;
  const invitationId = await letterOf(app, desk);
  await app.expiry.save(administrator, businessId, version, {
    on: true,
    months: 8,
    counts: 'either way',
    purposes: ['informational', 'promotional'],
    askDays: 30,
    invitationId,
  });
}

/** The letter that asks them; one that a start before left behind when it was cut off is taken again. */
async function letterOf(app: App, { businessId, administrator }: Desk): Promise<string> {
  const title = 'Still on board?';
  const there = (await app.optInInvitations.list(businessId)).find((x) => x.title === title);
  if (there) return there.id;
  const page = await app.platform.db.of(optinPageTable).findOne({ where: { businessId }, rejectOnEmpty: true });
  const { id } = await app.optInInvitations.add(administrator, businessId, {
    title,
    pageId: page.id,
    subject: 'Do you still want texts about your sailings?',
    text: 'Hello [firstName|there],\n\nyou asked us for texts, and it has been quiet between us since. If you still want them, say so on a page of your own; if not, you can leave there:\n\n[link]\n\nIf you do nothing, we send you none after next month.\n\nSaltmarsh Ferries',
    againDays: 90,
    standing: null,
  });
  return id;
}
