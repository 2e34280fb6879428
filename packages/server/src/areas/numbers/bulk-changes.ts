import type { BulkNumbers, BulkPreview, BulkUndo } from '@long-gate/contracts';
import type { Actor } from '../../platform/audit.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, Problem } from '../../platform/problem.js';
import type { Registration } from '../registration/index.js';
import type { Numbers } from './numbers.js';
import type { Ties } from './ties.js';

/** One label, or one campaign, for several numbers: each is changed as it would be by itself, or skipped and named. */
export class BulkChanges {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly ties: Ties,
    private readonly registration: Registration,
  ) {}

  /** What would be changed and what skipped, and what is out of service meanwhile. */
  async preview(businessId: string, wish: BulkNumbers): Promise<BulkPreview> {
    const r = this.p.db;
    const out: BulkPreview = { change: 0, skipped: [], interrupted: [], undoable: true };
    const campaign =
      wish.campaignId === undefined ? null : await this.registration.campaignOf(r, businessId, wish.campaignId);
    if (wish.campaignId !== undefined && !campaign) throw notFound('campaign');
    for (const id of wish.ids) {
      const row = await this.numbers.row(r, businessId, id);
      const why = campaign ? await this.ties.whyNot(r, row, campaign, out.change) : '';
      if (why) {
        out.skipped.push({ e164: row.e164, why });
        continue;
      }
      out.change++;
      if (campaign && row.campaign_id !== null) out.interrupted.push(row.e164);
    }
    // Moving back would interrupt once more.
    out.undoable = out.interrupted.length === 0;
    return out;
  }

  /** @returns what was changed, what was skipped and why, and what takes it back where that is possible. */
  async change(
    actor: Actor,
    businessId: string,
    wish: BulkNumbers,
  ): Promise<{ changed: number; refused: { e164: string; why: string }[]; undo: BulkUndo['before'] }> {
    const refused: { e164: string; why: string }[] = [];
    const undo: BulkUndo['before'] = [];
    let changed = 0;
    for (const id of wish.ids) {
      const n = await this.numbers.get(this.p.db, businessId, id);
      try {
        if (wish.label !== undefined) {
          const { description } = n;
          await this.numbers.edit(actor, businessId, id, null, { label: wish.label, description });
          undo.push({ id, label: n.label });
        }
        if (wish.campaignId !== undefined) {
          if (n.campaignId === wish.campaignId) throw new Problem(409, 'there', 'It is in that campaign already.');
          await this.ties.tie(actor, businessId, id, wish.campaignId);
          if (n.campaignId === null) undo.push({ id, outOf: wish.campaignId });
        }
        changed++;
      } catch (error) {
        if (!(error instanceof Problem)) throw error;
        refused.push({ e164: n.e164, why: error.message });
      }
    }
    return { changed, refused, undo };
  }

  /** Takes a change back: labels as they were, and out of the campaign again where a number was in none and still is in it. */
  async undo(actor: Actor, businessId: string, before: BulkUndo['before']): Promise<number> {
    let changed = 0;
    for (const { id, label, outOf } of before) {
      const n = await this.numbers.get(this.p.db, businessId, id);
      if (label !== undefined)
        await this.numbers.edit(actor, businessId, id, null, { label, description: n.description });
      if (outOf !== undefined && n.campaignId === outOf) await this.ties.tie(actor, businessId, id, null);
      changed++;
    }
    return changed;
  }
}
