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
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import type { FactName } from '../../platform/facts.js';
import { idFrom } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, Problem, refused } from '../../platform/problem.js';
import { subjectColumns, subjectOf, type Contacts, type Lookups, type SubjectRow } from '../contacts/index.js';
import { draftOf, type DispatchRow, type Drafts } from './drafts.js';
import type { GatePreview } from './gate-preview.js';
import { VERDICT_GOOD_MS } from './hand-over.js';
import { ensurePaces, paceKey } from './pace-store.js';
import { whyOf, type Texts } from './texts.js';

/** A dispatch goes on for so long after it was sent; what is still held then ends as stopped, with its reason. */
const LASTS_MS = 3 * 86_400_000;
const CHUNK = 200;
const HOUR_MS = 3_600_000;
const TESTS_AN_HOUR = 20;

/** Which holds each fact may lift. A spec asks that every hold without a moment of its own stands here. */
export const LIFTS: readonly (readonly [FactName, readonly ReasonCode[]])[] = [
  ['contacts.cleared', ['never-looked-up', 'lookup-unknown', 'unreachable', 'faults-in-review']],
  ['consent.changed', ['consent-awaiting', 'consent-disputed', 'wish-in-review']],
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
  ) {
    p.jobs.handle<{ dispatchId: string }>('dispatch', ({ dispatchId }) => this.carryOn(dispatchId));
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
   */
  async send(actor: Actor, businessId: string, id: string, seen: number | null): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.drafts.row(w, businessId, id);
      if (row.state === 'sending' || row.state === 'done') return;
      expectVersion('dispatch', row, seen);
      if (row.state !== 'draft') throw conflict('This dispatch was cancelled.');
      const d = draftOf(row);
      const missing = [
        ...(d.purpose ? [] : [{ field: 'purpose', message: 'Name the purpose.' }]),
        ...(d.numberId ? [] : [{ field: 'numberId', message: 'Choose the sending number.' }]),
        ...(d.audience.include.length > 0 ? [] : [{ field: 'audience', message: 'Choose an audience.' }]),
      ];
      if (missing.length > 0) throw refused(missing.map((m) => m.message).join(' '), missing);
      const prepared = await this.preview.prepare(w, businessId, d);
      if (blocks(prepared.findings)) throw findingsProblem(prepared.findings);
      if (prepared.sender.clearance !== 'cleared' || prepared.sender.accountState !== 'open')
        throw gateProblem(
          prepared.sender.accountState === 'open'
            ? prepared.sender.clearance
            : `account-${prepared.sender.accountState}`,
        );
      const { sql, bind } = this.preview.audience(businessId, d.audience);
      const now = this.p.clock.now();
      await w.run(
        `INSERT INTO message (id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, created_at, sent_by)
         SELECT $dispatchId || '-' || cn.id, $businessId, $dispatchId, 'out', 'dispatch', $purpose, $numberId, cn.e164, cn.id, '', $segments, 'judging', $now, $by ${sql} ON CONFLICT DO NOTHING`,
        {
          ...bind,
          dispatchId: id,
          purpose: d.purpose,
          numberId: d.numberId,
          segments: prepared.facts.segments,
          now,
          by: actor.name,
        },
      );
      const n = await w.one<{ n: number }>('SELECT count(*) AS n FROM message WHERE dispatch_id = $1', [id]);
      if ((n?.n ?? 0) === 0)
        throw refused('Nobody is in this audience.', [
          { field: 'audience', message: 'Choose a list or tag with contacts.' },
        ]);
      await w.run(
        `UPDATE dispatch SET state = 'sending', sent_at = $2, ends_at = $3, version = version + 1 WHERE id = $1`,
        [id, now, now + LASTS_MS],
      );
      await this.p.jobs.add(w, {
        kind: 'dispatch',
        businessId,
        payload: { dispatchId: id },
        title: `Sending ${d.title}`,
        total: n?.n ?? 0,
        key: `dispatch:${id}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch sent',
        objectKind: 'dispatch',
        objectId: id,
        before: { state: 'draft' },
        after: { state: 'sending', audience: n?.n ?? 0 },
      });
      this.drafts.changed(w, businessId, id);
    });
    return this.drafts.get(businessId, id);
  }

  async cancel(actor: Actor, businessId: string, id: string): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.drafts.row(w, businessId, id);
      if (row.state !== 'sending') return;
      await this.letGo(w, businessId, id, 'cancelled');
      await w.run(`UPDATE dispatch SET state = 'cancelled', version = version + 1 WHERE id = $1`, [id]);
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
      await w.run(`UPDATE message SET state = 'stopped', hold_until = NULL WHERE dispatch_id = $1 AND state = 'held'`, [
        id,
      ]);
    for (const state of ['judging', 'waiting', 'held'] as const)
      await w.run(`UPDATE message SET state = $3, hold_until = NULL WHERE dispatch_id = $1 AND state = $2`, [
        id,
        state,
        textAfter(state, { kind: 'cancelled' }),
      ]);
    w.tell('dispatch.ended', { businessId, dispatchId: id });
  }

  /** Judges who is not judged yet and who was held and whose moment has come; ends the dispatch when all is done. */
  private async carryOn(id: string): Promise<JobOutcome> {
    for (;;) {
      const step = await this.p.db.write((w) => this.judgeChunk(w, id));
      if (step === 'again') continue;
      return step;
    }
  }

  private async judgeChunk(w: Writer, id: string): Promise<JobOutcome | 'again'> {
    const row = await w.one<DispatchRow>('SELECT * FROM dispatch WHERE id = $1', [id]);
    if (!row || row.state !== 'sending') return { done: true };
    const now = this.p.clock.now();
    if (row.ends_at !== null && now >= row.ends_at) await this.letGo(w, row.business_id, id, 'ended');
    const due = await w.all<{ id: string; e164: string; contact_number_id: number; state: TextState }>(
      `SELECT id, e164, contact_number_id, state FROM message WHERE dispatch_id = $1 AND (state = 'judging' OR (state = 'held' AND hold_until <= $2)) ORDER BY contact_number_id LIMIT ${CHUNK}`,
      [id, now],
    );
    if (due.length > 0) {
      await this.judgeMany(w, row, due);
      return due.length === CHUNK ? 'again' : { done: false, at: now };
    }
    const open = await w.one<{ moving: number; held: number; next: number | null }>(
      `SELECT coalesce(sum(state IN ('waiting','leaving','unsure')), 0) AS moving, coalesce(sum(state = 'held'), 0) AS held, min(CASE WHEN state = 'held' THEN hold_until END) AS next FROM message WHERE dispatch_id = $1`,
      [id],
    );
    await w.run(
      `UPDATE job SET done_count = (SELECT count(*) FROM message WHERE dispatch_id = $1 AND state NOT IN ('judging','waiting','held','leaving','unsure')) WHERE key = $2`,
      [id, `dispatch:${id}`],
    );
    if (!open || (open.moving === 0 && open.held === 0)) {
      await w.run(`UPDATE dispatch SET state = 'done', version = version + 1 WHERE id = $1`, [id]);
      await record(w, this.p.clock, {
        businessId: row.business_id,
        actor: SYSTEM,
        action: 'dispatch done',
        objectKind: 'dispatch',
        objectId: id,
      });
      this.drafts.changed(w, row.business_id, id);
      return { done: true, result: 'all texts have left or were stopped' };
    }
    // Whoever is held follows at their moment; the last leaving text wakes this job by itself.
    const next = Math.min(open.next ?? Infinity, row.ends_at ?? Infinity, now + LASTS_MS);
    return { done: false, at: Math.max(next, now + 1000) };
  }

  private async judgeMany(
    w: Writer,
    row: DispatchRow,
    due: { id: string; e164: string; contact_number_id: number; state: TextState }[],
  ): Promise<void> {
    const d = draftOf(row);
    const prepared = await this.preview.prepare(w, row.business_id, d);
    const rules = await this.texts.rules(w, row.business_id);
    let left = await this.texts.allowance(w, row.business_id, prepared.sender);
    const columns = subjectColumns(prepared.emptyFields);
    const people = await w.all<SubjectRow & { id: number; first_name: string; last_name: string }>(
      `SELECT ${columns.select}, cn.id, c.first_name, c.last_name FROM contact_number cn JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId
       WHERE cn.id IN (SELECT value FROM json_each($ids))`,
      { ids: JSON.stringify(due.map((m) => m.contact_number_id)), numberId: d.numberId ?? '', now: rules.at },
    );
    const byId = new Map(people.map((x) => [x.id, x]));
    const memo = new Map();
    const judged: unknown[][] = [];
    const keys = new Set<string>();
    const envelope = { nameLine: prepared.nameLine, stopLine: d.stopLine, signature: prepared.sender.signature };
    for (const m of due) {
      const person = byId.get(m.contact_number_id);
      if (!person) {
        // The contact is no more.
        judged.push([m.id, textAfter(m.state, { kind: 'cancelled' }), null, null, null, '', 1, '']);
        continue;
      }
      const subject = subjectOf(person);
      const verdict: Verdict = judge(subject, prepared.facts, rules, left, memo);
      const state = textAfter(m.state, { kind: 'judged', verdict, mayWait: true });
      if (verdict.result !== 'pass') {
        judged.push([m.id, state, verdict.post, verdict.reason, verdict.until, '', prepared.facts.segments, '']);
        continue;
      }
      left = spend(left, subject, prepared.facts, rules);
      const text = composeText(d.text, envelope, { firstName: person.first_name, lastName: person.last_name });
      const key = paceKey(prepared.sender, subject.carrierKind);
      keys.add(key);
      judged.push([m.id, state, null, null, null, text, segmentText(text).parts.length, key]);
    }
    await ensurePaces(w, keys);
    // One statement for the lot: a chunk keeps the write queue for a moment only, and a STOP waits no longer.
    await w.run(
      `UPDATE message SET state = j.value->>1, post = j.value->>2, reason = j.value->>3, hold_until = j.value->>4, text = j.value->>5, segments = j.value->>6, pace_key = j.value->>7, due_at = $2
       FROM json_each($1) AS j WHERE message.id = j.value->>0`,
      [jsonRows(judged), rules.at],
    );
    this.drafts.changed(w, row.business_id, row.id);
  }

  /** A text of it settled: when nothing is on its way any more, the dispatch's job looks at once. */
  private async wake(w: Writer, id: string): Promise<void> {
    const moving = await w.one(
      `SELECT 1 FROM message WHERE dispatch_id = $1 AND state IN ('judging','waiting','leaving','unsure') LIMIT 1`,
      [id],
    );
    if (!moving) await this.p.jobs.wake(w, { key: `dispatch:${id}` });
  }

  /** Something happened that may lift holds: those who wait for it are asked again now. */
  private async askHeldAgain(w: Writer, businessId: string, reasons: readonly ReasonCode[]): Promise<void> {
    const held = await w.all<{ dispatch_id: string }>(
      `SELECT DISTINCT dispatch_id FROM message WHERE business_id = $1 AND state = 'held' AND reason IN (SELECT value FROM json_each($2))`,
      [businessId, JSON.stringify(reasons)],
    );
    if (held.length === 0) return;
    await w.run(
      `UPDATE message SET hold_until = $3 WHERE business_id = $1 AND state = 'held' AND reason IN (SELECT value FROM json_each($2))`,
      [businessId, JSON.stringify(reasons), this.p.clock.now()],
    );
    for (const { dispatch_id } of held) await this.p.jobs.wake(w, { key: `dispatch:${dispatch_id}` });
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
