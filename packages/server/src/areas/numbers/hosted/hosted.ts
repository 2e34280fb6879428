import type { HostedView } from '@long-gate/contracts';
import {
  blocks,
  DEFAULT_PRICES,
  formatAmount,
  formatPhone,
  hostedAfter,
  parsePhone,
  PHONE_REFUSALS,
  reviewHosted,
  type Finding,
  type HostedState,
} from '@long-gate/core';
import type { HostingFiling } from '@long-gate/gateways';
import { record, SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import { DAY_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import type { Landing } from '../landing.js';
import type { KeptLetter, Letter, Signing } from '../letters/index.js';
import { portDay } from '../porting/index.js';
import { countCodeTry, noteCall } from './hosted-store.js';

interface HostedRow {
  id: string;
  business_id: string;
  e164: string;
  kind: HostedView['kind'];
  voice_carrier: string;
  enabled_elsewhere: string;
  state: HostedState;
  holder_name: string;
  authorised_name: string;
  street: string;
  city: string;
  state_code: string;
  postal_code: string;
  label: string;
  campaign_id: string | null;
  letter: string | null;
  called_at: number | null;
  code_confirmed: number;
  /** Codes given back since the last call. */
  code_tries: number;
  attempt: number;
  /** The idempotency key of the last submission. */
  submit_key: string;
  reasons: string;
  charged: number;
  number_id: string | null;
  submitted_at: number | null;
  answered_at: number | null;
  version: number;
}

/** Wrong codes after which the line has to be called again. */
const CODE_TRIES = 5;
const CALLS_A_DAY = 5;
const MONTHLY = DEFAULT_PRICES.hostedMonthly;

/** Numbers whose voice stays with its carrier while texting is added here. */
export class Hosted {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly landing: Landing,
    private readonly signing: Signing,
  ) {
    signing.own('hosted', {
      read: async (r, id) => {
        const row = await r.one<HostedRow>('SELECT * FROM hosted WHERE id = $1', [id]);
        return (
          (row && {
            letter: await this.letterOf(r, row),
            businessId: row.business_id,
            version: row.version,
            open: isOpen(row),
            signedBy: letterOf(row)?.signedBy ?? '',
          }) ??
          null
        );
      },
      keep: (w, id, letter) =>
        w.run('UPDATE hosted SET letter = $2, version = version + 1 WHERE id = $1', [id, JSON.stringify(letter)]),
    });
    p.outbox.carry<{ e164: string }>('hosting.call', {
      deliver: (key, b) => p.gateways.hosting.callWithCode(key, b.e164),
      refused: async () => undefined,
    });
    p.outbox.carry<{ filing: HostingFiling }>('hosting.file', {
      deliver: (key, b) => p.gateways.hosting.file(key, b.filing),
      refused: (w, key, _b, error) =>
        this.refuse(w, key, [{ field: 'e164', code: error.code, message: error.message }]),
    });
    p.outbox.carry<{ e164: string }>('hosting.end', {
      deliver: (key, b) => p.gateways.hosting.end(key, b.e164),
      refused: async () => undefined,
    });
    p.feed.on('hosting.approved', (w, e) => this.approve(w, e.key));
    p.feed.on('hosting.refused', (w, e) => this.refuse(w, e.key, e.reasons));
  }

  async list(businessId: string): Promise<HostedView[]> {
    const rows = await this.p.db.all<HostedRow>(
      'SELECT * FROM hosted WHERE business_id = $1 ORDER BY begun_at DESC, id',
      [businessId],
    );
    return Promise.all(rows.map((row) => this.show(row)));
  }

  async get(businessId: string, id: string): Promise<HostedView> {
    return this.show(await this.row(this.p.db, businessId, id));
  }

  private async row(r: Reader, businessId: string, id: string): Promise<HostedRow> {
    const row = await r.one<HostedRow>('SELECT * FROM hosted WHERE id = $1 AND business_id = $2', [id, businessId]);
    if (!row) throw notFound('hosted number');
    return row;
  }

  private findings(row: HostedRow): Finding[] {
    if (!isOpen(row)) return [];
    return reviewHosted(
      {
        e164: row.e164,
        kind: row.kind,
        enabledElsewhere: row.enabled_elsewhere,
        holderName: row.holder_name,
        authorisedName: row.authorised_name,
        street: row.street,
        city: row.city,
        state: row.state_code,
        postalCode: row.postal_code,
        letter: letterOf(row),
        codeConfirmed: row.code_confirmed === 1,
      },
      portDay(this.p.clock.now()),
    );
  }

  private async show(row: HostedRow): Promise<HostedView> {
    const link = await this.signing.linkOf(this.p.db, 'hosted', row.id);
    const out = link?.used_at === null && link.expires_at > this.p.clock.now();
    const letter = letterOf(row);
    const findings = this.findings(row);
    return {
      id: row.id,
      e164: row.e164,
      kind: row.kind,
      voiceCarrier: row.voice_carrier,
      state: row.state,
      facts: {
        holderName: row.holder_name,
        authorisedName: row.authorised_name,
        street: row.street,
        city: row.city,
        state: row.state_code,
        postalCode: row.postal_code,
        label: row.label,
        campaignId: row.campaign_id,
      },
      letter: {
        signedBy: letter?.signedBy ?? '',
        signedOn: letter?.signedOn ?? '',
        linkExpiresAt: out ? link.expires_at : null,
      },
      calledAt: row.called_at,
      codeConfirmed: row.code_confirmed === 1,
      findings,
      reasons: JSON.parse(row.reasons) as HostedView['reasons'],
      numberId: row.number_id,
      costNow: row.charged > 0 ? 0 : MONTHLY,
      costMonthly: MONTHLY,
      submittedAt: row.submitted_at,
      answeredAt: row.answered_at,
      nextStep: nextStep(row, findings),
      version: row.version,
    };
  }

  private async letterOf(r: Reader, row: HostedRow): Promise<Letter> {
    const business = (await this.businesses.row(r, row.business_id)).legal_name;
    return {
      subtitle: 'to add texting to a telephone number',
      business,
      holderName: row.holder_name,
      authorisedName: row.authorised_name,
      address: [row.street, row.city, `${row.state_code} ${row.postal_code}`.trim()].filter((t) => t !== '').join(', '),
      carrier: row.voice_carrier,
      numbers: [row.e164],
      paragraphs: [
        `I am the account holder, or may decide for the account holder, of the telephone number named here, whose voice service is with ${row.voice_carrier || 'the present carrier'} under the name ${row.holder_name || '…'}.`,
        `I authorise ${business} and the provider it uses to send and receive texts on this number. The voice service stays where it is and is not touched.`,
        'Texting can be taken off at any time. Only one provider can text for a number; I know of no other that does.',
      ],
      day: portDay(this.p.clock.now()),
    };
  }

  /** Begins a set-up for one number. Once for one key. */
  async begin(actor: Actor, businessId: string, raw: string, key: string): Promise<HostedView> {
    const parsed = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
    if (!parsed.ok)
      throw refused(PHONE_REFUSALS[parsed.reason], [{ field: 'number', message: PHONE_REFUSALS[parsed.reason] }]);
    const id = idFrom('hst', businessId, key);
    const test = await this.p.gateways.hosting.test(parsed.e164);
    await this.p.db.write(async (w) => {
      if (await w.one('SELECT id FROM hosted WHERE id = $1', [id])) return;
      const taken =
        (await w.one(`SELECT id FROM number WHERE e164 = $1 AND state IN ('ordered','active','paused')`, [
          parsed.e164,
        ])) ??
        (await w.one(`SELECT id FROM hosted WHERE e164 = $1 AND state IN ('draft','submitted','refused','on')`, [
          parsed.e164,
        ])) ??
        (await w.one(`SELECT port_id FROM port_number WHERE e164 = $1 AND open = 1`, [parsed.e164]));
      if (taken)
        throw refused(`${formatPhone(parsed.e164)} is with us already, or on its way.`, [
          { field: 'number', message: 'With us already, or on its way.' },
        ]);
      const b = await this.businesses.row(w, businessId);
      await w.run(
        `INSERT INTO hosted (id, business_id, e164, kind, voice_carrier, enabled_elsewhere, holder_name, authorised_name, street, city, state_code, postal_code, begun_at) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$10,$11,$12,$13)`,
        [
          id,
          businessId,
          parsed.e164,
          test.kind,
          test.voiceCarrier,
          test.enabledElsewhere,
          b.legal_name,
          b.contact_name,
          b.street,
          b.city,
          b.state,
          b.postal_code,
          this.p.clock.now(),
        ],
      );
      await this.trail(w, { id, business_id: businessId, state: 'draft' }, actor, 'text-enabling begun', {
        e164: parsed.e164,
      });
    });
    return this.get(businessId, id);
  }

  async save(actor: Actor, businessId: string, id: string, seen: number | null, f: HostedView['facts']): Promise<void> {
    await this.change(businessId, id, seen, async (w, row) => {
      const before = (await this.show(row)).facts;
      await w.run(
        `UPDATE hosted SET holder_name=$2, authorised_name=$3, street=$4, city=$5, state_code=$6, postal_code=$7, label=$8, campaign_id=$9 WHERE id=$1`,
        [
          id,
          f.holderName,
          f.authorisedName,
          f.street,
          f.city,
          f.state.toUpperCase(),
          f.postalCode,
          f.label,
          f.campaignId,
        ],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'text-enabling edited',
        objectKind: 'hosted',
        objectId: id,
        before,
        after: f,
      });
    });
  }

  async makeLink(actor: Actor, businessId: string, id: string): Promise<{ path: string; expiresAt: number }> {
    let link = { path: '', expiresAt: 0 };
    await this.change(businessId, id, null, async (w, row) => {
      if (row.holder_name === '')
        throw refused('Write the holder’s name first; it stands in the letter.', [
          { field: 'holderName', message: 'Needed for the letter.' },
        ]);
      link = await this.signing.makeLink(w, 'hosted', id);
      await this.trail(w, row, actor, 'signing link made', { goodUntil: portDay(link.expiresAt) });
    });
    return link;
  }

  /** Has the line called, once for one key; a new call makes the earlier code worthless. It costs what a text costs. */
  async call(actor: Actor, businessId: string, id: string, key: string): Promise<void> {
    const entry = idFrom('mon', id, 'call', key);
    if (await this.businesses.booked(this.p.db, entry)) return;
    await this.change(businessId, id, null, async (w, row) => {
      if (await this.businesses.booked(w, entry)) return;
      if (row.kind === 'wireless') throw refused('A mobile cannot be text-enabled; port it in instead.');
      await this.p.limits.take(
        w,
        [
          { act: 'line call', who: row.e164, most: CALLS_A_DAY, withinMs: DAY_MS },
          { act: 'line call business', who: businessId, most: CALLS_A_DAY * 4, withinMs: DAY_MS },
        ],
        `A line is called at most ${CALLS_A_DAY} times a day. Try again tomorrow.`,
      );
      await this.businesses.charge(
        w,
        businessId,
        DEFAULT_PRICES.segment,
        `call with a code to ${formatPhone(row.e164)}`,
        'hosted',
        id,
        entry,
      );
      await noteCall(w, id, this.p.clock.now());
      await this.p.outbox.put(w, 'hosting.call', `${id}:call:${row.version}`, { e164: row.e164 });
      await this.trail(w, row, actor, 'line called with a code', {});
    });
  }

  async confirm(actor: Actor, businessId: string, id: string, code: string): Promise<void> {
    // The try is counted before it is made: however many come at once, five are made.
    const asked = await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.called_at === null || row.code_tries >= CODE_TRIES)
        throw refused('There is no code to give back; have the line called again and a new one comes.', [
          { field: 'code', message: 'Have the line called again.' },
        ]);
      await countCodeTry(w, id);
      return row;
    });
    const right = await this.p.gateways.hosting.confirmCode(asked.e164, code);
    if (!right)
      throw refused(
        'This is not the code that was read out last. Have the line called again if it was not understood.',
        [{ field: 'code', message: 'Not the code of the last call.' }],
      );
    await this.change(businessId, id, null, async (w, row) => {
      await w.run('UPDATE hosted SET code_confirmed = 1 WHERE id = $1', [id]);
      await this.trail(w, row, actor, 'code from the call given back', {});
    });
  }

  async submit(actor: Actor, businessId: string, id: string, key: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.state === 'submitted' || row.submit_key === key) return;
      const state = hostedAfter(row.state, 'submit');
      if (!state) throw conflict(`This set-up is ${row.state}; it cannot be submitted.`);
      const account = (await this.businesses.row(w, businessId)).account_state;
      if (account !== 'open')
        throw refused(`The account is ${account}; numbers can be text-enabled once it is open.`, [
          { field: 'account', message: 'Open the account in Settings.' },
        ]);
      const findings = this.findings(row);
      if (blocks(findings))
        throw new Problem(
          422,
          'findings',
          'It would be refused; mend what is found first.',
          findings.map((f) => ({ field: f.field, message: f.message })),
        );
      const cost = row.charged > 0 ? 0 : MONTHLY;
      if (cost > 0)
        await this.businesses.charge(
          w,
          businessId,
          cost,
          `texting for ${formatPhone(row.e164)}: first month`,
          'hosted',
          id,
          idFrom('mon', id, 'first month'),
        );
      const attempt = row.attempt + 1;
      await w.run(
        `UPDATE hosted SET state = $2, attempt = $3, submitted_at = $4, answered_at = NULL, reasons = '[]', charged = charged + $5, submit_key = $6, version = version + 1 WHERE id = $1`,
        [id, state, attempt, this.p.clock.now(), cost, key],
      );
      await this.p.outbox.put(w, 'hosting.file', `${id}:${attempt}`, {
        filing: {
          e164: row.e164,
          holderName: row.holder_name,
          authorisedName: row.authorised_name,
          street: row.street,
          city: row.city,
          state: row.state_code,
          postalCode: row.postal_code,
          letterSignedOn: letterOf(row)?.signedOn ?? '',
        },
      });
      await this.trail(w, row, actor, attempt > 1 ? 'text-enabling resubmitted' : 'text-enabling submitted', {
        state,
        cost: formatAmount(cost),
      });
    });
  }

  /** Takes texting off a number, or gives a set-up up. The voice service is never touched. */
  async end(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.state === 'off' || row.state === 'cancelled') return;
      const state = hostedAfter(row.state, row.state === 'on' ? 'take off' : 'cancel');
      if (!state) throw conflict('The set-up is being decided on; wait for the answer.');
      if (row.state === 'on') {
        await this.p.outbox.put(w, 'hosting.end', `${id}:end`, { e164: row.e164 });
        if (row.number_id)
          await this.landing.leave(w, row.number_id, 'texting taken off; voice stays with its carrier');
      } else if (row.charged > 0)
        await this.businesses.move(
          w,
          businessId,
          row.charged,
          'text-enabling given up: first month refunded',
          'hosted',
          id,
          idFrom('mon', id, 'refund'),
        );
      await w.run('UPDATE hosted SET state = $2, version = version + 1 WHERE id = $1', [id, state]);
      await this.signing.endLinks(w, 'hosted', id);
      await this.trail(w, row, actor, state === 'off' ? 'texting taken off' : 'text-enabling given up', { state });
    });
  }

  private async current(w: Writer, key: string): Promise<HostedRow | undefined> {
    const [id = '', attempt = ''] = key.split(':');
    return w.one<HostedRow>(`SELECT * FROM hosted WHERE id = $1 AND attempt = $2`, [id, Number(attempt)]);
  }

  private async approve(w: Writer, key: string): Promise<void> {
    const row = await this.current(w, key);
    const state = row && hostedAfter(row.state, 'approve');
    if (!row || !state) return;
    const numberId = await this.landing.land(w, {
      businessId: row.business_id,
      e164: row.e164,
      kind: row.kind === 'toll-free' ? 'toll-free' : 'local',
      source: 'hosted',
      label: row.label,
      campaignId: row.campaign_id,
      forwardTo: '',
      from: row.id,
    });
    await w.run('UPDATE hosted SET state = $2, number_id = $3, answered_at = $4, version = version + 1 WHERE id = $1', [
      row.id,
      state,
      numberId,
      this.p.clock.now(),
    ]);
    await this.trail(w, row, SYSTEM, 'approved: texting is on', { state });
  }

  private async refuse(
    w: Writer,
    key: string,
    reasons: { field: string; code: string; message: string }[],
  ): Promise<void> {
    const row = await this.current(w, key);
    const state = row && hostedAfter(row.state, 'refuse');
    if (!row || !state) return;
    await w.run('UPDATE hosted SET state = $2, reasons = $3, answered_at = $4, version = version + 1 WHERE id = $1', [
      row.id,
      state,
      JSON.stringify(reasons),
      this.p.clock.now(),
    ]);
    await this.trail(w, row, SYSTEM, 'text-enabling refused', { state, reasons });
  }

  /** An edit of a set-up that is with us. */
  private async change(
    businessId: string,
    id: string,
    seen: number | null,
    work: (w: Writer, row: HostedRow) => Promise<void>,
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      expectVersion('hosted number', row, seen);
      if (!isOpen(row)) throw conflict(`This set-up is ${row.state}; it can be edited while it is with us.`);
      await work(w, row);
      await w.run('UPDATE hosted SET version = version + 1 WHERE id = $1', [id]);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id }));
    });
  }

  private async trail(
    w: Writer,
    row: Pick<HostedRow, 'id' | 'business_id' | 'state'>,
    actor: Actor,
    action: string,
    after: object,
  ): Promise<void> {
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor,
      action,
      objectKind: 'hosted',
      objectId: row.id,
      before: { state: row.state },
      after,
    });
    w.afterCommit(() => this.p.live.tell({ businessId: row.business_id, topic: 'numbers', id: row.id }));
  }
}

