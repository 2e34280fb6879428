import type { Reader } from '../../../platform/db.js';
import { numberByAddress, numbersOf } from '../contact-store.js';
import { mergesInto } from '../merge-store.js';

/**
 * The other numbers of whoever has one, as they stood at a moment: what came by a merge since was somebody else's then.
 * A number that was taken away or parted since is not known any more.
 */
export async function numbersBesideAt(r: Reader, businessId: string, e164: string, at: number): Promise<string[]> {
  const here = await numberByAddress(r, businessId, e164);
  if (!here) return [];
  let group = await numbersOf(r, here.contactId);
  // Somebody who was merged may have been merged with somebody before.
  const contacts = [here.contactId];
  for (let id = contacts.pop(); id !== undefined; id = contacts.pop())
    for (const { goneId, snapshot } of await mergesInto(r, businessId, id, at)) {
      const came = new Set(snapshot.numbers.map((n) => n.id));
      group = group.filter((n) => came.has(n.id) === came.has(here.id));
      contacts.push(goneId);
    }
  return group.map((n) => n.e164).filter((other) => other !== e164);
}
