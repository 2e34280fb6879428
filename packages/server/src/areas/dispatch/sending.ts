import type { DispatchView } from '@long-gate/contracts';
import {
  blocks,
  composeText,
  judge,
  segmentText,
  spend,
  textAfter,
  type Finding,
  type ReasonCode,
  type TextState,
  type Verdict,
} from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { FactName, Facts } from '../../platform/facts.js';
import { idFrom } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, Problem, refused } from '../../platform/problem.js';
import { audienceSql, subjectOf, type Contacts, type Lookups } from '../contacts/index.js';
import { dropSchedule } from './schedule-store.js';
import { draftOf, type DispatchDraft, type Drafts } from './drafts.js';
import type { DispatchModel } from './model.js';
import { dispatchById, setDispatchState } from './dispatch-store.js';
import type { GatePreview, Longest, Prepared } from './gate-preview.js';
import { LASTS_MS } from './message-store.js';
import { VERDICT_GOOD_MS } from './round.js';
import {
  addRecipients,
  heldFor,
  judgeHeldAgain,
  moveAll,
  nextHeld,
  setJudged,
  statesOf,
  toJudge,
  type Judged,
  type ToJudge,
} from './recipient-store.js';
import { ensurePaces, paceKey } from './pace-store.js';
import { whyOf, type Texts } from './texts.js';

const HOUR_MS = 3_600_000;
const TESTS_AN_HOUR = 20;

/** Facts about one business. */
type LiftingFact = { [K in FactName]: Facts[K] extends { businessId: string } ? K : never }[FactName];

/** Which holds each fact may lift. A spec asks that every hold without a moment of its own stands here. */
export const LIFTS: readonly (readonly [LiftingFact, readonly ReasonCode[]])[] = [
  ['contacts.cleared', ['never-looked-up', 'lookup-unknown', 'unreachable', 'faults-in-review']],
  ['consent.changed', ['consent-awaiting', 'consent-disputed', 'wish-in-review']],
  ['reassigned.answered', ['reassignment-due', 'reassignment-no-data']],
  ['money.added', ['balance-short']],
  ['account.changed', ['texts-switched-off']],
  ['number.changed', ['number-not-active', 'registration-pending']],
];

/** From a draft to texts that leave: recipients written down once, judged, paced, and let go at the end. */
export class Sending {
  constructor(
    private readonly p: Platform,
    private readonly drafts: Drafts,
    private readonly preview: GatePreview,
    private readonly contacts: Contacts,
    private readonly lookups: Lookups,
    private readonly texts: Texts,
    /** What merge fields come to at most, of dispatches under way: their recipients are written down and do not change. */
    private readonly longest = new Map<string, Longest>(),
  ) {
    p.jobs.handle(
      'dispatch',
      z.object({ dispatchId: z.string() }),
      ({ dispatchId }) => this.carryOn(dispatchId),
      'held texts are looked at again',
    );
    texts.onSettled((w, dispatchId) => this.wake(w, dispatchId));
    // What may lift a hold is heard in the transaction that makes it true.
    for (const [fact, reasons] of LIFTS)
      p.db.facts.on(fact, (w, { businessId }) => this.askHeldAgain(w, businessId, reasons));
  }

