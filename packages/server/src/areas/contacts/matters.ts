import type { Matter } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from './contacts.js';
import type { Intakes } from './intakes.js';

const matter = mattersOf('contacts');
const FOUND = 8;

export function tellContacts(p: Platform, contacts: Contacts, intakes: Intakes): void {
  p.matters.tell((id) => ofNumbers(contacts, id));
  p.matters.tell((id) => ofIntakes(intakes, id));
  p.matters.find(async (businessId, words) =>
    (await contacts.find(businessId, words, FOUND)).map((c) => ({
      kind: 'contact',
      title: c.name || formatPhone(c.e164),
      detail: formatPhone(c.e164),
      link: `contacts?open=${c.id}`,
    })),
  );
}

async function ofIntakes(intakes: Intakes, id: string): Promise<Matter[]> {
  return (await intakes.unfinished(id)).map((i) =>
    matter(
      'note',
      `“${i.fileName}” was not brought in whole`,
      `${i.received.toLocaleString('en-US')} of ${i.total.toLocaleString('en-US')} rows were handed in, and nothing is stored yet. Go on with it, or throw it away.`,
      'contacts/intake',
      { since: i.createdAt },
    ),
  );
}

async function ofNumbers(contacts: Contacts, id: string): Promise<Matter[]> {
  const { neverLookedUp: never, faultsInReview: faults } = await contacts.open(id);
  return [
    ...(never > 0
      ? [
          matter(
            'hold',
            `${never.toLocaleString('en-US')} numbers never looked up`,
            'Errors on a cold list get an account suspended: look them up before the first send.',
            'contacts?textable=unknown',
            { count: never },
          ),
        ]
      : []),
    ...(faults > 0
      ? [
          matter(
            'hold',
            `${faults.toLocaleString('en-US')} number${faults === 1 ? '' : 's'} with three faults in 30 days`,
            'Held until somebody looks: try again, or keep out.',
            'contacts?faults=yes',
            { count: faults },
          ),
        ]
      : []),
  ];
}
