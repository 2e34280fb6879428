import { createHash } from 'node:crypto';
import {
  addDays,
  DEFAULT_PRICES,
  formatPhone,
  nextMonthly,
  PORT_ACKNOWLEDGEMENTS,
  type PortFacts,
} from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../platform/audit.js';
import type { Writer } from '../platform/db.js';
import { idFrom } from '../platform/ids.js';
import { documentTable } from '../platform/model.js';
import { hostedTable } from '../areas/numbers/hosted/model.js';
import type { KeptLetter } from '../areas/numbers/letters/letter-shape.js';
import { numberTable } from '../areas/numbers/model.js';
import { portNumberTable, portTable } from '../areas/numbers/porting/model.js';
import { businessTable, moneyEntryTable } from '../areas/settings/model.js';
import {
  letterPdf,
  portDay,
  portParagraphs,
  storedFacts,
  submittedShape,
  portById,
  unsealed,
} from '../areas/numbers/index.js';
import { HOSTED, PEOPLE, PORTS, type DemoBusiness } from './scenario.data.js';
import { monthlyDays, ZONE } from './months.js';
import type { MadeBusiness } from './seed-business.js';
import type { Seeding } from './seed.js';

const DAY = 86_400_000;
const ADMIN: Actor = { id: 'demo', name: PEOPLE[0].name };
const WRONG_NAME = {
  field: 'holderName',
  code: 'record-holderName',
  message: 'Does not match our record. “pier” is not in the record.',
};
const WRONG_PIN = { field: 'pin', code: 'wrong-pin', message: 'The PIN does not match.' };