function isOpen(row: Pick<HostedRow, 'state'>): boolean {
  return row.state === 'draft' || row.state === 'refused';
}

function letterOf(row: HostedRow): KeptLetter | null {
  return row.letter === null ? null : (JSON.parse(row.letter) as KeptLetter);
}

function nextStep(row: HostedRow, findings: readonly Finding[]): HostedView['nextStep'] {
  const [first] = findings;
  switch (row.state) {
    case 'draft':
    case 'refused':
      if (first?.code === 'hosted-mobile' || first?.code === 'hosted-elsewhere')
        return { title: 'This way is closed.', why: `${first.message} ${first.fix}` };
      if (first) return { title: first.fix, why: first.message };
      return { title: row.state === 'refused' ? 'Resubmit.' : 'Submit.', why: 'Everything that is asked for is here.' };
    case 'submitted':
      return { title: 'Wait for the approval.', why: 'It takes one to three days. Calls go on as before.' };
    case 'on':
      return { title: 'Nothing to do.', why: 'The number sends and receives texts; calls stay with its carrier.' };
    case 'off':
      return { title: 'Nothing to do.', why: 'Texting is off. Calls were never touched.' };
    case 'cancelled':
      return { title: 'Nothing to do.', why: 'The set-up was given up.' };
  }
}
