import { record, type Actor } from '../../../platform/audit.js';
import type { Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { membershipsOf } from './people-store.js';

/** What concerns a person and no single business stands in the trail of each business they have a part in. */
export async function trailOfPerson(
  w: Writer,
  p: Platform,
  actor: Actor,
  action: string,
  before?: unknown,
  after?: unknown,
  personId = actor.id,
): Promise<void> {
  for (const { businessId } of await membershipsOf(w, personId)) {
    await record(w, p.clock, {
      businessId,
      actor,
      action,
      objectKind: 'person',
      objectId: personId,
      before,
      after,
    });
    w.afterCommit(() => p.live.tell({ businessId, topic: 'settings' }));
  }
}
