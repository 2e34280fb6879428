import { optinPageTable } from '../areas/consent/pages/model.js';
import { contactListTable } from '../areas/contacts/model.js';
import { numberTable } from '../areas/numbers/model.js';
import type { App } from '../app.js';
import { firstDesk } from './first-desk.js';
import { BUSINESSES, PEOPLE, TEXT_LINKS } from './scenario.data.js';

/** Where the first business's links in texts stand, kept as a person keeps it, and a draft that carries one. Once. */
export async function seedTextLinks(app: App): Promise<void> {
  const desk = await firstDesk(app);
  if (!desk) return;
  const { businessId, administrator } = desk;
  const { version } = await app.textLinks.read(businessId);
  if (version > 0) return;
  const { db } = app.platform;
  const one = { where: { businessId }, rejectOnEmpty: true } as const;
  const list = await db.of(contactListTable).findOne({ ...one, where: { businessId, name: TEXT_LINKS.list } });
  const number = await db.of(numberTable).findOne({ ...one, where: { businessId, e164: TEXT_LINKS.number } });
  const page = await db.of(optinPageTable).findOne({ ...one, order: ['createdAt'] });
  const person = { ...administrator, email: PEOPLE[0].email, roles: { [businessId]: 'administrator' as const } };
  await app.drafts.add(person, businessId, {
    title: TEXT_LINKS.title,
    text: TEXT_LINKS.text,
    purpose: 'informational',
    transactional: false,
    stopLine: true,
    numberId: number.id,
    audience: { include: [list.id], exclude: [] },
    override: '',
    category: '',
    effort: '',
  });
  const domain = `texts.${BUSINESSES[0]?.domain ?? ''}`;
  await app.textLinks.save(administrator, businessId, version, { domain, pageId: page.id });
}
