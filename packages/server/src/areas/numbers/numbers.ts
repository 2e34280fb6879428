import type { NumberView } from '@long-gate/contracts';
import {
  formatPhone,
  judge,
  REASONS,
  throughputOf,
  DEFAULT_HOURS,
  type Clearance,
  type LegalForm,
  type MessageFacts,
  type Subject,
  type Throughput,
} from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';

interface NumberRow {
  id: string;
  business_id: string;
  e164: string;
  label: string;
  description: string;
  kind: string;
  capabilities: string;
  source: string;
  state: NumberView['state'];
  note: string;
  setup: number;
  monthly: number;
  campaign_id: string | null;
  tie_state: NumberView['tieState'];
  ordered_at: number;
  active_at: number | null;
  version: number;
  campaign_name: string | null;
  campaign_state: string | null;
  campaign_body: string | null;
  form: LegalForm | null;
  score: number | null;
  account_state: string;
  texts_off: number;
}

/** What the gate and the composer read of a sending number. */
export interface Sender {
  id: string;
  e164: string;
  accountState: MessageFacts['accountState'];
  textsOff: boolean;
  clearance: Clearance;
  campaignId: string | null;
  campaign: {
    useCase: string;
    hasLinks: boolean;
    optOutMessage: string;
    helpMessage: string;
    optInMessage: string;
  } | null;
  throughput: Throughput;
}

const SELECT = `SELECT n.*, c.name AS campaign_name, c.state AS campaign_state, c.body AS campaign_body, r.score, json_extract(r.body, '$.form') AS form, b.account_state, b.texts_off
  FROM number n JOIN business b ON b.id = n.business_id LEFT JOIN campaign c ON c.id = n.campaign_id LEFT JOIN brand r ON r.business_id = n.business_id`;
const MONTH_MS = 30 * 86_400_000;

