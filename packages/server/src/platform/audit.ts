import type { Clock } from './clock.js';
import type { Writer } from './db.js';
import { newId } from './ids.js';

/** Who does something: a person, or the application by itself. */
export interface Actor {
  id: string;
  name: string;
}

export const SYSTEM: Actor = { id: 'system', name: 'Long Gate' };
export const CONTACT: Actor = { id: 'contact', name: 'the contact' };

export interface Change {
  businessId: string;
  actor: Actor;
  /** Past tense, as the history shows it: `number ordered`. */
  action: string;
  objectKind: string;
  objectId: string;
  before?: unknown;
  after?: unknown;
}

/** Records one change in the audit trail, in the same transaction as the change. Secrets never go in. */
export async function record(w: Writer, clock: Clock, change: Change): Promise<void> {
  await w.run(
    `INSERT INTO audit (id, at, business_id, actor_id, actor_name, action, object_kind, object_id, before, after) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$10)`,
    [
      newId('aud'),
      clock.now(),
      change.businessId,
      change.actor.id,
      change.actor.name,
      change.action,
      change.objectKind,
      change.objectId,
      change.before === undefined ? null : JSON.stringify(change.before),
      change.after === undefined ? null : JSON.stringify(change.after),
    ],
  );
}
