import type { SimulatedPast } from '@long-gate/gateways';
import type { App } from '../app.js';
import { SYSTEM } from '../platform/audit.js';
import type { Writer } from '../platform/db.js';
import { hashPassword } from '../areas/settings/index.js';
import { Seeded } from './random.js';
import { ABROAD_CONTACTS, BUSINESSES, DEMO_START, PEOPLE } from './scenario.data.js';
import { seedBusiness } from './seed-business.js';
import { seedContacts } from './seed-contacts.js';
import { seedDispatches } from './seed-dispatches.js';
import { seedSenderId } from './seed-abroad.js';
import { foretellPortOut, seedHosted, seedPorts } from './seed-ports.js';
import { seedInbox } from './seed-inbox.js';

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
  if (await p.db.one(`SELECT 1 FROM setting WHERE name = 'demo.told'`)) return;
  await p.clock.moveTo(DEMO_START);
  const start = Math.floor(p.clock.now() / 60_000) * 60_000;
  if (!(await p.db.one(`SELECT 1 FROM setting WHERE name = 'demo.past'`))) {
    say('Writing the demo’s past…');
    const hashes = await Promise.all(PEOPLE.map((x) => hashPassword(`quillmere-${x.role}`)));
    await p.db.write(async (w) => {
      const s: Seeding = {
        app,
        w,
        random: new Seeded('quillmere'),
        start,
        past: { sold: [], assigned: [], lines: [], handset: [], records: [], portOuts: [] },
      };
      const users: string[] = [];
      for (const [i, person] of PEOPLE.entries()) {
        const id = await app.people.add(w, { name: person.name, email: person.email, passwordHash: hashes[i] ?? '' });
        await w.run('UPDATE "user" SET mobile = $2 WHERE id = $1', [id, person.mobile]);
        if (person.mobile)
          s.past.lines.push({ e164: person.mobile, lineType: 'mobile', carrier: 'Tessary Wireless', reachable: true });
        users.push(id);
      }
      for (const b of BUSINESSES) {
        const made = await seedBusiness(s, b);
        for (const [i, person] of PEOPLE.entries())
          await app.people.give(w, SYSTEM, users[i] ?? '', made.id, person.role);
        // They have been here as long as the business has.
        await w.run(
          `UPDATE membership SET administrator_since = (SELECT created_at FROM business WHERE id = $1) WHERE business_id = $1 AND role = 'administrator'`,
          [made.id],
        );
        await seedPorts(s, b, made);
        await seedHosted(s, b, made);
        foretellPortOut(s, b);
        const contacts = await seedContacts(s, b, made);
        // What was sent so far went to people at home.
        await seedDispatches(
          s,
          b,
          made,
          contacts.filter((c) => !(ABROAD_CONTACTS as readonly string[]).includes(c.e164)),
        );
        await seedSenderId(s, b, made);
        await seedInbox(s, b, made, contacts);
        await runBalance(w, made.id);
        await w.run(
          'UPDATE number SET last_used_at = (SELECT max(sent_at) FROM message m WHERE m.business_id = number.business_id AND m.number_id = number.id) WHERE business_id = $1',
          [made.id],
        );
        await w.run(
          `UPDATE optin_page SET opt_ins = (SELECT count(*) FROM consent_event e WHERE e.business_id = $1 AND e.kind = 'granted' AND e.how = 'web page' AND e.evidence->>'page' = optin_page.slug) WHERE business_id = $1`,
          [made.id],
        );
      }
      await w.run(`INSERT INTO setting (name, value) VALUES ('demo.past', $1)`, [JSON.stringify(s.past)]);
    });
  }
  // The outside is told in a step of its own, which may be repeated after a crash.
  const kept = await p.db.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'demo.past'`);
  if (kept && p.gateways.simulation) await p.gateways.simulation.remember(JSON.parse(kept.value) as SimulatedPast);
  await p.db.write(async (w) => {
    await w.run(`INSERT INTO setting (name, value) VALUES ('demo.told', '1')`);
    await w.run(`UPDATE setting SET value = '{}' WHERE name = 'demo.past'`);
  });
}

/** The parts write their entries in the order of their stories; the balance behind each follows the order of time. */
async function runBalance(w: Writer, businessId: string): Promise<void> {
  await w.run(
    `UPDATE money_entry SET balance_after = r.running FROM (SELECT id, sum(amount) OVER (ORDER BY at, n) AS running FROM money_entry WHERE business_id = $1) AS r
     WHERE money_entry.id = r.id AND money_entry.business_id = $1`,
    [businessId],
  );
}