/** The inventory of sending numbers: bought, provisioned, tied to campaigns. */
export class Numbers {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.outbox.carry<{ e164: string }>('number.order', {
      deliver: (key, o) => p.gateways.exchange.order(key, o.e164),
      refused: (w, key, _o, error) => this.orderFailed(w, key, error.message),
    });
    p.feed.on('order.filled', (w, e) => this.orderFilled(w, e.key));
    p.feed.on('order.failed', (w, e) => this.orderFailed(w, e.key, e.reason));
    p.outbox.carry<{ e164: string; campaignKey: string }>('number.assign', {
      deliver: (key, o) => p.gateways.registrar.assignNumber(key, o.e164, o.campaignKey),
      refused: async (w, key, _o, error) => {
        const id = key.split(':')[0] ?? '';
        await w.run(
          `UPDATE number SET tie_state = 'none', campaign_id = NULL, note = $2, version = version + 1 WHERE id = $1`,
          [id, error.message],
        );
      },
    });
    p.feed.on('assignment.confirmed', (w, e) => this.tied(w, e.key));
    p.jobs.handle<{ numberId: string }>('number.fee', async ({ numberId }) => this.monthlyFee(numberId));
  }

  async list(r: Reader, businessId: string): Promise<NumberView[]> {
    const rows = await r.all<NumberRow>(`${SELECT} WHERE n.business_id = $1 ORDER BY n.ordered_at, n.id`, [businessId]);
    return rows.map((row) => this.show(row));
  }

  async get(r: Reader, businessId: string, id: string): Promise<NumberView> {
    return this.show(await this.row(r, businessId, id));
  }

  private async row(r: Reader, businessId: string, id: string): Promise<NumberRow> {
    const row = await r.one<NumberRow>(`${SELECT} WHERE n.business_id = $1 AND n.id = $2`, [businessId, id]);
    if (!row) throw notFound('number');
    return row;
  }

  /** Buys a number: the money is taken and the order written in one transaction; the exchange answers later. */
  async order(actor: Actor, businessId: string, e164: string, label: string, key: string): Promise<NumberView> {
    const offer = (await this.p.gateways.exchange.search(e164.slice(2, 5), 100)).find((o) => o.e164 === e164);
    const id = idFrom('num', businessId, key);
    await this.p.db.write(async (w) => {
      if (await w.one('SELECT id FROM number WHERE id = $1', [id])) return;
      const business = await this.businesses.row(w, businessId);
      if (business.account_state !== 'open')
        throw refused(`The account is ${business.account_state}; numbers can be bought once it is open.`, [
          { field: 'account', message: 'Open the account in Settings.' },
        ]);
      if (!offer) throw conflict(`${formatPhone(e164)} is no longer for sale; somebody else was faster. Search again.`);
      await this.businesses.charge(
        w,
        businessId,
        offer.setup + offer.monthly,
        `number ${formatPhone(e164)}: set-up and first month`,
        'number',
        id,
      );
      await w.run(
        `INSERT INTO number (id, business_id, e164, label, capabilities, state, setup, monthly, ordered_at) VALUES ($1,$2,$3,$4,$5,'ordered',$6,$7,$8)`,
        [
          id,
          businessId,
          e164,
          label,
          JSON.stringify(offer.capabilities),
          offer.setup,
          offer.monthly,
          this.p.clock.now(),
        ],
      );
      await this.p.outbox.put(w, 'number.order', id, { e164 });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'number ordered',
        objectKind: 'number',
        objectId: id,
        after: { e164, label, setup: offer.setup, monthly: offer.monthly },
      });
      this.changed(w, businessId, id);
    });
    return this.get(this.p.db, businessId, id);
  }

  private async orderFilled(w: Writer, id: string): Promise<void> {
    const row = await w.one<NumberRow>(`SELECT * FROM number WHERE id = $1 AND state = 'ordered'`, [id]);
    if (!row) return;
    const now = this.p.clock.now();
    await w.run(
      `UPDATE number SET state = 'active', active_at = $2, next_fee_at = $3, version = version + 1 WHERE id = $1`,
      [id, now, now + MONTH_MS],
    );
    await this.p.jobs.add(w, {
      kind: 'number.fee',
      businessId: row.business_id,
      payload: { numberId: id },
      at: now + MONTH_MS,
      key: `fee:${id}`,
    });
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'number active',
      objectKind: 'number',
      objectId: id,
      before: { state: 'ordered' },
      after: { state: 'active' },
    });
    this.changed(w, row.business_id, id);
  }

  private async orderFailed(w: Writer, id: string, reason: string): Promise<void> {
    const row = await w.one<NumberRow>(`SELECT * FROM number WHERE id = $1 AND state = 'ordered'`, [id]);
    if (!row) return;
    await w.run(`UPDATE number SET state = 'failed', note = $2, version = version + 1 WHERE id = $1`, [id, reason]);
    await this.businesses.move(
      w,
      row.business_id,
      row.setup + row.monthly,
      `refund for ${formatPhone(row.e164)}`,
      'number',
      id,
      idFrom('mon', id, 'refund'),
    );
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'order failed, refunded',
      objectKind: 'number',
      objectId: id,
      before: { state: 'ordered' },
      after: { state: 'failed', reason },
    });
    this.changed(w, row.business_id, id);
  }

  private async monthlyFee(id: string): Promise<{ done: true } | { done: false; at: number }> {
    return this.p.db.write(async (w) => {
      const row = await w.one<NumberRow & { next_fee_at: number }>(
        `SELECT * FROM number WHERE id = $1 AND state IN ('active','paused')`,
        [id],
      );
      if (!row) return { done: true };
      if (this.p.clock.now() < row.next_fee_at) return { done: false, at: row.next_fee_at };
      const balance = (await this.businesses.row(w, row.business_id)).balance;
      if (balance < row.monthly) {
        if (row.state !== 'paused') {
          await w.run(
            `UPDATE number SET state = 'paused', note = 'The monthly fee could not be taken: top up the balance.', version = version + 1 WHERE id = $1`,
            [id],
          );
          await record(w, this.p.clock, {
            businessId: row.business_id,
            actor: SYSTEM,
            action: 'number paused: fee unpaid',
            objectKind: 'number',
            objectId: id,
            before: { state: 'active' },
            after: { state: 'paused' },
          });
          this.changed(w, row.business_id, id);
        }
        return { done: false, at: this.p.clock.now() + 3_600_000 };
      }
      await this.businesses.charge(
        w,
        row.business_id,
        row.monthly,
        `number ${formatPhone(row.e164)}: monthly fee`,
        'number',
        id,
        idFrom('mon', id, String(row.next_fee_at)),
      );
      await w.run(`UPDATE number SET state = 'active', note = '', next_fee_at = $2 WHERE id = $1`, [
        id,
        row.next_fee_at + MONTH_MS,
      ]);
      if (row.state === 'paused') this.changed(w, row.business_id, id);
      return { done: false, at: row.next_fee_at + MONTH_MS };
    });
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

  /** Ties an active number to a registered campaign, or takes it out. The networks confirm in about a day. */
  async tie(actor: Actor, businessId: string, id: string, campaignId: string | null): Promise<NumberView> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.state !== 'active') throw refused('Only an active number can be tied to a campaign.');
      if (row.campaign_id === campaignId) return;
      const before = { campaign: row.campaign_name, tieState: row.tie_state };
      if (campaignId === null) {
        await w.run(`UPDATE number SET campaign_id = NULL, tie_state = 'none', version = version + 1 WHERE id = $1`, [
          id,
        ]);
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'taken out of its campaign',
          objectKind: 'number',
          objectId: id,
          before,
        });
      } else {
        const campaign = await w.one<{ id: string; name: string; state: string; attempt: number }>(
          'SELECT * FROM campaign WHERE id = $1 AND business_id = $2',
          [campaignId, businessId],
        );
        if (!campaign) throw notFound('campaign');
        if (campaign.state !== 'registered')
          throw refused(
            `“${campaign.name}” is ${campaign.state}; a number can be tied once the campaign is registered.`,
            [{ field: 'campaignId', message: 'Not registered yet.' }],
          );
        const tied = await w.one<{ n: number }>('SELECT count(*) AS n FROM number WHERE campaign_id = $1', [
          campaignId,
        ]);
        const form = (
          await w.one<{ form: string }>(
            `SELECT json_extract(body, '$.form') AS form FROM brand WHERE business_id = $1`,
            [businessId],
          )
        )?.form;
        const limit = form === 'sole proprietor' ? 1 : 49;
        if ((tied?.n ?? 0) >= limit)
          throw refused(`A campaign like this takes at most ${limit} number${limit === 1 ? '' : 's'}.`);
        await w.run(
          `UPDATE number SET campaign_id = $2, tie_state = 'attaching', version = version + 1 WHERE id = $1`,
          [id, campaignId],
        );
        await this.p.outbox.put(w, 'number.assign', `${id}:${campaignId}:${row.version}`, {
          e164: row.e164,
          campaignKey: `${campaignId}:${campaign.attempt}`,
        });
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: `tied to ${campaign.name}, networks confirming`,
          objectKind: 'number',
          objectId: id,
          before,
          after: { campaign: campaign.name, tieState: 'attaching' },
        });
      }
      this.changed(w, businessId, id);
    });
    return this.get(this.p.db, businessId, id);
  }

  private async tied(w: Writer, key: string): Promise<void> {
    const [id = '', campaignId = ''] = key.split(':');
    const row = await w.one<NumberRow>(
      `SELECT * FROM number WHERE id = $1 AND campaign_id = $2 AND tie_state = 'attaching'`,
      [id, campaignId],
    );
    if (!row) return;
    await w.run(`UPDATE number SET tie_state = 'attached', version = version + 1 WHERE id = $1`, [id]);
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'cleared to send',
      objectKind: 'number',
      objectId: id,
      before: { tieState: 'attaching' },
      after: { tieState: 'attached' },
    });
    this.changed(w, row.business_id, id);
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

  private changed(w: Writer, businessId: string, id: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id }));
  }

  private show(row: NumberRow): NumberView {
    const clearance = clearanceOf(row);
    const verdict = judge(
      NOBODY,
      { ...ABOUT_NUMBER, accountState: gateAccount(row.account_state), textsOff: row.texts_off === 1, clearance },
      { ...NUMBER_RULES, at: this.p.clock.now() },
      { balance: 1, dailySegments: 1 },
    );
    const reason = verdict.post === 7 && verdict.reason ? REASONS[verdict.reason] : null;
    return {
      id: row.id,
      e164: row.e164,
      label: row.label,
      description: row.description,
      kind: row.kind,
      capabilities: JSON.parse(row.capabilities) as string[],
      source: row.source,
      state: row.state,
      note: row.note,
      monthly: row.monthly,
      campaignId: row.campaign_id,
      campaignName: row.campaign_name,
      campaignState: row.campaign_state,
      tieState: row.tie_state,
      clearance,
      orderedAt: row.ordered_at,
      activeAt: row.active_at,
      version: row.version,
      // A number by itself has no recipient: only the country and its own clearance are asked.
      answers: verdict.answers.map((a) =>
        [2, 7].includes(a.post) ? a : { post: a.post, result: 'not asked' as const },
      ),
      deciding: reason ? { result: verdict.result, why: reason.why, lift: reason.lift } : null,
      nextStep: nextStep(row, clearance),
    };
  }
}

