import type { NumberView } from '@long-gate/contracts';
import { throughputOf, type Clearance, type MessageFacts, type Throughput } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { expectVersion, notFound } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { clearanceOf, gateAccount, SELECT, showNumber, type NumberRow } from './number-row.js';

/** What the gate and the composer read of a sending number. */
export interface Sender {
  id: string;
  e164: string;
  accountState: MessageFacts['accountState'];
  textsOff: boolean;
  clearance: Clearance;
  campaignId: string | null;
  /** Where a sender ID may be used; null for numbers, which may wherever the country is open. */
  countries: string[] | null;
  /** What a one-way sender adds to each text. */
  signature: string;
  campaign: {
    useCase: string;
    hasLinks: boolean;
    optOutMessage: string;
    helpMessage: string;
    optInMessage: string;
  } | null;
  throughput: Throughput;
}

/** The inventory of sending numbers. How they come, what they cost and where they are tied has a file each. */
export class Numbers {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {}

  async list(r: Reader, businessId: string): Promise<NumberView[]> {
    const rows = await r.all<NumberRow>(`${SELECT} WHERE n.business_id = $1 ORDER BY n.ordered_at, n.id`, [businessId]);
    return rows.map((row) => showNumber(row, this.p.clock.now()));
  }

  async get(r: Reader, businessId: string, id: string): Promise<NumberView> {
    return showNumber(await this.row(r, businessId, id), this.p.clock.now());
  }

  async row(r: Reader, businessId: string, id: string): Promise<NumberRow> {
    const row = await r.one<NumberRow>(`${SELECT} WHERE n.business_id = $1 AND n.id = $2`, [businessId, id]);
    if (!row) throw notFound('number');
    return row;
  }

  async edit(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: { label: string; description: string },
  ): Promise<NumberView> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, businessId, id);
      expectVersion('number', before, seen);
      await w.run('UPDATE number SET label = $2, description = $3, version = version + 1 WHERE id = $1', [
        id,
        edit.label,
        edit.description,
      ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'number edited',
        objectKind: 'number',
        objectId: id,
        before: { label: before.label, description: before.description },
        after: edit,
      });
      this.changed(w, businessId, id);
    });
    return this.get(this.p.db, businessId, id);
  }

  /** The sender as the gate reads it; `no-number` where none is chosen. */
  async sender(r: Reader, businessId: string, id: string | null): Promise<Sender> {
    const row =
      id === null
        ? undefined
        : await r.one<NumberRow>(`${SELECT} WHERE n.business_id = $1 AND n.id = $2`, [businessId, id]);
    if (!row) {
      const b = await this.businesses.row(r, businessId);
      return {
        id: '',
        e164: '',
        accountState: gateAccount(b.account_state),
        textsOff: b.texts_off === 1,
        clearance: 'no-number',
        campaignId: null,
        countries: null,
        signature: '',
        campaign: null,
        throughput: throughputOf('private company', null, ''),
      };
    }
    const campaign = row.campaign_body ? (JSON.parse(row.campaign_body) as NonNullable<Sender['campaign']>) : null;
    return {
      id: row.id,
      e164: row.e164,
      accountState: gateAccount(row.account_state),
      textsOff: row.texts_off === 1,
      clearance: clearanceOf(row),
      campaignId: row.campaign_id,
      countries: row.kind === 'sender ID' ? row.countries.split(',').filter((c) => c !== '') : null,
      signature: row.kind === 'sender ID' ? row.signature : '',
      campaign,
      throughput: throughputOf(row.form ?? 'private company', row.score, campaign?.useCase ?? ''),
    };
  }

  /** Our number with this address, whoever's it is. */
  async byAddress(r: Reader, e164: string): Promise<{ id: string; business_id: string } | undefined> {
    return r.one(`SELECT id, business_id FROM number WHERE e164 = $1 AND state IN ('active','paused')`, [e164]);
  }

  /** An active number of the business to speak from when none is given: a cleared one first. */
  async anySender(r: Reader, businessId: string): Promise<string | null> {
    const row = await r.one<{ id: string }>(
      `SELECT id FROM number WHERE business_id = $1 AND state = 'active' ORDER BY tie_state = 'attached' DESC, active_at LIMIT 1`,
      [businessId],
    );
    return row?.id ?? null;
  }

  /** Tells the open pages, once the change is on disk. */
  changed(w: Writer, businessId: string, id: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id }));
  }
}
