import { formatPhone } from '@long-gate/core';
import { consentStateTable } from '../areas/consent/model.js';
import { evidencePackTable, evidenceRequestTable } from '../areas/consent/evidence/model.js';
import type { App } from '../app.js';
import { idFrom } from '../platform/ids.js';
import { firstDesk } from './first-desk.js';
import { DEMO_START, PEOPLE } from './scenario.data.js';

const DAY = 86_400_000;
const [ADMINISTRATOR, , VIEWER] = PEOPLE;

/**
 * A carrier asks the first business for proof about some numbers of all kinds, to be answered in some days; a lawyer was
 * answered weeks ago. The pack of the first is made as it would be by a person, once everything else stands.
 */
export async function seedEvidence(app: App): Promise<void> {
  const { platform: p } = app;
  const desk = await firstDesk(app);
  if (!desk) return;
  const { businessId, administrator } = desk;
  const pick = async (promotional: string, n: number): Promise<string[]> =>
    (await p.db.of(consentStateTable).findAll({ where: { businessId, promotional }, order: ['e164'], limit: n })).map(
      (x) => x.e164,
    );
  const asked = [
    ...(await pick('granted', 3)),
    ...(await pick('revoked', 2)),
    ...(await pick('unproven', 1)),
    ...(await pick('voided', 1)),
  ];
  const [one] = await pick('granted', 1);
  await p.db.write(async (w) => {
    const id = idFrom('evr', businessId, 'a lawyer');
    if (!one || (await w.of(evidenceRequestTable).findByPk(id))) return;
    const at = DEMO_START - 47 * DAY;
    await w.of(evidenceRequestTable).create({
      id,
      businessId,
      asker: 'lawyer',
      who: 'Pellworm & Quaife',
      reference: 'their letter of 21 January',
      question: 'Did this person agree to fare offers by text?',
      dueOn: '2027-02-01',
      numbers: [one],
      askedAt: at,
      askedBy: VIEWER.name,
      answeredAt: at + 3_600_000,
      answeredBy: ADMINISTRATOR.name,
      answer: 'By registered mail on a stick, with the fingerprint told by telephone.',
    });
    await w.of(evidencePackTable).create({
      id: idFrom('evp', id, 'first'),
      businessId,
      requestId: id,
      jobId: '',
      state: 'gone',
      madeAt: at,
      madeBy: VIEWER.name,
      keptUntil: at + 30 * DAY,
    });
  });
  await app.evidence.ask(
    administrator,
    businessId,
    {
      asker: 'carrier',
      who: 'Tessary Wireless',
      reference: 'TW-2207',
      question: 'Proof of opt-in for these numbers, from a complaint about fare offers',
      dueOn: '2027-03-16',
      numbers: asked.map(formatPhone).join('\n'),
    },
    'demo-evidence',
  );
}
