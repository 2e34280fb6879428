import type { DispatchView } from '@long-gate/contracts';
import {
  blocks,
  composeText,
  judge,
  nextSlot,
  segmentText,
  spend,
  startPace,
  type Finding,
  type PaceState,
} from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, Problem, refused } from '../../platform/problem.js';
import { subjectColumns, subjectOf, type Contacts, type Lookups, type SubjectRow } from '../contacts/index.js';
import { draftOf, type DispatchRow, type Drafts } from './drafts.js';
import type { GatePreview } from './gate-preview.js';
import { whyOf, type Texts } from './texts.js';

/** A dispatch goes on for so long after it was sent; those still held then are let go. */
const LASTS_MS = 3 * 86_400_000;
const CHUNK = 400;
/** Holds without a moment of their own (a lookup, a top-up) are asked again this often. */
const ASK_AGAIN_MS = 600_000;

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
  }

  /** A test of the draft to one's own mobile: through the gate, as a text to staff. */
  async test(
    person: Actor,
    mobile: string,
    businessId: string,
    id: string,
    key: string,
  ): Promise<{ messageId: string; to: string }> {
    if (mobile === '')
      throw refused('Give your own mobile first; tests go to it.', [
        { field: 'mobile', message: 'Set your mobile under Settings, You.' },
      ]);
    await this.p.db.write((w) => this.contacts.ensure(w, person, businessId, mobile));
    const known = await this.contacts.byAddress(this.p.db, businessId, mobile);
    if (known && known.lookedUpAt === null) await this.lookups.one(businessId, mobile);
    return this.p.db.write(async (w) => {
      const d = draftOf(await this.drafts.row(w, businessId, id));
      if (!d.numberId)
        throw refused('Choose the sending number first.', [{ field: 'numberId', message: 'Choose a number.' }]);
      const prepared = await this.preview.prepare(w, businessId, d);
      if (blocks(prepared.findings)) throw findingsProblem(prepared.findings);
      const messageId = idFrom('msg', businessId, id, 'test', key);
      const { verdict } = await this.texts.queue(w, {
        id: messageId,
        businessId,
        kind: 'staff test',
        purpose: d.purpose ?? 'informational',
        numberId: d.numberId,
        e164: mobile,
        text: prepared.example,
        sentBy: person.name,
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
        `UPDATE dispatch SET state = 'sending', sent_at = $2, ends_at = $3, pace = $4, version = version + 1 WHERE id = $1`,
        [id, now, now + LASTS_MS, JSON.stringify(startPace(now))],
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
      await this.letGo(w, id);
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
    return this.drafts.get(businessId, id);
  }

  private async letGo(w: Writer, id: string): Promise<void> {
    await w.run(
      `DELETE FROM outbox WHERE state = 'waiting' AND key IN (SELECT id FROM message WHERE dispatch_id = $1 AND state = 'waiting')`,
      [id],
    );
    await w.run(
      `UPDATE message SET state = 'cancelled' WHERE dispatch_id = $1 AND state IN ('judging','waiting','held')`,
      [id],
    );
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
    if (row.ends_at !== null && now >= row.ends_at) await this.letGo(w, id);
    const due = await w.all<{ id: string; e164: string; contact_number_id: number }>(
      `SELECT id, e164, contact_number_id FROM message WHERE dispatch_id = $1 AND (state = 'judging' OR (state = 'held' AND hold_until <= $2)) ORDER BY contact_number_id LIMIT ${CHUNK}`,
      [id, now],
    );
    if (due.length > 0) {
      await this.judgeMany(w, row, due);
      return due.length === CHUNK ? 'again' : { done: false, at: now };
    }
    const open = await w.one<{ moving: number; held: number; next: number | null }>(
      `SELECT coalesce(sum(state IN ('waiting','leaving')), 0) AS moving, coalesce(sum(state = 'held'), 0) AS held, min(CASE WHEN state = 'held' THEN hold_until END) AS next FROM message WHERE dispatch_id = $1`,
      [id],
    );
    await w.run(
      `UPDATE job SET done_count = (SELECT count(*) FROM message WHERE dispatch_id = $1 AND state NOT IN ('judging','waiting','held','leaving')) WHERE key = $2`,
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
    due: { id: string; e164: string; contact_number_id: number }[],
  ): Promise<void> {
    const d = draftOf(row);
    const prepared = await this.preview.prepare(w, row.business_id, d);
    const rules = await this.texts.rules(w, row.business_id);
    let left = await this.texts.allowance(w, row.business_id, prepared.sender);
    let pace = JSON.parse(row.pace ?? 'null') as PaceState | null;
    pace ??= startPace(rules.at);
    const columns = subjectColumns(prepared.emptyFields);
    const people = await w.all<SubjectRow & { id: number; first_name: string; last_name: string }>(
      `SELECT ${columns.select}, cn.id, c.first_name, c.last_name FROM contact_number cn JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId
       WHERE cn.id IN (SELECT value FROM json_each($ids))`,
      { ids: JSON.stringify(due.map((m) => m.contact_number_id)), numberId: d.numberId ?? '', now: rules.at },
    );
    const byId = new Map(people.map((x) => [x.id, x]));
    const memo = new Map();
    for (const m of due) {
      const person = byId.get(m.contact_number_id);
      if (!person) continue;
      const subject = subjectOf(person);
      const verdict = judge(subject, prepared.facts, rules, left, memo);
      if (verdict.result !== 'pass') {
        const until = verdict.result === 'hold' ? (verdict.until ?? rules.at + ASK_AGAIN_MS) : null;
        await w.run('UPDATE message SET state = $2, post = $3, reason = $4, hold_until = $5 WHERE id = $1', [
          m.id,
          verdict.result === 'hold' ? 'held' : 'stopped',
          verdict.post,
          verdict.reason,
          until,
        ]);
        continue;
      }
      left = spend(left, subject, prepared.facts, rules);
      const text = composeText(
        d.text,
        { nameLine: prepared.nameLine, stopLine: d.stopLine, signature: prepared.sender.signature },
        { firstName: person.first_name, lastName: person.last_name },
      );
      const segments = segmentText(text).parts.length;
      const slot = nextSlot(pace, subject.carrierKind, segments, prepared.sender.throughput, rules.at);
      pace = slot.state;
      await w.run(
        `UPDATE message SET state = 'waiting', text = $2, segments = $3, post = NULL, reason = NULL, hold_until = NULL WHERE id = $1`,
        [m.id, text, segments],
      );
      await this.texts.schedule(
        w,
        { messageId: m.id, from: prepared.sender.e164, to: m.e164, text, segments, transactional: d.transactional },
        slot.at,
      );
    }
    await w.run('UPDATE dispatch SET pace = $2 WHERE id = $1', [row.id, JSON.stringify(pace)]);
    this.drafts.changed(w, row.business_id, row.id);
  }

  /** A text of it settled: when nothing is on its way any more, the dispatch's job looks at once. */
  private async wake(w: Writer, id: string): Promise<void> {
    const moving = await w.one(
      `SELECT 1 FROM message WHERE dispatch_id = $1 AND state IN ('judging','waiting','leaving') LIMIT 1`,
      [id],
    );
    if (!moving) await this.p.jobs.wake(w, { key: `dispatch:${id}` });
  }

  /** Something changed that may lift holds (a lookup, a top-up, a confirmation): held recipients are asked again now. */
  async askHeldAgain(w: Writer, businessId: string): Promise<void> {
    const now = this.p.clock.now();
    await w.run(
      `UPDATE message SET hold_until = $2 WHERE business_id = $1 AND state = 'held' AND reason IN ('never-looked-up','lookup-unknown','balance-short','texts-switched-off','consent-awaiting','wish-in-review','faults-in-review','registration-pending')`,
      [businessId, now],
    );
    await this.p.jobs.wake(w, { businessId, kind: 'dispatch' });
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