  /** A test of the draft to one's own mobile: through the gate, as a text to staff. */
  async test(
    person: Actor,
    mobile: string,
    businessId: string,
    id: string,
    key: string,
    address: string,
  ): Promise<{ messageId: string; to: string }> {
    if (mobile === '')
      throw refused('Give your own mobile first; tests go to it.', [
        { field: 'mobile', message: 'Set your mobile under Settings, You.' },
      ]);
    const prepare = async (r: Reader) => {
      const d = draftOf(await this.drafts.row(r, businessId, id));
      if (!d.numberId)
        throw refused('Choose the sending number first.', [{ field: 'numberId', message: 'Choose a number.' }]);
      const prepared = await this.preview.prepare(r, businessId, d);
      if (blocks(prepared.findings)) throw findingsProblem(prepared.findings);
      return { d, numberId: d.numberId, prepared };
    };
    // What can be refused is refused before anything is paid for or left behind.
    await prepare(this.p.db);
    await this.p.db.write(async (w) => {
      await this.p.limits.take(
        w,
        [
          { act: 'test account', who: person.id, most: TESTS_AN_HOUR, withinMs: HOUR_MS },
          { act: 'test address', who: address, most: 3 * TESTS_AN_HOUR, withinMs: HOUR_MS },
        ],
        `At most ${TESTS_AN_HOUR} tests an hour are sent to one person. Try again later.`,
      );
      await this.contacts.ensure(w, person, businessId, mobile);
    });
    const known = await this.contacts.byAddress(this.p.db, businessId, mobile);
    if (known && known.lookedUpAt === null) await this.lookups.one(businessId, mobile, `test:${id}:${key}`);
    return this.p.db.write(async (w) => {
      const { d, numberId, prepared } = await prepare(w);
      const messageId = idFrom('msg', businessId, id, 'test', key);
      const { verdict } = await this.texts.queue(w, {
        id: messageId,
        businessId,
        kind: 'staff test',
        purpose: d.purpose ?? 'informational',
        numberId,
        e164: mobile,
        text: prepared.example,
        sentBy: person.name,
        overridden: d.override !== '',
      });
      if (verdict.result !== 'pass') throw gateProblem(verdict.reason);
      await record(w, this.p.clock, {
        businessId,
        actor: person,
        action: 'test sent',
        objectKind: 'dispatch',
        objectId: id,
        after: { to: mobile },
      });
      return { messageId, to: mobile };
    });
  }

