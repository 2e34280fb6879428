import type { FeedEvent } from '@long-gate/gateways';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';
import {
  closeSetAside,
  countOpenWith,
  forgetSetAside,
  openSetAside,
  setAside,
  type SetAsideRow,
} from '../../platform/set-aside-store.js';

/** What could not be worked off: shown with its cause, taken up again or left be. Nothing else ever waits for it. */
export class SetAsideDesk {
  constructor(private readonly p: Platform) {
    p.db.facts.on('contact.erased', (w, { people }) =>
      forgetSetAside(
        w,
        people.map(([e164]) => e164),
      ),
    );
  }

  /** What keeps somebody from being erased: what could not be worked off may be their no. */
  async holds(r: Reader, e164s: readonly string[]): Promise<string> {
    return (await countOpenWith(r, e164s)) > 0
      ? 'Something about their number could not be worked off, and is set aside: it may be a wish to stop. Take it up again, or leave it be, under Settings, Connections; then erase them.'
      : '';
  }

  async list(): Promise<SetAsideRow[]> {
    return openSetAside(this.p.db);
  }

  async count(): Promise<number> {
    return (await this.list()).length;
  }

  /** Works it off once more; where that fails again it stays aside, with the new cause, and the refusal says so. */
  async takeUp(actor: Actor, businessId: string, key: string): Promise<void> {
    const row = await this.open(key);
    try {
      await this.p.db.write(async (w) => {
        if (row.lane === 'feed') await this.p.feed.carryOut(w, [row.body as FeedEvent]);
        else if (row.lane === 'outbox') await this.p.outbox.takeUp(w, key);
        else await this.p.jobs.takeUp(w, key.replace(/^job:/, ''));
        await closeSetAside(w, key, 'done');
        await this.note(w, actor, businessId, row, 'taken up again');
      });
    } catch (error) {
      const cause = (error as Error).message;
      await this.p.db.write((w) => setAside(w, this.p.clock, { ...row.get(), cause }));
      throw refused(`It failed again and stays set aside: ${cause}`);
    }
  }

  async leave(actor: Actor, businessId: string, key: string): Promise<void> {
    const row = await this.open(key);
    await this.p.db.write(async (w) => {
      await closeSetAside(w, key, 'left');
      await this.note(w, actor, businessId, row, 'left be');
    });
  }

  private async open(key: string): Promise<SetAsideRow> {
    const row = (await this.list()).find((r) => r.key === key);
    if (!row) throw notFound('matter set aside');
    return row;
  }

  private async note(
    w: Parameters<typeof closeSetAside>[0],
    actor: Actor,
    businessId: string,
    row: SetAsideRow,
    what: string,
  ): Promise<void> {
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: `“${row.kind}” that was set aside ${what}`,
      objectKind: 'set aside',
      objectId: row.key,
    });
    w.afterCommit(() => this.p.live.tell({ businessId: '', topic: 'settings' }));
  }
}
