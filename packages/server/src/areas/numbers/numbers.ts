import type { NumberView } from '@long-gate/contracts';
import { throughputOf, type Clearance, type MessageFacts, type Throughput } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { vCard } from './number-card.js';
import { clearanceOf, gateAccount, SELECT, showNumber, throughputOfNumber, type NumberRow } from './number-row.js';

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
  /** A carrier paces the campaign it is in; else the number by itself (toll-free, short code, sender ID). */
  pacedByCampaign: boolean;
  campaign: {
    useCase: string;
    subUses: string[];
    hasLinks: boolean;
    optOutMessage: string;
    helpMessage: string;
    optInMessage: string;
  } | null;
  throughput: Throughput;
}

/** What comes in to a number that is no longer ours is heard so long. */
const HEARD_AFTER_MS = 90 * 86_400_000;

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

  /** Those whose label holds these words, in small letters, or whose number these digits. */
  async find(
    r: Reader,
    businessId: string,
    words: string,
    digits: string,
    limit: number,
  ): Promise<{ id: string; e164: string; label: string }[]> {
    return (await this.list(r, businessId))
      .filter((n) => (digits !== '' && n.e164.includes(digits)) || n.label.toLowerCase().includes(words))
      .slice(0, limit);
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
        pacedByCampaign: false,
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
      pacedByCampaign: row.kind === 'local',
      campaign,
      throughput: throughputOfNumber(row),
    };
  }

  /** Our number with this address, whoever's it is. */
  async byAddress(r: Reader, e164: string): Promise<{ id: string; business_id: string } | undefined> {
    return r.one(`SELECT id, business_id FROM number WHERE e164 = $1 AND state IN ('active','paused')`, [e164]);
  }

  /**
   * Whose number this is or was within 90 days, for what comes in to it: a wish to stop sent to a number that was given
   * back, moved or left is still a wish to stop. A number somebody has now comes first.
   */
  async heardAt(r: Reader, e164: string): Promise<{ id: string; business_id: string; ours: boolean } | undefined> {
    const row = await r.one<{ id: string; business_id: string; ours: number }>(
      `SELECT id, business_id, state IN ('active','paused') AS ours FROM number WHERE e164 = $1 AND (state IN ('active','paused') OR (active_at IS NOT NULL AND coalesce(released_at, $2) > $2 - ${HEARD_AFTER_MS}))
       ORDER BY ours DESC, coalesce(released_at, active_at) DESC LIMIT 1`,
      [e164, this.p.clock.now()],
    );
    return row ? { ...row, ours: row.ours === 1 } : undefined;
  }

  /** An active number of the business to speak from when none is given: a cleared one first. */
  async anySender(r: Reader, businessId: string): Promise<string | null> {
    const row = await r.one<{ id: string }>(
      `SELECT id FROM number WHERE business_id = $1 AND state = 'active' AND kind <> 'sender ID' ORDER BY tie_state = 'attached' DESC, active_at LIMIT 1`,
      [businessId],
    );
    return row?.id ?? null;
  }

  /** Tells the open pages, once the change is on disk. */
  changed(w: Writer, businessId: string, id: string): void {
    w.tell('number.changed', { businessId });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id }));
  }

  /** Noted when a text leaves from it. */
  async noteUsed(w: Writer, id: string): Promise<void> {
    await w.run('UPDATE number SET last_used_at = $2 WHERE id = $1', [id, this.p.clock.now()]);
  }

  /** The default of the business for a purpose; a member of staff's own mobile can be none. */
  async setDefault(actor: Actor, businessId: string, purpose: string, id: string | null): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await w.one<{ number_id: string }>(
        'SELECT number_id FROM default_number WHERE business_id = $1 AND purpose = $2',
        [businessId, purpose],
      );
      if (id === null)
        await w.run('DELETE FROM default_number WHERE business_id = $1 AND purpose = $2', [businessId, purpose]);
      else {
        const row = await this.row(w, businessId, id);
        if (row.state !== 'active') throw refused('Only an active number can be a default.');
        const own = await w.one<{ name: string }>('SELECT name FROM user WHERE mobile = $1', [row.e164]);
        if (own) throw refused(`This is ${own.name}’s own mobile; nobody’s private number can be a default.`);
        await w.run(
          'INSERT INTO default_number (business_id, purpose, number_id) VALUES ($1,$2,$3) ON CONFLICT (business_id, purpose) DO UPDATE SET number_id = $3',
          [businessId, purpose, id],
        );
      }
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: id === null ? `no default for ${purpose} texts any more` : `default for ${purpose} texts`,
        objectKind: 'number',
        objectId: id ?? before?.number_id ?? '',
        before: { default: before?.number_id ?? null },
        after: { default: id },
      });
      this.changed(w, businessId, id ?? '');
    });
  }

  /** What stands on the card of an active number, whoever asks. */
  async card(r: Reader, id: string): Promise<string> {
    const row = await r.one<
      NumberRow & { legal_name: string; name_line: string; website: string; contact_email: string }
    >(
      `SELECT n.*, b.legal_name, b.name_line, b.website, b.contact_email FROM number n JOIN business b ON b.id = n.business_id WHERE n.id = $1 AND n.state = 'active' AND n.kind <> 'sender ID'`,
      [id],
    );
    if (!row) throw notFound('contact card');
    return vCard({
      business: row.legal_name,
      nameLine: row.name_line,
      label: row.label,
      e164: row.e164,
      website: row.website,
      email: row.contact_email,
      revision: row.active_at ?? row.ordered_at,
    });
  }
}
