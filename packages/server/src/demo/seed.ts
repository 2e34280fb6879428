import type { SimulatedPast } from '@long-gate/gateways';
import type { App } from '../app.js';
import { inOrderOfTime, SYSTEM } from '../platform/audit.js';
import type { Reader, Writer } from '../platform/db.js';
import { settingTable, stoodTable } from '../platform/model.js';
import { consentEventTable } from '../areas/consent/model.js';
import { optinPageTable, pageVersionCountTable, pageVisitTable, pageWeekTable } from '../areas/consent/pages/model.js';
import { weekOf } from '../areas/consent/pages/page-store.js';
import { messageTable, type MessageModel } from '../areas/dispatch/model.js';
import { cutTextDays } from '../areas/dispatch/index.js';
import { numberTable } from '../areas/numbers/model.js';
import { hashPassword } from '../areas/settings/index.js';
import { businessTable } from '../areas/settings/model.js';
import { membershipTable, userTable } from '../areas/settings/people/model.js';
import { Seeded } from './random.js';
import { ABROAD_CONTACTS, BUSINESSES, DEMO_START, PEOPLE } from './scenario.data.js';
import { seedBusiness } from './seed-business.js';
import { seedContacts } from './seed-contacts.js';
import { scheduleRota, seedDispatches } from './seed-dispatches.js';
import { seedEvidence } from './seed-evidence.js';
import { seedExpiry } from './seed-expiry.js';
import { seedFiledForm } from './seed-filed-form.js';
import { seedInvitations } from './seed-invitations.js';
import { seedKeywords } from './seed-keywords.js';
import { seedOptOuts } from './seed-opt-outs.js';
import { seedSuppression } from './seed-suppression.js';
import { seedTextLinks } from './seed-text-links.js';
import { seedSenderId } from './seed-abroad.js';
import { seedPeople } from './seed-people.js';
import { seedReassigned } from './seed-reassigned.js';
import { foretellPortOut, seedHosted, seedPorts } from './seed-ports.js';
import { seedInbox } from './seed-inbox.js';

/** More than there are. */
const EVERY_TEXT = 1_000_000;

/** What the parts of the seed share. */
export interface Seeding {
  app: App;
  w: Writer;
  random: Seeded;
  /** The moment at which the demo begins. */
  start: number;
  past: SimulatedPast;
}

/**
 * Fills an empty database with the demo's three businesses and months of their history, the same at every start.
 * All in one transaction: either the whole past is there, or none of it. A seeded database is left as it is.
 */
export async function seedDemo(app: App, say: (line: string) => void): Promise<void> {
  const { platform: p } = app;
  if (await kept(p.db, 'demo.told')) return;
  await p.clock.moveTo(DEMO_START);
  const start = Math.floor(p.clock.now() / 60_000) * 60_000;
  if (!(await kept(p.db, 'demo.past'))) {
    say('Writing the demo’s past…');
    const hashes = await Promise.all(PEOPLE.map((x) => hashPassword(`quillmere-${x.role}`)));
    await p.db.write(async (w) => {
      const s: Seeding = {
        app,
        w,
        random: new Seeded('quillmere'),
        start,
        past: { sold: [], assigned: [], lines: [], handset: [], records: [], portOuts: [], givenUp: [], scores: [] },
      };
      const users: string[] = [];
      for (const [i, person] of PEOPLE.entries()) {
        const id = await app.people.add(w, { name: person.name, email: person.email, passwordHash: hashes[i] ?? '' });
        await w.of(userTable).update({ mobile: person.mobile }, { where: { id } });
        if (person.mobile)
          s.past.lines.push({ e164: person.mobile, lineType: 'mobile', carrier: 'Tessary Wireless', reachable: true });
        users.push(id);
      }
      await inOrderOfTime(w, async () => {
        for (const b of BUSINESSES) {
          const made = await seedBusiness(s, b);
          for (const [i, person] of PEOPLE.entries())
            await app.people.give(w, SYSTEM, users[i] ?? '', made.id, person.role);
          // They have been here as long as the business has, and so has its registration.
          const business = await w.of(businessTable).findByPk(made.id, { rejectOnEmpty: true });
          await w
            .of(membershipTable)
            .update(
              { administratorSince: business.createdAt },
              { where: { businessId: made.id, role: 'administrator' } },
            );
          await w
            .of(stoodTable)
            .update(
              { fromAt: business.createdAt },
              { where: { businessId: made.id, objectKind: 'brand', toAt: null } },
            );
          await seedPorts(s, b, made);
          await seedHosted(s, b, made);
          foretellPortOut(s, b);
          const contacts = await seedContacts(s, b, made);
          await seedKeywords(s, b, made);
          await seedInvitations(s, b, made);
          await seedReassigned(s, b, made, contacts);
          // What was sent so far went to people at home.
          await seedDispatches(
            s,
            b,
            made,
            contacts.filter((c) => !(ABROAD_CONTACTS as readonly string[]).includes(c.e164)),
          );
          await seedSenderId(s, b, made);
          await seedInbox(s, b, made, contacts);
          await seedPeople(s, b, made, contacts);
          await countUse(w, made.id);
          await cutTextDays(w, made.id, business.timeZone, { after: '', cut: 0 }, EVERY_TEXT);
        }
      });
      await w.of(settingTable).create({ name: 'demo.past', value: JSON.stringify(s.past) });
    });
  }
  // The outside is told in a step of its own, which may be repeated after a crash.
  const past = await kept(p.db, 'demo.past');
  if (past && p.gateways.simulation) await p.gateways.simulation.remember(JSON.parse(past) as SimulatedPast);
  await scheduleRota(app);
  await seedSuppression(app);
  await seedOptOuts(app);
  await seedFiledForm(app);
  await seedExpiry(app);
  await seedTextLinks(app);
  await seedEvidence(app);
  await p.db.write(async (w) => {
    await w.of(settingTable).create({ name: 'demo.told', value: '1' });
    await w.of(settingTable).update({ value: '{}' }, { where: { name: 'demo.past' } });
  });
}