const NOBODY: Subject = {
  wellFormed: true,
  country: 'US',
  zones: '',
  states: '',
  lookedUp: true,
  textable: 'yes',
  reachable: true,
  trouble: 'none',
  faultsInReview: false,
  suppressed: false,
  wishInReview: false,
  consent: { conversational: 'granted', informational: 'granted', promotional: 'granted' },
  conversationUntil: null,
  carrierKind: 'A',
  promotionalCapUntil: null,
  firstText: false,
  stopLineDue: false,
  fieldEmpty: false,
};
const ABOUT_NUMBER = {
  kind: 'dispatch',
  purpose: 'conversational',
  transactional: false,
  namesSender: true,
  showsStop: true,
  contentBlocked: false,
  segments: 0,
} as const;
const NUMBER_RULES = { hours: DEFAULT_HOURS, openCountries: ['US'], transactionalAnyHour: true, segmentPrice: 0 };

function gateAccount(state: string): MessageFacts['accountState'] {
  return state === 'in review' ? 'provisional' : (state as MessageFacts['accountState']);
}

function clearanceOf(row: Pick<NumberRow, 'state' | 'campaign_id' | 'campaign_state' | 'tie_state'>): Clearance {
  if (row.state !== 'active') return 'number-not-active';
  if (row.campaign_id === null) return 'number-not-tied';
  if (row.campaign_state === 'declined') return 'registration-declined';
  return row.campaign_state === 'registered' && row.tie_state === 'attached' ? 'cleared' : 'registration-pending';
}

