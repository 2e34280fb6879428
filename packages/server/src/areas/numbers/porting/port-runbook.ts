import { SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, refused } from '../../../platform/problem.js';
import { trailPort } from './port-edit.js';
import { readPort, type PortRow } from './port-row.js';
import { portById, portsLanded, savePort } from './port-store.js';
import { CALL_FAILED, RUNBOOK_TESTS, testsLeft } from './port-view.js';

/** When a text from a number was last delivered, since a moment; null where none was. */
export type DeliveredSince = (r: Reader, businessId: string, numberId: string, since: number) => Promise<number | null>;

/** Tests are noted so long after landing. */
const NOTED_MS = 60 * 86_400_000;

/**
 * What is tried once numbers have landed: ticked by a person, or noted as the events come that prove it, in the
 * transaction in which they are heard. A call that nobody and nothing took has failed.
 */
export class PortRunbook {
  private deliveredSince: DeliveredSince = () => Promise.resolve(null);

  constructor(private readonly p: Platform) {
    p.db.facts.on('number.reached', async (w, { businessId, numberId, by, answered, at }) => {
      for (const row of await this.untested(w, businessId, numberId)) {
        if (by === 'text') await this.prove(w, row, 'text-in', at, 'a text arrived');
        else if (answered) await this.prove(w, row, 'call', at, 'a call was taken');
        else await this.fail(w, row, at);
      }
    });
    p.db.facts.on('texts.delivered', async (w, { businessId }) => {
      for (const row of await this.untested(w, businessId, null)) {
        if ('text-out' in row.runbook || row.completedAt === null) continue;
        for (const n of row.numbers ?? []) {
          const at = n.numberId && (await this.deliveredSince(w, businessId, n.numberId, row.completedAt));
          if (at) await this.prove(w, row, 'text-out', at, 'a text was delivered');
        }
      }
    });
  }

  /** Whoever has the texts says which were delivered. */
  askDelivered(delivered: DeliveredSince): void {
    this.deliveredSince = delivered;
  }

  /** Requests that landed not long ago and are not tested through. @param numberId with this number; null for any. */
  private async untested(r: Reader, businessId: string, numberId: string | null): Promise<PortRow[]> {
    return (await portsLanded(r, businessId, this.p.clock.now() - NOTED_MS)).filter(
      (row) =>
        testsLeft(row).length > 0 && (numberId === null || (row.numbers ?? []).some((n) => n.numberId === numberId)),
    );
  }

  private async prove(w: Writer, row: PortRow, test: string, at: number, how: string): Promise<void> {
    const now = await portById(w, row.id);
    if (!now || test in now.runbook) return;
    await this.note(w, now, test, at);
    await trailPort(this.p, w, now, SYSTEM, `test ${test} passed: ${how}`, now.state, {});
  }

  private async fail(w: Writer, row: PortRow, at: number): Promise<void> {
    const now = await portById(w, row.id);
    if (!now || 'call' in now.runbook) return;
    await this.note(w, now, CALL_FAILED, at);
    await trailPort(this.p, w, now, SYSTEM, 'test call failed: nobody took the call', now.state, {});
  }

  async tick(actor: Actor, businessId: string, id: string, test: string, done: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      const { row } = await readPort(w, this.p.vault, businessId, id);
      if (!RUNBOOK_TESTS.includes(test)) throw refused('There is no such test.');
      if (row.state !== 'done' && row.state !== 'cutting over')
        throw conflict('There is nothing to test before the day.');
      await this.note(w, row, test, done ? this.p.clock.now() : null);
      await trailPort(this.p, w, row, actor, `test ${test} ${done ? 'passed' : 'taken back'}`, row.state, {});
    });
  }

  private async note(w: Writer, row: PortRow, test: string, at: number | null): Promise<void> {
    const { [test]: _, ...others } = row.runbook;
    await savePort(w, row.id, { runbook: at === null ? others : { ...others, [test]: at } });
  }
}
