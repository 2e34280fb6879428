import type { HostedView } from '@long-gate/contracts';
import {
  blocks,
  DEFAULT_PRICES,
  formatAmount,
  formatPhone,
  hostedAfter,
  parsePhone,
  PHONE_REFUSALS,
  type Finding,
} from '@long-gate/core';
import { HostingFiling } from '@long-gate/gateways';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import { DAY_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import type { Landing } from '../landing.js';
import type { Letter, Signing } from '../letters/index.js';
import { openPortOf, portDay } from '../porting/index.js';
import { isTaken } from '../number-store.js';
import {
  addHosted,
  countCodeTry,
  hostedById,
  hostedNumbers,
  hostedOf,
  hostedOn,
  isHosted,
  keepHosted,
  noteCall,
  saveHosted,
} from './hosted-store.js';
import { findingsOf, holderOf, isOpen, letterFor, MONTHLY, showHosted } from './hosted-view.js';
import type { HostedModel } from './model.js';

/** Wrong codes after which the line has to be called again. */
const CODE_TRIES = 5;
const CALLS_A_DAY = 5;

/** A call on its way; those that waited when this was put in do not say what they cost, nor when they were asked for. */
const Call = z.object({ e164: z.string(), entry: z.string().optional(), at: z.number().optional() });
type Call = z.infer<typeof Call>;

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
        const row = await hostedById(r, id);
        return (
          (row && {
            letter: await this.letterOf(r, row),
            businessId: row.businessId,
            open: isOpen(row),
            signedBy: row.letter?.signedBy ?? '',
          }) ??
          null
        );
      },
      keep: (w, id, letter) => saveHosted(w, id, { letter }),
    });
    p.outbox.carry('hosting.call', Call, {
      deliver: (key, b) => p.gateways.hosting.callWithCode(key, b.e164),
      refused: (w, key, b, error) => this.notCalled(w, key, b, error.message),
    });
    p.outbox.carry('hosting.file', z.object({ filing: HostingFiling }), {
      deliver: (key, b) => p.gateways.hosting.file(key, b.filing),
      refused: (w, key, _b, error) =>
        this.refuse(w, key, [{ field: 'e164', code: error.code, message: error.message }]),
    });
    p.outbox.carry('hosting.end', z.object({ e164: z.string() }), {
      deliver: (key, b) => p.gateways.hosting.end(key, b.e164),
      refused: async () => undefined,
    });
    p.db.facts.on('number.gone', (w, { numberId }) => this.lost(w, numberId));
    p.feed.on('hosting.approved', (w, e) => this.approve(w, e.key));
    p.feed.on('hosting.refused', (w, e) => this.refuse(w, e.key, e.reasons));
  }

  /** Set-ups whose number holds these digits, or whose label, holder or voice carrier these words, in small letters. */
  async find(
    businessId: string,
    words: string,
    digits: string,
    limit: number,
  ): Promise<{ id: string; e164: string; label: string; state: string }[]> {
    return (await this.list(businessId))
      .filter(
        (h) =>
          (digits !== '' && h.e164.includes(digits)) ||
          `${h.facts.label} ${h.facts.holderName} ${h.voiceCarrier}`.toLowerCase().includes(words),
      )
      .slice(0, limit)
      .map((h) => ({ id: h.id, e164: h.e164, label: h.facts.label, state: h.state }));
  }

  /** Numbers that are text-enabled here or prepared for it, of every business. */
  onTheirWay(r: Reader): Promise<string[]> {
    return hostedNumbers(r);
  }

  async list(businessId: string): Promise<HostedView[]> {
    const rows = await hostedOf(this.p.db, businessId);
    return Promise.all(rows.map((row) => this.show(row)));
  }

  async get(businessId: string, id: string): Promise<HostedView> {
    return this.show(await this.row(this.p.db, businessId, id));
  }

  private async row(r: Reader, businessId: string, id: string): Promise<HostedModel> {
    const row = await hostedById(r, id);
    if (row?.businessId !== businessId) throw notFound('hosted number');
    return row;
  }

  private findings(row: HostedModel): Finding[] {
    return findingsOf(row, this.p.clock.now());
  }

  private async show(row: HostedModel): Promise<HostedView> {
    return showHosted(row, await this.signing.linkOf(this.p.db, 'hosted', row.id), this.p.clock.now());
  }

  private async letterOf(r: Reader, row: HostedModel): Promise<Letter> {
    const business = (await this.businesses.row(r, row.businessId)).legal_name;
    return letterFor(row, business, this.p.clock.now());
  }

  /** Begins a set-up for one number. Once for one key. */
  async begin(actor: Actor, businessId: string, raw: string, key: string): Promise<HostedView> {
    const parsed = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
    if (!parsed.ok)
      throw refused(PHONE_REFUSALS[parsed.reason], [{ field: 'number', message: PHONE_REFUSALS[parsed.reason] }]);
    const id = idFrom('hst', businessId, key);
    const test = await this.p.gateways.hosting.test(parsed.e164);
    await this.p.db.write(async (w) => {
      if (await hostedById(w, id)) return;
      const taken =
        (await isTaken(w, parsed.e164)) || (await isHosted(w, parsed.e164)) || (await openPortOf(w, parsed.e164));
      if (taken)
        throw refused(`${formatPhone(parsed.e164)} is with us already, or on its way.`, [
          { field: 'number', message: 'With us already, or on its way.' },
        ]);
      const b = await this.businesses.row(w, businessId);
      await addHosted(w, {
        id,
        businessId,
        e164: parsed.e164,
        kind: test.kind,
        voiceCarrier: test.voiceCarrier,
        enabledElsewhere: test.enabledElsewhere,
        holderName: b.legal_name,
        authorisedName: b.contact_name,
        street: b.street,
        city: b.city,
        stateCode: b.state,
        postalCode: b.postal_code,
        begunAt: Math.round(this.p.clock.now()),
      });
      await this.trail(w, { id, businessId, state: 'draft' }, actor, 'text-enabling begun', {
        e164: parsed.e164,
      });
    });
    return this.get(businessId, id);
  }

  async save(actor: Actor, businessId: string, id: string, seen: number | null, f: HostedView['facts']): Promise<void> {
    await this.change(businessId, id, seen, async (w, row) => {
      const before = (await this.show(row)).facts;
      const { state, ...facts } = f;
      await keepHosted(w, id, { ...facts, stateCode: state.toUpperCase() });
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
      if (row.holderName === '')
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
      const at = Math.round(this.p.clock.now());
      await noteCall(w, id, at);
      await this.p.outbox.put(w, 'hosting.call', `${id}:call:${row.version}`, { e164: row.e164, entry, at });
      await this.trail(w, row, actor, 'line called with a code', {});
    });
  }

  /** The carrier does not call this line: no code of this call is waited for, and what it cost comes back. */
  private async notCalled(w: Writer, key: string, { entry, at }: Call, why: string): Promise<void> {
    const row = await hostedById(w, key.split(':')[0] ?? '');
    if (!row) return;
    if (entry)
      await this.businesses.move(
        w,
        row.businessId,
        DEFAULT_PRICES.segment,
        `call to ${formatPhone(row.e164)} not made: paid back`,
        'hosted',
        row.id,
        idFrom('mon', entry, 'back'),
      );
    if (row.calledAt === at && !row.codeConfirmed) await saveHosted(w, row.id, { calledAt: null });
    await this.trail(w, row, SYSTEM, 'line not called', { why });
  }

  async confirm(actor: Actor, businessId: string, id: string, code: string): Promise<void> {
    // The try is counted before it is made: however many come at once, five are made.
    const asked = await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.calledAt === null || row.codeTries >= CODE_TRIES)
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
      await keepHosted(w, id, { codeConfirmed: true });
      await this.trail(w, row, actor, 'code from the call given back', {});
    });
  }

  async submit(actor: Actor, businessId: string, id: string, key: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.state === 'submitted' || row.submitKey === key) return;
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
      await saveHosted(w, id, {
        state,
        attempt,
        submittedAt: Math.round(this.p.clock.now()),
        answeredAt: null,
        reasons: [],
        charged: row.charged + cost,
        submitKey: key,
      });
      await this.p.outbox.put(w, 'hosting.file', `${id}:${attempt}`, {
        filing: {
          e164: row.e164,
          ...holderOf(row),
          letterSignedOn: row.letter?.signedOn ?? '',
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
      await saveHosted(w, id, { state });
      if (row.state === 'on') {
        await this.takeOff(w, row);
        if (row.numberId)
          await this.landing.leave(w, row.numberId, 'texting off', 'texting taken off; voice stays with its carrier');
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
      await this.signing.endLinks(w, 'hosted', id);
      await this.trail(w, row, actor, state === 'off' ? 'texting taken off' : 'text-enabling given up', { state });
    });
  }

  /** The number is ours no more, lost for its fee or taken elsewhere: no texts of its line come here any longer. */
  private async lost(w: Writer, numberId: string): Promise<void> {
    const row = await hostedOn(w, numberId);
    if (!row) return;
    await saveHosted(w, row.id, { state: 'off' });
    await this.takeOff(w, row);
    await this.trail(w, row, SYSTEM, 'texting taken off: the number is not ours any more', { state: 'off' });
  }

  private takeOff(w: Writer, { id, e164 }: HostedModel): Promise<unknown> {
    return this.p.outbox.put(w, 'hosting.end', `${id}:end`, { e164 });
  }

  private async current(w: Writer, key: string): Promise<HostedModel | null> {
    const [id = '', attempt = ''] = key.split(':');
    const row = await hostedById(w, id);
    return row?.attempt === Number(attempt) ? row : null;
  }

  private async approve(w: Writer, key: string): Promise<void> {
    const row = await this.current(w, key);
    const state = row && hostedAfter(row.state, 'approve');
    if (!row || !state) return;
    const numberId = await this.landing.land(w, {
      businessId: row.businessId,
      e164: row.e164,
      kind: row.kind === 'toll-free' ? 'toll-free' : 'local',
      source: 'hosted',
      label: row.label,
      campaignId: row.campaignId,
      forwardTo: '',
      from: row.id,
    });
    await saveHosted(w, row.id, { state, numberId, answeredAt: Math.round(this.p.clock.now()) });
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
    await saveHosted(w, row.id, {
      state,
      reasons,
      answeredAt: Math.round(this.p.clock.now()),
    });
    await this.trail(w, row, SYSTEM, 'text-enabling refused', { state, reasons });
  }

  /** An edit of a set-up that is with us. */
  private async change(
    businessId: string,
    id: string,
    seen: number | null,
    work: (w: Writer, row: HostedModel) => Promise<void>,
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      expectVersion('hosted number', row, seen);
      if (!isOpen(row)) throw conflict(`This set-up is ${row.state}; it can be edited while it is with us.`);
      await work(w, row);
      await saveHosted(w, id, {});
      w.tell('letter.edited', { objectKind: 'hosted', objectId: id });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id }));
    });
  }

  private async trail(
    w: Writer,
    row: Pick<HostedModel, 'id' | 'businessId' | 'state'>,
    actor: Actor,
    action: string,
    after: object,
  ): Promise<void> {
    await record(w, this.p.clock, {
      businessId: row.businessId,
      actor,
      action,
      objectKind: 'hosted',
      objectId: row.id,
      before: { state: row.state },
      after,
    });
    w.afterCommit(() => this.p.live.tell({ businessId: row.businessId, topic: 'numbers', id: row.id }));
  }
}