function nextStep(row: NumberRow, clearance: Clearance): NumberView['nextStep'] {
  if (row.state === 'failed')
    return { title: 'Choose another number.', why: `${row.note} The money is back on the balance.`, action: 'acquire' };
  if (row.state === 'ordered')
    return {
      title: 'Wait for the exchange.',
      why: 'Provisioning takes less than a minute; this page changes by itself.',
      action: 'wait',
    };
  if (row.state === 'paused') return { title: 'Top up the balance.', why: row.note, action: 'account' };
  if (row.account_state !== 'open')
    return {
      title: 'Open the account.',
      why: `The account is ${row.account_state}; nothing is sent until it is open.`,
      action: 'account',
    };
  switch (clearance) {
    case 'number-not-tied':
      return {
        title: 'Tie it to a campaign.',
        why: 'The networks refuse texts from a number in no registered campaign.',
        action: 'tie',
      };
    case 'registration-pending':
      return {
        title: 'Wait for the networks.',
        why: `They confirm ${row.campaign_name ?? 'the campaign'} for this number in about a day.`,
        action: 'wait',
      };
    case 'registration-declined':
      return {
        title: 'Mend the campaign.',
        why: 'The registrar declined it; its reasons stand beside the words.',
        action: 'register',
      };
    default:
      return { title: 'Nothing to do.', why: 'This number is cleared to send.', action: 'none' };
  }
}