  /**
   * Sends. The recipients are written down, each once (unique by dispatch and number), in the transaction that leaves
   * the draft state; a second click finds the dispatch already sending and changes nothing.
   * @param ownTime the wall time chosen for it where each recipient is; null for now.
   */
  async send(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    ownTime: string | null = null,
  ): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.drafts.row(w, businessId, id);
      if (row.state === 'sending' || row.state === 'done') return;
      expectVersion('dispatch', row, seen);
      if (row.state !== 'draft') throw conflict('This dispatch was cancelled.');
      const d = draftOf(row);
      const prepared = await this.requireSendable(w, businessId, d);
      const now = this.p.clock.now();
      await addRecipients(w, await audienceSql(w, this.preview.audience(businessId, d)), {
        dispatchId: id,
        businessId,
        purpose: d.purpose ?? '',
        numberId: d.numberId ?? '',
        segments: prepared.facts.segments,
        now,
        by: actor.name,
      });
      const audience = (await statesOf(w, id))['judging'] ?? 0;
      if (audience === 0)
        throw refused('Nobody is in this audience.', [
          { field: 'audience', message: 'Choose a list or tag with contacts.' },
        ]);
      await dropSchedule(w, id);
      w.tell('dispatch.sending', { businessId, dispatchId: id, title: d.title, ...d.audience });
      await setDispatchState(w, row, { state: 'sending', sentAt: now, endsAt: now + LASTS_MS, ownTime });
      await this.p.jobs.add(w, {
        kind: 'dispatch',
        businessId,
        payload: { dispatchId: id },
        title: `Sending ${d.title}`,
        total: audience,
        key: `dispatch:${id}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch sent',
        objectKind: 'dispatch',
        objectId: id,
        before: { state: 'draft' },
        after: { state: 'sending', audience },
      });
      this.drafts.changed(w, businessId, id);
    });
    return this.drafts.get(businessId, id);
  }

  /** What has to be there before a dispatch can leave, now or later. @throws Problem 422 saying what is missing or wrong. */
  async requireSendable(r: Reader, businessId: string, d: DispatchDraft): Promise<Prepared> {
    const missing = [
      ...(d.purpose ? [] : [{ field: 'purpose', message: 'Name the purpose.' }]),
      ...(d.numberId ? [] : [{ field: 'numberId', message: 'Choose the sending number.' }]),
      ...(d.audience.include.length > 0 ? [] : [{ field: 'audience', message: 'Choose an audience.' }]),
    ];
    if (missing.length > 0) throw refused(missing.map((m) => m.message).join(' '), missing);
    const prepared = await this.preview.prepare(r, businessId, d);
    if (blocks(prepared.findings)) throw findingsProblem(prepared.findings);
    const { clearance, accountState } = prepared.sender;
    if (clearance !== 'cleared' || accountState !== 'open')
      throw gateProblem(accountState === 'open' ? clearance : `account-${accountState}`);
    return prepared;
  }

  async cancel(actor: Actor, businessId: string, id: string): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.drafts.row(w, businessId, id);
      if (row.state !== 'sending') return;
      await this.letGo(w, businessId, id, 'cancelled');
      await setDispatchState(w, row, { state: 'cancelled' });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch cancelled',
        objectKind: 'dispatch',
        objectId: id,
        before: { state: 'sending' },
        after: { state: 'cancelled' },
      });
      this.drafts.changed(w, businessId, id);
    });
    // What is said to be stopped has stopped: those in the air have come down.
    await this.p.inFlight.settled(VERDICT_GOOD_MS);
    return this.drafts.get(businessId, id);
  }

  /** Nobody wants these texts any more: what is not at the network never gets there. */
  private async letGo(w: Writer, businessId: string, id: string, over: 'cancelled' | 'ended'): Promise<void> {
    if (over === 'ended')
      // What waited for something that never came is stopped, and its reason stays.
      await moveAll(w, id, 'held', 'stopped');
    for (const state of ['judging', 'waiting', 'held'] as const)
      await moveAll(w, id, state, textAfter(state, { kind: 'cancelled' }));
    w.tell('dispatch.ended', { businessId, dispatchId: id });
  }

  /** Judges who is not judged yet and who was held and whose moment has come; ends the dispatch when all is done. */
  private async carryOn(id: string): Promise<JobOutcome> {
    const lot = new Lot(1000);
    for (;;) {
      const step = await lot.write(this.p.db, (w, size) => this.judgeChunk(w, id, size));
      if (step === 'again') continue;
      return step;
    }
  }

  private async judgeChunk(w: Writer, id: string, size: number): Promise<JobOutcome | 'again'> {
    const row = await dispatchById(w, id);
    if (!row || row.state !== 'sending') return { done: true };
    const now = this.p.clock.now();
    if (row.endsAt !== null && now >= row.endsAt) await this.letGo(w, row.businessId, id, 'ended');
    const due = await toJudge(w, id, now, size);
    if (due.length > 0) {
      await this.judgeMany(w, row, due);
      return due.length === size ? 'again' : { done: false, at: now };
    }
    const states = await statesOf(w, id);
    const count = (...of: TextState[]): number => of.reduce((n, x) => n + (states[x] ?? 0), 0);
    const moving = count('waiting', 'leaving', 'unsure');
    const held = count('held');
    const all = Object.values(states).reduce((n, x) => n + x, 0);
    await this.p.jobs.reached(w, `dispatch:${id}`, all - moving - held - count('judging'));
    if (moving === 0 && held === 0) {
      this.longest.delete(id);
      await setDispatchState(w, row, { state: 'done' });
      await record(w, this.p.clock, {
        businessId: row.businessId,
        actor: SYSTEM,
        action: 'dispatch done',
        objectKind: 'dispatch',
        objectId: id,
      });
      this.drafts.changed(w, row.businessId, id);
      return { done: true, result: 'all texts have left or were stopped' };
    }
    // Whoever is held follows at their moment; the last leaving text wakes this job by itself.
    const next = Math.min((await nextHeld(w, id)) ?? Infinity, row.endsAt ?? Infinity, now + LASTS_MS);
    return { done: false, at: Math.max(next, now + 1000) };
  }

  private async judgeMany(w: Writer, row: DispatchModel, due: readonly ToJudge[]): Promise<void> {
    const d = draftOf(row);
    const longest = this.longest.get(row.id) ?? (await this.preview.longest(w, row.businessId, d));
    this.longest.set(row.id, longest);
    const ready = await this.preview.prepare(w, row.businessId, d, longest);
    const prepared = { ...ready, facts: { ...ready.facts, notBefore: row.ownTime } };
    const rules = await this.texts.rules(w, row.businessId);
    let left = await this.texts.allowance(w, row.businessId, prepared.sender);
    const people = await this.contacts.subjectRows(
      w,
      due.map((m) => m.contact_number_id),
      d.numberId ?? '',
      prepared.emptyFields,
    );
    const judged: Judged[] = [];
    const keys = new Set<string>();
    for (const m of due) {
      const person = people.get(m.contact_number_id);
      if (!person) {
        // The contact is no more.
        judged.push([m.id, textAfter(m.state, { kind: 'cancelled' }), null, null, null, '', 1, '', '']);
        continue;
      }
      const subject = subjectOf(person);
      const verdict: Verdict = judge(subject, prepared.facts, rules, left);
      const state = textAfter(m.state, { kind: 'judged', verdict, mayWait: true });
      if (verdict.result !== 'pass') {
        judged.push([m.id, state, verdict.post, verdict.reason, verdict.until, '', prepared.facts.segments, '', '']);
        continue;
      }
      left = spend(left, subject, prepared.facts, rules);
      const text = composeText(d.text, prepared.envelope, { firstName: person.first_name, lastName: person.last_name });
      const key = paceKey(prepared.sender, subject.carrierKind);
      keys.add(key);
      judged.push([m.id, state, null, null, null, text, segmentText(text).parts.length, key, subject.carrierKind]);
    }
    await ensurePaces(w, keys);
    // One statement for the lot: a chunk keeps the write queue for a moment only, and a STOP waits no longer.
    await setJudged(w, judged, rules.at);
    this.drafts.changed(w, row.businessId, row.id);
  }

  /** A text of it settled: when nothing is on its way any more, the dispatch's job looks at once. */
  private async wake(w: Writer, id: string): Promise<void> {
    const states = await statesOf(w, id);
    const moving = (['judging', 'waiting', 'leaving', 'unsure'] as const).some((x) => (states[x] ?? 0) > 0);
    if (!moving) await this.p.jobs.wake(w, { key: `dispatch:${id}` });
  }

  /** Something happened that may lift holds: those who wait for it are asked again now. */
  private async askHeldAgain(w: Writer, businessId: string, reasons: readonly ReasonCode[]): Promise<void> {
    const held = await heldFor(w, businessId, reasons);
    if (held.length === 0) return;
    await judgeHeldAgain(w, businessId, reasons, this.p.clock.now());
    for (const id of held) await this.p.jobs.wake(w, { key: `dispatch:${id}` });
  }
}

function findingsProblem(findings: Finding[]): Problem {
  const list = findings.filter((f) => f.severity === 'block');
  return new Problem(
    422,
    'findings',
    list.map((f) => `${f.message} ${f.fix}`).join(' '),
    list.map((f) => ({ field: f.field, message: `${f.message} ${f.fix}` })),
  );
}

/** The gate's refusal of a single text, in words. */
export function gateProblem(reason: string | null): Problem {
  const { why, lift } = whyOf(reason);
  return new Problem(
    422,
    'gate',
    `The gate stops this: ${why || 'it does not pass'}.${lift ? ` What would lift it: ${lift}.` : ''}`,
    [{ field: 'gate', message: why }],
  );
}
