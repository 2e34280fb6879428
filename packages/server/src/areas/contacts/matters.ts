import type { Matter } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from './contacts.js';

const matter = mattersOf('contacts');
const FOUND = 8;

export function tellContacts(p: Platform, contacts: Contacts): void {
  p.matters.tell((id) => ofNumbers(contacts, id));
  p.matters.find(async (businessId, words) =>
    (await contacts.find(businessId, words, FOUND)).map((c) => ({
      kind: 'contact',
      title: c.name || formatPhone(c.e164),
      detail: formatPhone(c.e164),
      link: `contacts?open=${c.id}`,
    })),
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
