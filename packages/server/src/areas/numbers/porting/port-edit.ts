import { isEditable } from '@long-gate/core';
import { record, type Actor } from '../../../platform/audit.js';
import type { Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion } from '../../../platform/problem.js';
import { readPort, type Port, type PortRow } from './port-row.js';
import { savePort } from './port-store.js';

/** One edit of a request that is with us: version checked, version raised, told. */
export async function editPort(
  p: Platform,
  businessId: string,
  id: string,
  seen: number | null,
  work: (w: Writer, port: Port) => Promise<void>,
): Promise<void> {
  await p.db.write(async (w) => {
    const port = await readPort(w, p.vault, businessId, id);
    expectVersion('port request', port.row, seen);
    if (!isEditable(port.row.state))
      throw conflict(`The request is ${port.row.state}; it can be edited while it is with us.`);
    await work(w, port);
    await savePort(w, id, {});
    w.tell('letter.edited', { objectKind: 'port', objectId: id });
    tellPort(p, w, businessId, id);
  });
}

/** Tells whoever looks at the port desk that something changed there. */
export function tellPort(p: Platform, w: Writer, businessId: string, id?: string): void {
  w.afterCommit(() => p.live.tell({ businessId, topic: 'numbers', ...(id ? { id } : {}) }));
}

/** Notes in the trail what became of a request, and tells it. @param state the one it is in now. */
export async function trailPort(
  p: Platform,
  w: Writer,
  row: PortRow,
  actor: Actor,
  action: string,
  state: string,
  after: object,
): Promise<void> {
  await record(w, p.clock, {
    businessId: row.businessId,
    actor,
    action,
    objectKind: 'port',
    objectId: row.id,
    before: { state: row.state },
    after: { state, ...after },
  });
  tellPort(p, w, row.businessId, row.id);
}
