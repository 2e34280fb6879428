import type { Matter } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { mattersOf, type Found } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Guard } from './guard.js';
import type { Hosted } from './hosted/index.js';
import type { Numbers } from './numbers.js';
import type { PortDesk, PortFollowing } from './porting/index.js';

const matter = mattersOf('numbers');
const FOUND = 5;

export function tellNumbers(
  p: Platform,
  numbers: Numbers,
  ports: PortFollowing,
  desk: PortDesk,
  hosted: Hosted,
  guard: Guard,
): void {
  p.matters.tell((id) => ofNumbers(p, numbers, id));
  p.matters.tell((id) => ofPorts(ports, id));
  p.matters.tell((id) => ofHosted(hosted, id));
  p.matters.tell((id) => ofGuard(guard, id));
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
        const [first, ...more] = port.e164s;
        return {
          kind: 'port',
          title: `${formatPhone(first ?? '')}${more.length > 0 ? ` and ${more.length} more` : ''}`,
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

async function ofNumbers(p: Platform, numbers: Numbers, id: string): Promise<Matter[]> {
  const all = await numbers.list(p.db, id);
  if (all.length === 0)
    return [matter('note', 'Get a number', 'There is no number to send from yet.', 'numbers/acquire', 0)];
  return all
    .filter((n) => n.state !== 'released' && n.nextStep.action !== 'none')
    .map((n) =>
      matter(
        n.nextStep.action === 'wait' ? 'hold' : 'stop',
        `${formatPhone(n.e164)}${n.label ? ` ${n.label}` : ''}: ${n.nextStep.title}`,
        n.nextStep.why,
        `numbers?open=${n.id}`,
      ),
    );
}

async function ofPorts(ports: PortFollowing, id: string): Promise<Matter[]> {
  return (await ports.matters(id)).map(({ port, what }) => {
    const which =
      port.numbers.length === 1 ? formatPhone(port.numbers[0]?.e164 ?? '') : `${port.numbers.length} numbers`;
    const { row } = port;
    const link = `numbers/ports/${row.id}`;
    switch (what) {
      case 'rejected':
        return matter(
          'stop',
          `The port of ${which} was rejected`,
          'The reasons stand beside the fields they speak of. Mend and resubmit.',
          link,
        );
      case 'late':
        return matter(
          'stop',
          `${row.losingCarrier} is late with the port of ${which}`,
          'The answer takes longer than the rule allows. Ask the port bureau.',
          link,
        );
      case 'foc near':
        return matter(
          'hold',
          `${which} changes over soon`,
          'Keep the old service running; the runbook says what is tested on the day.',
          link,
          1,
          row.focAt,
        );
      case 'unprepared':
        return matter(
          'hold',
          `Prepare the landing of ${which}`,
          'Without a campaign it cannot send on the day it lands.',
          link,
        );
      case 'tests':
        return matter(
          'note',
          `Test ${which}, just landed`,
          'A text in, a text out and a call: then the old service may end.',
          link,
        );
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

async function ofGuard(guard: Guard, id: string): Promise<Matter[]> {
  return (await guard.open(id)).map((a) =>
    matter(
      'stop',
      `${a.carrier} wants to take ${a.shown} away`,
      a.locked
        ? 'It is locked. Refuse it; at the deadline it is refused by itself.'
        : 'It is unlocked: refuse it before the deadline, or the number leaves.',
      `numbers?open=${a.number_id}`,
      1,
      a.deadline,
    ),
  );
}