/** The port desk as months of work left it; the losing carriers' records are told to the outside. */
export async function seedPorts(s: Seeding, b: DemoBusiness, made: MadeBusiness): Promise<void> {
  const { w, start } = s;
  const vault = s.app.platform.vault;
  const legalName = b.legalName;
  for (const d of PORTS.filter((x) => x.business === b.key)) {
    const id = idFrom('prt', made.id, d.key);
    const at = (daysAgo: number): { now: () => number } => ({ now: () => Math.round(start - daysAgo * DAY) });
    const story = (daysAgo: number, actor: Actor, action: string, before?: unknown, after?: unknown): Promise<void> =>
      record(w, at(daysAgo), { businessId: made.id, actor, action, objectKind: 'port', objectId: id, before, after });
    const first = d.numbers[0] ?? '';
    const facts: PortFacts = {
      ...d.facts,
      pinExpires: '',
      holderKind: 'business',
      state: 'NJ',
      billingNumber: d.kind === 'landline' ? first : '',
      linesStay: false,
      newBillingNumber: '',
      responsibleOrganisation: '',
      oldServiceEnds: '',
    };
    const stored = storedFacts(vault, facts);
    const submitted = d.state !== 'draft';
    const attempt = d.state === 'done' ? 2 : d.state === 'rejected' ? 1 : 0;
    const monthly = d.numbers.length * DEFAULT_PRICES.localMonthly;
    const landedDaysAgo = d.daysAgo - 17;
    const focAt = d.state === 'done' ? at(landedDaysAgo + 0.1).now() : null;
    const signedOn = portDay(at(d.daysAgo + 1).now());
    let letter: KeptLetter | null = null;
    if (submitted) {
      const pdf = await letterPdf(
        {
          subtitle: 'to port telephone numbers',
          paragraphs: portParagraphs({ business: legalName, carrier: d.carrier, holderName: facts.holderName }),
          business: legalName,
          holderName: facts.holderName,
          authorisedName: facts.authorisedName,
          address: `${facts.street}, ${facts.city}, NJ ${facts.postalCode}`,
          carrier: d.carrier,
          numbers: d.numbers,
          day: signedOn,
        },
        { name: facts.authorisedName, day: signedOn, drawn: null, ip: '192.0.2.41' },
      );
      const documentId = idFrom('doc', id, 'letter');
      await w.of(documentTable).create({
        id: documentId,
        businessId: made.id,
        objectKind: 'port',
        objectId: id,
        what: 'letter',
        name: `letter-of-authorisation-${signedOn}.pdf`,
        type: 'application/pdf',
        size: pdf.length,
        sha256: createHash('sha256').update(pdf).digest('hex'),
        body: vault.sealBytes(pdf),
        uploadedBy: facts.authorisedName,
        at: at(d.daysAgo + 1).now(),
      });
      letter = {
        how: 'signed',
        signedBy: facts.authorisedName,
        signedOn,
        signedAt: at(d.daysAgo + 1).now(),
        ip: '192.0.2.41',
        userAgent: '',
        documentId,
        holderName: facts.holderName,
        numbers: [...d.numbers],
      };
    }
    const done = d.state === 'done';
    await w.of(portTable).create({
      id,
      businessId: made.id,
      state: d.state,
      losingCarrier: d.carrier,
      facts: stored.facts,
      secrets: stored.secrets,
      acknowledged: submitted ? PORT_ACKNOWLEDGEMENTS.map((a) => a.key).sort() : [],
      letter,
      billDated: submitted && d.kind === 'landline' ? addDays(signedOn, -8) : '',
      attempt,
      reasons: d.state === 'rejected' ? [WRONG_PIN] : [],
      focAt,
      runbook: done
        ? {
            'text-in': at(landedDaysAgo - 0.1).now(),
            'text-out': at(landedDaysAgo - 0.1).now(),
            call: at(landedDaysAgo - 0.2).now(),
          }
        : {},
      charged: submitted ? monthly : 0,
      begunAt: at(d.daysAgo + 2).now(),
      submittedAt: submitted ? at(done ? d.daysAgo - 4 : d.daysAgo).now() : null,
      answeredAt: done ? at(d.daysAgo - 7).now() : d.state === 'rejected' ? at(d.daysAgo - 0.3).now() : null,
      completedAt: done ? at(landedDaysAgo).now() : null,
    });
    for (const e164 of d.numbers)
      await w.of(portNumberTable).create({
        portId: id,
        e164,
        kind: d.kind,
        losingCarrier: d.carrier,
        portable: true,
        label: d.label,
        campaignId: d.campaign && (submitted || e164 === first) ? (made.campaigns.get(d.campaign) ?? null) : null,
        numberId: done ? idFrom('num', id, e164) : null,
        open: !done,
      });
    if (submitted) {
      const row = await portById(w, id);
      if (!row) throw new Error(`the request ${id} was not kept`);
      const port = unsealed(vault, row);
      await row.update({ lastSubmitted: submittedShape(port), lastSecrets: stored.secrets });
      await pay(w, made.id, {
        id: idFrom('mon', id, 'first'),
        at: at(d.daysAgo).now(),
        amount: monthly,
        what: `port-in: first month of ${formatPhone(first)}`,
        objectKind: 'port',
        objectId: id,
      });
    }
    await story(d.daysAgo + 2, ADMIN, 'port request begun', undefined, {
      losingCarrier: d.carrier,
      numbers: d.numbers,
    });
    if (submitted) {
      await story(
        d.daysAgo + 1,
        { id: 'contact', name: `${facts.authorisedName} (account holder)` },
        'letter of authorisation signed',
        undefined,
        { signedOn },
      );
      await story(d.daysAgo, ADMIN, 'port request submitted', { state: 'draft' }, { state: 'submitted' });
      await story(
        d.daysAgo - 0.3,
        SYSTEM,
        'rejected by the losing carrier',
        { state: 'submitted' },
        { state: 'rejected', reasons: [d.state === 'done' ? WRONG_NAME : WRONG_PIN] },
      );
    }
    if (d.state === 'done') {
      await story(
        d.daysAgo - 3.9,
        ADMIN,
        'port request edited',
        { holderName: 'Saltmarsh Pier Ferries LLC' },
        { holderName: facts.holderName },
      );
      await story(d.daysAgo - 4, ADMIN, 'port request resubmitted', { state: 'rejected' }, { state: 'submitted' });
      await story(
        d.daysAgo - 7,
        SYSTEM,
        `accepted, FOC date ${portDay(focAt ?? 0)}`,
        { state: 'submitted' },
        { state: 'accepted' },
      );
      await story(landedDaysAgo, SYSTEM, 'numbers landed', { state: 'cutting over' }, { state: 'done' });
      await landedNumber(s, made, id, d, at(landedDaysAgo).now());
    }
    for (const e164 of [...d.numbers, ...d.record.others])
      s.past.lines.push({
        e164,
        lineType: d.kind === 'wireless' ? 'mobile' : 'landline',
        carrier: d.carrier,
        reachable: true,
      });
    s.past.records.push({
      carrier: d.carrier,
      pin: d.record.pin,
      answersRecords: d.record.answers,
      accountNumber: d.record.accountNumber,
      holderName: d.record.holderName,
      tradingAs: b.nameLine === d.facts.holderName ? b.nameLine : '',
      street: d.record.street,
      unit: d.record.unit,
      city: d.facts.city.toUpperCase(),
      state: 'NJ',
      postalCode: d.facts.postalCode,
      billingNumber: d.kind === 'landline' ? first : '',
      numbers: [...d.numbers, ...d.record.others].map((e164) => ({ e164, active: true })),
      authorisedNames: [],
      freeze: false,
      pendingOrder: '',
    });
  }
}

