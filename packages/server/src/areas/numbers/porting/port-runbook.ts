import { SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, refused } from '../../../platform/problem.js';
import { trailPort } from './port-edit.js';
import { readPort, type PortRow } from './port-row.js';
import { portById, portsLanded, savePort } from './port-store.js';
import { RUNBOOK_TESTS } from './port-view.js';

/** When a text last came in to a number, and when one from it was last delivered, since a moment. */
export type SeenTexts = (
  r: Reader,
  businessId: string,
  numberId: string,
  since: number,
) => Promise<{ inAt: number | null; outAt: number | null; callAt: number | null }>;

/** What is tried once numbers have landed: ticked by a person, or proven by texts and calls that were seen. */
export class PortRunbook {
  private seenTexts: SeenTexts = () => Promise.resolve({ inAt: null, outAt: null, callAt: null });

  constructor(private readonly p: Platform) {}

  /** Whoever has the texts says which were seen on a number. */
  seeTexts(seen: SeenTexts): void {
    this.seenTexts = seen;
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

  /** What the messages themselves prove of the runbook's tests is noted without anybody's tick. */
  async noteProven(businessId: string): Promise<void> {
    const rows = await portsLanded(this.p.db, businessId, this.p.clock.now() - 30 * 86_400_000);
    for (const row of rows) {
      const have = row.runbook;
      if (RUNBOOK_TESTS.every((t) => t in have)) continue;
      await this.p.db.write(async (w) => {
        for (const n of row.numbers ?? []) {
          if (!n.numberId || row.completedAt === null) continue;
          const seen = await this.seenTexts(w, businessId, n.numberId, row.completedAt);
          for (const [test, at] of [
            ['text-in', seen.inAt],
            ['text-out', seen.outAt],
            ['call', seen.callAt],
          ] as const) {
            const now = await portById(w, row.id);
            if (at === null || !now || test in now.runbook) continue;
            await this.note(w, now, test, at);
            await trailPort(
              this.p,
              w,
              now,
              SYSTEM,
              `test ${test} passed: seen in the inbox and receipts`,
              now.state,
              {},
            );
          }
        }
      });
    }
  }
}