async function kept(r: Reader, name: string): Promise<string | undefined> {
  return (await r.of(settingTable).findByPk(name))?.value;
}

/** When each number was used last, and how many agreed on the page. */
async function countUse(w: Writer, businessId: string): Promise<void> {
  for (const number of await w.of(numberTable).findAll({ where: { businessId } })) {
    const last = await w.of(messageTable).max<number | null, MessageModel>('sentAt', {
      where: { businessId, numberId: number.id },
    });
    await number.update({ lastUsedAt: last });
  }
  const events = await w.of(consentEventTable).findAll({
    where: { businessId, kind: ['granted', 'confirmed'], how: ['web page', 'reply'] },
    order: ['seq'],
  });
  for (const page of await w.of(optinPageTable).findAll({ where: { businessId } })) {
    const weeks = new Map<number, { agreed: number; confirmed: number }>();
    /** The week in which each person agreed last to each kind of text. */
    const agreedIn = new Map<string, number>();
    const count = (week: number, what: 'agreed' | 'confirmed'): void => {
      const of = weeks.get(week) ?? { agreed: 0, confirmed: 0 };
      weeks.set(week, { ...of, [what]: of[what] + 1 });
    };
    for (const e of events)
      for (const purpose of e.purposes.split(',')) {
        const key = `${e.e164} ${purpose}`;
        const week = weekOf(e.recordedAt);
        const before = agreedIn.get(key);
        if (e.kind === 'confirmed' && before !== undefined) count(before, 'confirmed');
        if (e.kind === 'confirmed' || (JSON.parse(e.evidence) as { page?: string }).page !== page.slug) continue;
        agreedIn.set(key, week);
        count(week, 'agreed');
        if (!e.awaitsConfirmation) count(week, 'confirmed');
      }
    const all = (what: 'agreed' | 'confirmed'): number => [...weeks.values()].reduce((n, x) => n + x[what], 0);
    await page.update({ optIns: all('agreed') });
    await w.of(pageWeekTable).bulkCreate([...weeks].map(([week, of]) => ({ pageId: page.id, week, ...of })));
    const version = { pageId: page.id, pageVersion: page.pageVersion };
    await w.of(pageVersionCountTable).create({ ...version, agreed: all('agreed'), confirmed: all('confirmed') });
    // Of those who see a page most go on their way; some begin and stop at the number.
    await w.of(pageVisitTable).bulkCreate(
      [...weeks].map(([week, { agreed }]) => ({
        ...version,
        week,
        seen: Math.round(agreed * 2.6) + 9 + (week % 5),
        begun: Math.round(agreed * 1.2) + 2 + (week % 3),
      })),
    );
  }
}