/** Somebody will try to take a number away two days into the demo. */
export function foretellPortOut(s: Seeding, b: DemoBusiness): void {
  if (b.key === 'saltmarsh')
    s.past.portOuts.push({
      key: 'port-out-demo',
      e164: '+12015550117',
      carrier: 'Cobalt Ridge Cellular',
      at: Math.round(s.start + 2 * DAY),
    });
}

/** The landline whose texting is being set up: begun, with letter and call still to come. */
export async function seedHosted(s: Seeding, b: DemoBusiness, made: MadeBusiness): Promise<void> {
  if (b.key !== HOSTED.business) return;
  const id = idFrom('hst', made.id, HOSTED.e164);
  const at = Math.round(s.start - HOSTED.daysAgo * DAY);
  await s.w.of(hostedTable).create({
    id,
    businessId: made.id,
    e164: HOSTED.e164,
    kind: 'landline',
    voiceCarrier: HOSTED.carrier,
    holderName: b.legalName,
    authorisedName: b.contactName,
    street: b.street,
    city: b.city,
    stateCode: 'NJ',
    postalCode: b.postalCode,
    label: HOSTED.label,
    campaignId: made.campaigns.get(HOSTED.campaign) ?? null,
    begunAt: at,
  });
  await record(
    s.w,
    { now: () => at },
    {
      businessId: made.id,
      actor: ADMIN,
      action: 'text-enabling begun',
      objectKind: 'hosted',
      objectId: id,
      after: { e164: HOSTED.e164 },
    },
  );
  s.past.lines.push({ e164: HOSTED.e164, lineType: 'landline', carrier: HOSTED.carrier, reachable: true });
}

interface Paid {
  id: string;
  at: number;
  amount: number;
  what: string;
  objectKind: string;
  objectId: string;
}
/** Books what was paid at some past moment. */
async function pay(w: Writer, businessId: string, paid: Paid): Promise<void> {
  await w.of(moneyEntryTable).create({ ...paid, businessId, partOf: paid.id, amount: -paid.amount });
  await w.of(businessTable).increment({ balance: -paid.amount }, { where: { id: businessId } });
}

/** The number of a port that has landed, in the inventory since, with its monthly fees. */
async function landedNumber(
  s: Seeding,
  made: MadeBusiness,
  portId: string,
  d: (typeof PORTS)[number],
  landedAt: number,
): Promise<void> {
  const { w, start } = s;
  for (const e164 of d.numbers) {
    const id = idFrom('num', portId, e164);
    const campaignId = d.campaign ? (made.campaigns.get(d.campaign) ?? null) : null;
    const paid = monthlyDays(landedAt, start);
    const next = nextMonthly(landedAt, start, ZONE);
    await w.of(numberTable).create({
      id,
      businessId: made.id,
      e164,
      label: d.label,
      capabilities: ['send', 'receive', 'pictures', 'voice'],
      source: 'ported',
      state: 'active',
      monthly: DEFAULT_PRICES.localMonthly,
      campaignId,
      tieState: campaignId ? 'attached' : 'none',
      orderedAt: landedAt,
      activeAt: landedAt,
      nextFeeAt: next,
    });
    await s.app.fees.begin(w, { kind: 'number', businessId: made.id, id, at: next });
    for (const [m, due] of paid.entries())
      await pay(w, made.id, {
        id: idFrom('mon', id, String(m + 1)),
        at: due,
        amount: DEFAULT_PRICES.localMonthly,
        what: `number ${formatPhone(e164)}: monthly fee`,
        objectKind: 'number',
        objectId: id,
      });
    await record(
      w,
      { now: () => landedAt },
      {
        businessId: made.id,
        actor: SYSTEM,
        action: 'number landed, registration filed',
        objectKind: 'number',
        objectId: id,
        after: { state: 'active', source: 'ported' },
      },
    );
    if (campaignId)
      await record(
        w,
        { now: () => landedAt + 1_500_000 },
        {
          businessId: made.id,
          actor: SYSTEM,
          action: 'cleared to send',
          objectKind: 'number',
          objectId: id,
          before: { tieState: 'attaching' },
          after: { tieState: 'attached' },
        },
      );
    s.past.sold.push({ e164, key: id });
    if (campaignId) s.past.assigned.push({ e164, campaignKey: `${campaignId}:1` });
  }
}
