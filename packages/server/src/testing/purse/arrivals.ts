import { randomUUID } from 'node:crypto';
import { PORT_ACKNOWLEDGEMENTS } from '@long-gate/core';
import { portDay } from '../../areas/numbers/porting/index.js';
import { Problem } from '../../platform/problem.js';
import type { Purse } from './purse.js';

const DAY = 86_400_000;
const ADDRESS = { authorisedName: 'Odette Farrow', street: '9 Mill Street', city: 'Quillmere', postalCode: '07030' };
const SIGNED = { name: 'Odette Farrow', drawn: '', ip: '192.0.2.7', userAgent: 'spec' };

/** A landline that is with another carrier so far. */
const line = (p: Purse): string => `+1609555${String(100 + (p.next() % 100)).padStart(4, '0')}`;

const portsOf = ({ o }: Purse): ReturnType<typeof o.app.ports.list> => o.app.ports.list(o.business, true);
/** The first port request in a state. @throws Problem where there is none. */
async function port(p: Purse, ...states: string[]): Promise<{ id: string; key: string; numbers: string[] }> {
  const found = (await portsOf(p)).find((x) => states.includes(x.state));
  if (!found) throw new Problem(404, 'not-found', 'No port is so.');
  return { id: found.id, key: `${found.id}:${found.attempt}`, numbers: found.numbers.map((n) => n.e164) };
}
async function hosted(p: Purse, ...states: string[]): Promise<{ id: string; key: string }> {
  const found = (await p.lines()).find((x) => states.includes(x.state));
  if (!found) throw new Problem(404, 'not-found', 'No line is so.');
  return { id: found.id, key: `${found.id}:${found.attempt}` };
}

async function signAndSubmit({ o }: Purse, id: string): Promise<void> {
  const { app, admin, business } = o;
  const link = await app.portPapers.makeLink(admin, business, id);
  await app.signing.sign(link.path.slice(6), SIGNED);
  await app.portFollowing.submit(admin, business, id, randomUUID(), null, true);
}

async function askFor(p: Purse): Promise<void> {
  const { app, admin, business, now } = p.o;
  const [id = ''] = (await app.ports.begin(admin, business, line(p), randomUUID())).ids;
  if (id === '') throw new Problem(422, 'refused', 'It is on its way already.');
  const { facts, version, numbers } = await app.ports.get(business, id, true);
  const billingNumber = numbers[0]?.e164 ?? '';
  await app.ports.save(admin, business, id, version, {
    facts: { ...facts, ...ADDRESS, state: 'NJ', accountNumber: '0040712', billingNumber },
    acknowledged: PORT_ACKNOWLEDGEMENTS.map((a) => a.key),
    billDated: '',
  });
  const paper = { what: 'bill' as const, name: 'bill.pdf', bytes: Buffer.from('%PDF-1.4 a bill') };
  await app.portPapers.upload(admin, business, id, { ...paper, dated: portDay(now), signedBy: '' });
  await signAndSubmit(p, id);
}

async function setUp(p: Purse): Promise<void> {
  const { app, admin, business, campaign } = p.o;
  const { id, version, facts } = await app.hosted.begin(admin, business, line(p), randomUUID());
  const edit = { ...facts, ...ADDRESS, state: 'NJ', campaignId: campaign };
  await app.hosted.save(admin, business, id, version, edit);
  const link = await app.hosted.makeLink(admin, business, id);
  await app.signing.sign(link.path.slice(6), SIGNED);
  await app.hosted.call(admin, business, id, randomUUID());
  await app.hosted.confirm(admin, business, id, '481516');
  await app.hosted.submit(admin, business, id, randomUUID());
}

/** How numbers come that are with somebody else, and how they go. */
export const ARRIVALS: Readonly<Record<string, (p: Purse) => Promise<unknown>>> = {
  'a number is to be ported in': askFor,
  'a port is rejected': async (p) =>
    p.o.hear({ kind: 'port.rejected', key: (await port(p, 'submitted')).key, reasons: [] }),
  'a rejected port goes again with a number more': async (p) => {
    const { id } = await port(p, 'rejected');
    await p.o.app.ports.changeNumbers(p.o.admin, p.o.business, id, null, line(p), []);
    await signAndSubmit(p, id);
  },
  'a rejected port goes again with a number less': async (p) => {
    const { id, numbers } = await port(p, 'rejected');
    if (numbers.length > 1)
      await p.o.app.ports.changeNumbers(p.o.admin, p.o.business, id, null, '', numbers.slice(1, 2));
    await signAndSubmit(p, id);
  },
  'a port is accepted': async (p) =>
    p.o.hear({ kind: 'port.accepted', key: (await port(p, 'submitted')).key, focAt: p.o.now + 9 * DAY }),
  'a port lands': async (p) => {
    const { key } = await port(p, 'accepted');
    await p.o.hear({ kind: 'port.cutting-over', key });
    await p.o.hear({ kind: 'port.completed', key });
  },
  'a port is cancelled': async (p) =>
    p.o.app.portFollowing.cancel(
      p.o.admin,
      p.o.business,
      (await port(p, 'draft', 'rejected', 'submitted', 'accepted')).id,
    ),
  'a port lands that was cancelled too late': async (p) => {
    const { key } = await port(p, 'cancelled');
    await p.o.hear({ kind: 'port.cutting-over', key });
    await p.o.hear({ kind: 'port.completed', key });
  },
  'what has landed goes back': async (p) => {
    const { id, key } = await port(p, 'done');
    await p.o.app.portFollowing.snapBack(p.o.admin, p.o.business, id);
    await p.o.settle();
    await p.o.hear({ kind: 'port.returned', key });
  },
  'texting is wanted for a line': setUp,
  'texting for a line is approved': async (p) =>
    p.o.hear({ kind: 'hosting.approved', key: (await hosted(p, 'submitted')).key }),
  'texting for a line is refused': async (p) =>
    p.o.hear({ kind: 'hosting.refused', key: (await hosted(p, 'submitted')).key, reasons: [] }),
  'texting for a line is wanted again': async (p) =>
    p.o.app.hosted.submit(p.o.admin, p.o.business, (await hosted(p, 'refused')).id, randomUUID()),
  'texting for a line is given up': async (p) =>
    p.o.app.hosted.end(p.o.admin, p.o.business, (await hosted(p, 'draft', 'refused', 'on')).id),
  'a number is taken away by another carrier': async (p) => {
    const { o } = p;
    const e164 = (await p.owned()).find((n) => n.state === 'active')?.e164;
    if (e164 === undefined) throw new Problem(404, 'not-found', 'No number is so.');
    const key = randomUUID();
    await o.hear({ kind: 'port-out.asked', key, e164, carrier: 'Nimbrel Mobile', deadline: o.now + 2 * DAY });
    await o.hear({ kind: 'port-out.left', key });
  },
};
