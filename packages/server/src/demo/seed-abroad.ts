import { record, type Actor } from '../platform/audit.js';
import { idFrom } from '../platform/ids.js';
import { PEOPLE, SENDER_ID, type DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import type { Seeding } from './seed.js';

const ADMIN: Actor = { id: 'demo', name: PEOPLE[0].name };

/** A sender ID used in one country, asked for in another, and the country that was opened for it. */
export async function seedSenderId(s: Seeding, b: DemoBusiness, made: MadeBusiness): Promise<void> {
  if (b.key !== SENDER_ID.business) return;
  const { w } = s;
  const at = Math.round(s.start - SENDER_ID.daysAgo * 86_400_000);
  const id = idFrom('num', made.id, SENDER_ID.text);
  const story = (action: string, objectKind: string, objectId: string, after: unknown): Promise<void> =>
    record(w, { now: () => at }, { businessId: made.id, actor: ADMIN, action, objectKind, objectId, after });
  await w.run(
    `INSERT INTO number (id, business_id, e164, label, kind, capabilities, source, state, signature, countries, ordered_at, active_at) VALUES ($1,$2,$3,$4,'sender ID','["send"]','made here','active',$5,$6,$7,$7)`,
    [id, made.id, SENDER_ID.text, SENDER_ID.label, SENDER_ID.signature, SENDER_ID.free.join(','), at],
  );
  await story('sender ID made', 'number', id, { text: SENDER_ID.text, signature: SENDER_ID.signature });
  for (const code of SENDER_ID.open) {
    await w.run(`INSERT INTO country (business_id, code, state, attempt, changed_at) VALUES ($1,$2,'open',1,$3)`, [
      made.id,
      code,
      at,
    ]);
    await story('United Kingdom: open', 'country', code, { state: 'open' });
  }
  await w.run('UPDATE business SET open_countries = $2 WHERE id = $1', [made.id, [...SENDER_ID.open, 'US'].join(',')]);
  for (const code of [...SENDER_ID.free, ...SENDER_ID.asked]) {
    const free = (SENDER_ID.free as readonly string[]).includes(code);
    await w.run('INSERT INTO sender_country (number_id, code, state, attempt, changed_at) VALUES ($1,$2,$3,1,$4)', [
      id,
      code,
      free ? 'free' : 'in review',
      at,
    ]);
    // A real question: the registry of the simulated outside will answer it.
    if (!free)
      await s.app.platform.outbox.put(w, 'sender.register', `${id}:${code}:1`, {
        text: SENDER_ID.text,
        code,
        legalName: b.legalName,
        nameLine: b.nameLine,
      });
  }
}
