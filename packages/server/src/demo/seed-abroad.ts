import { countryTable, senderCountryTable } from '../areas/numbers/abroad/model.js';
import { numberTable } from '../areas/numbers/model.js';
import { businessTable } from '../areas/settings/model.js';
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
  await w.of(numberTable).create({
    id,
    businessId: made.id,
    e164: SENDER_ID.text,
    label: SENDER_ID.label,
    kind: 'sender ID',
    capabilities: ['send'],
    source: 'made here',
    state: 'active',
    signature: SENDER_ID.signature,
    countries: SENDER_ID.free.join(','),
    orderedAt: at,
    activeAt: at,
  });
  await story('sender ID made', 'number', id, { text: SENDER_ID.text, signature: SENDER_ID.signature });
  for (const code of SENDER_ID.open) {
    await w.of(countryTable).create({ businessId: made.id, code, state: 'open', attempt: 1, changedAt: at });
    await story('United Kingdom: open', 'country', code, { state: 'open' });
  }
  const openCountries = [...SENDER_ID.open, 'US'].join(',');
  await w.of(businessTable).update({ openCountries }, { where: { id: made.id } });
  for (const code of [...SENDER_ID.free, ...SENDER_ID.asked]) {
    const free = (SENDER_ID.free as readonly string[]).includes(code);
    await w
      .of(senderCountryTable)
      .create({ numberId: id, code, state: free ? 'free' : 'in review', attempt: 1, changedAt: at });
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
