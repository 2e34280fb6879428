import type { Matter, NumberView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { mattersOf, type Found } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Guard } from './guard.js';
import type { Hosted } from './hosted/index.js';
import { requestName } from './object-names.js';
import type { Numbers } from './numbers.js';
import { portMatters, type PortDesk } from './porting/index.js';

const matter = mattersOf('numbers');
const FOUND = 5;
/** A number that was lost stands on Today so long. */
const LOST_SHOWN_MS = 30 * 86_400_000;
/** Ways in which a number is lost that nobody here may have wanted. */
const LOST = new Set<NumberView['ended']>(['ported away', 'unpaid']);

export function tellNumbers(p: Platform, numbers: Numbers, desk: PortDesk, hosted: Hosted, guard: Guard): void {
  p.matters.tell((id) => ofNumbers(p, numbers, id));
  p.matters.tell((id) => ofPorts(p, id));
  p.matters.tell((id) => ofHosted(hosted, id));
  p.matters.tell((id) => ofGuard(p, guard, id));
  p.matters.find(async (businessId, words) => {
    // Fewer digits stand in every number.
    const some = words.replace(/\D/g, '');
    const digits = some.length >= 3 ? some : '';
    const [known, moving, staying] = await Promise.all([
      numbers.find(p.db, businessId, words, digits, FOUND),
      desk.find(businessId, words, digits, FOUND),
      hosted.find(businessId, words, digits, FOUND),
    ]);
    return [
      ...known.map((n): Found => {
        const sender = n.kind === 'sender ID';
        return {
          kind: sender ? 'sender ID' : 'number',
          title: sender ? n.e164 : formatPhone(n.e164),
          detail: n.label,
          link: `numbers${sender ? '/senders' : ''}?open=${n.id}`,
        };
      }),
      ...moving.map((port): Found => {
        return {
          kind: 'port',
          title: requestName(port.e164s),
          detail: `from ${port.losingCarrier}, ${port.state}`,
          link: `numbers/ports/${port.id}`,
        };
      }),
      ...staying.map((h): Found => ({
        kind: 'hosted',
        title: formatPhone(h.e164),
        detail: `${h.label ? `${h.label}, ` : ''}texting ${h.state}`,
        link: `numbers/hosted?open=${h.id}`,
      })),
    ];
  });
}

const VERIFYING = ['number-not-verified', 'registration-pending', 'registration-declined'];

async function ofNumbers(p: Platform, numbers: Numbers, id: string): Promise<Matter[]> {
  const all = await numbers.list(p.db, id);
  if (all.length === 0)
    return [matter('note', 'Get a number', 'There is no number to send from yet.', 'numbers/acquire')];
  const since = p.clock.now() - LOST_SHOWN_MS;
  const named = (n: NumberView): string => `${formatPhone(n.e164)}${n.label ? ` ${n.label}` : ''}`;
  return all.flatMap((n) => {
    const link = `numbers?open=${n.id}`;
    if (n.releaseFinalAt !== null)
      return [matter('hold', `${named(n)} is released`, n.nextStep.why, link, { due: n.releaseFinalAt })];
    if (n.ended !== '')
      return LOST.has(n.ended) && (n.endedAt ?? 0) > since
        ? [matter('stop', `${named(n)} is lost: ${n.ended}`, n.nextStep.why, link, { since: n.endedAt })]
        : [];
    if (n.nextStep.action === 'none') return [];
    // What its verification waits for stands at its dossier.
    if (n.kind === 'toll-free' && VERIFYING.includes(n.clearance)) return [];
    const weight = ['wait', 'calls'].includes(n.nextStep.action) ? 'hold' : 'stop';
    return [
      matter(weight, `${named(n)}: ${n.nextStep.title}`, n.nextStep.why, link, {
        group: `# numbers: ${n.nextStep.title}`,
        due: n.lostAt,
      }),
    ];
  });
}

async function ofPorts(p: Platform, id: string): Promise<Matter[]> {
  return (await portMatters(p, id)).map(({ port, what, due, why }) => {
    const { row, numbers } = port;
    const which = numbers.length === 1 ? formatPhone(numbers[0]?.e164 ?? '') : `${numbers.length} numbers`;
    const link = `numbers/ports/${row.id}`;
    switch (what) {
      case 'draft':
        return matter('note', `Port of ${which}: still a draft`, why, link, { due });
      case 'rejected':
        return matter('stop', `The port of ${which} was rejected`, `${row.losingCarrier}: ${why}`, link);
      case 'late':
        return matter(
          'stop',
          `${row.losingCarrier} is late with the port of ${which}`,
          'The answer takes longer than the rule allows. Ask the port bureau.',
          link,
          { due },
        );
      case 'foc near':
        return matter(
          'hold',
          `${which} changes over soon`,
          'Keep the old service running; the runbook says what is tested on the day.',
          link,
          { due },
        );
      case 'unprepared':
        return matter(
          'hold',
          `Prepare the landing of ${which}`,
          'Without a campaign it cannot send on the day it lands.',
          link,
          { due },
        );
      case 'tests':
        return matter('note', `Test ${which}, landed`, `Still to be seen: ${why} Then the old service may end.`, link);
    }
  });
}

async function ofHosted(hosted: Hosted, id: string): Promise<Matter[]> {
  return (await hosted.list(id))
    .filter((h) => ['draft', 'refused', 'submitted'].includes(h.state))
    .map((h) =>
      matter(
        h.state === 'refused' ? 'stop' : h.state === 'submitted' ? 'hold' : 'note',
        `Texting for ${formatPhone(h.e164)}: ${h.nextStep.title}`,
        h.nextStep.why,
        `numbers/hosted?open=${h.id}`,
      ),
    );
}

async function ofGuard(p: Platform, guard: Guard, id: string): Promise<Matter[]> {
  const { attempts, asked, unlocked } = await guard.open(id);
  return [
    ...attempts.map((a) =>
      matter(
        'stop',
        `${a.carrier} wants to take ${formatPhone(a.e164)} away`,
        p.clock.now() >= a.deadline
          ? 'The deadline has passed while it was unlocked: it is on its way out.'
          : a.locked
            ? 'It is locked. Refuse it; at the deadline it is refused by itself.'
            : 'It is unlocked: refuse it or lock it before the deadline, or the number leaves.',
        `numbers?open=${a.number_id}`,
        { due: a.deadline },
      ),
    ),
    ...asked.map((n) =>
      matter(
        'stop',
        `${n.askedBy} asks to unlock ${formatPhone(n.e164)}`,
        n.alone
          ? 'It takes a day, the business’s answer by mail and a second yes; unanswered, it stays locked.'
          : 'Another administrator says yes, or keeps it locked; unanswered, it stays locked.',
        `numbers?open=${n.id}`,
        { due: n.lapsesAt },
      ),
    ),
    ...unlocked.map((n) =>
      matter(
        'hold',
        `${formatPhone(n.e164)} is unlocked`,
        'Whoever has its PIN can port it away until it locks itself again. Lock it, if nothing is meant to leave.',
        `numbers?open=${n.id}`,
        { due: n.unlocked_until },
      ),
    ),
  ];
}
