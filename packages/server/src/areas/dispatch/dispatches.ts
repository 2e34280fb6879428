import type { DispatchView, MessageView, Preview, Recipient } from '@long-gate/contracts';
import {
  blocks,
  composeText,
  DEFAULT_PRICES,
  fieldsUsed,
  finding,
  judge,
  judgeClasses,
  LINK,
  nextSlot,
  paceFor,
  planDispatch,
  REASONS,
  reviewText,
  segmentText,
  spend,
  startPace,
  type CarrierKind,
  type Finding,
  type MergeField,
  type MessageFacts,
  type PaceState,
  type Purpose,
  type SubjectClass,
} from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../platform/problem.js';
import { subjectColumns, subjectOf, type Contacts, type Lookups, type SubjectRow } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import { whyOf, type Texts } from './texts.js';

interface DispatchRow {
  id: string;
  business_id: string;
  title: string;
  text: string;
  purpose: Purpose | null;
  transactional: number;
  stop_line: number;
  number_id: string | null;
  audience: string;
  state: DispatchView['state'];
  created_by: string;
  created_at: number;
  sent_at: number | null;
  ends_at: number | null;
  pace: string | null;
  version: number;
}
export interface DispatchDraft {
  title: string;
  text: string;
  purpose: Purpose | null;
  transactional: boolean;
  stopLine: boolean;
  numberId: string | null;
  audience: { include: string[]; exclude: string[] };
}

/** A dispatch goes on for so long after it was sent; those still held then are let go. */
const LASTS_MS = 3 * 86_400_000;
const CHUNK = 400;
/** Holds without a moment of their own (a lookup, a top-up) are asked again this often. */
const ASK_AGAIN_MS = 600_000;

const FIELD_COLUMN: Record<MergeField, 'first_name' | 'last_name'> = { firstName: 'first_name', lastName: 'last_name' };

/** Everything a draft says, worked out: the basis of preview and sending alike. */
interface Prepared {
  sender: Sender;
  nameLine: string;
  findings: Finding[];
  facts: MessageFacts;
  emptyFields: ('first_name' | 'last_name')[];
  example: string;
  typical: number;
  unitsWorst: number;
  encoding: string;
}

/** Dispatches: drafts, the gate preview, sending, results. */
export class Dispatches {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
    private readonly lookups: Lookups,
    private readonly texts: Texts,
  ) {
    p.jobs.handle<{ dispatchId: string }>('dispatch', ({ dispatchId }) => this.carryOn(dispatchId));
    texts.onSettled((w, dispatchId) => this.wake(w, dispatchId));
  }

  // -- drafts ----------------------------------------------------------------------------------------------------

  async page(
    businessId: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: DispatchView[]; next: string | null; total: number }> {
    const from = Number(cursor ?? 0);
    const rows = await this.p.db.all<DispatchRow>(
      'SELECT * FROM dispatch WHERE business_id = $1 ORDER BY coalesce(sent_at, created_at) DESC, id LIMIT $2 OFFSET $3',
      [businessId, limit + 1, from],
    );
    const total = await this.p.db.one<{ n: number }>('SELECT count(*) AS n FROM dispatch WHERE business_id = $1', [
      businessId,
    ]);
    const items: DispatchView[] = [];
    for (const row of rows.slice(0, limit)) items.push(await this.show(this.p.db, row));
    return { items, next: rows.length > limit ? String(from + limit) : null, total: total?.n ?? 0 };
  }

  async get(businessId: string, id: string): Promise<DispatchView> {
    return this.show(this.p.db, await this.row(this.p.db, businessId, id));
  }

  private async row(r: Reader, businessId: string, id: string): Promise<DispatchRow> {
    const row = await r.one<DispatchRow>('SELECT * FROM dispatch WHERE id = $1 AND business_id = $2', [id, businessId]);
    if (!row) throw notFound('dispatch');
    return row;
  }

  async add(actor: Actor, businessId: string, d: DispatchDraft): Promise<DispatchView> {
    const id = newId('dis');
    await this.p.db.write(async (w) => {
      await w.run(
        `INSERT INTO dispatch (id, business_id, title, text, purpose, transactional, stop_line, number_id, audience, state, created_by, created_at) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,'draft',$10,$11)`,
        [
          id,
          businessId,
          d.title,
          d.text,
          d.purpose,
          d.transactional ? 1 : 0,
          d.stopLine ? 1 : 0,
          d.numberId,
          JSON.stringify(d.audience),
          actor.name,
          this.p.clock.now(),
        ],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch begun',
        objectKind: 'dispatch',
        objectId: id,
        after: d,
      });
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  async save(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    d: DispatchDraft,
  ): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, businessId, id);
      expectVersion('dispatch', before, seen);
      if (before.state !== 'draft') throw conflict('This dispatch has been sent; it can no longer be edited.');
      await w.run(
        'UPDATE dispatch SET title=$2, text=$3, purpose=$4, transactional=$5, stop_line=$6, number_id=$7, audience=$8, version=version+1 WHERE id=$1',
        [
          id,
          d.title,
          d.text,
          d.purpose,
          d.transactional ? 1 : 0,
          d.stopLine ? 1 : 0,
          d.numberId,
          JSON.stringify(d.audience),
        ],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch edited',
        objectKind: 'dispatch',
        objectId: id,
        before: draftOf(before),
        after: d,
      });
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  async remove(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.state !== 'draft') throw conflict('Only a draft can be thrown away; what was sent stays on record.');
      await w.run('DELETE FROM dispatch WHERE id = $1', [id]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'draft thrown away',
        objectKind: 'dispatch',
        objectId: id,
        before: draftOf(row),
      });
      this.changed(w, businessId, id);
    });
  }

  // -- the gate preview ------------------------------------------------------------------------------------------

  /** Everyone in any included list or tag, less everyone in an excluded one: contact numbers, each once. */
  private audience(businessId: string, a: DispatchDraft['audience']): { sql: string; bind: Record<string, unknown> } {
    return {
      sql: `FROM contact_number cn JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId
        WHERE cn.business_id = $businessId AND cn.contact_id IN (SELECT m.contact_id FROM list_member m JOIN contact_list l ON l.id = m.list_id AND l.business_id = $businessId WHERE m.list_id IN (SELECT value FROM json_each($include)))
          AND cn.contact_id NOT IN (SELECT m.contact_id FROM list_member m WHERE m.list_id IN (SELECT value FROM json_each($exclude)))`,
      bind: { businessId, include: JSON.stringify(a.include), exclude: JSON.stringify(a.exclude) },
    };
  }

  /** Works out what will really be sent: name line, merged fields at their longest over the audience, stop line. */
  private async prepare(r: Reader, businessId: string, d: DispatchDraft): Promise<Prepared> {
    const business = await this.businesses.row(r, businessId);
    const sender = await this.numbers.sender(r, businessId, d.numberId);
    const used = fieldsUsed(d.text);
    const { sql, bind } = this.audience(businessId, d.audience);
    const lengths =
      used.length === 0
        ? undefined
        : await r.one<Record<string, string>>(
            `SELECT ${['first_name', 'last_name'].map((f) => `(SELECT c.${f} ${sql} ORDER BY length(c.${f}) DESC LIMIT 1) AS ${f}`).join(', ')}`,
            { ...bind, numberId: d.numberId ?? '' },
          );
    const longest: Partial<Record<MergeField, string>> = {};
    for (const { name, fallback } of used) {
      const value = lengths?.[FIELD_COLUMN[name]] ?? '';
      longest[name] = value.length >= (fallback ?? '').length ? value : (fallback ?? '');
    }
    const envelope = { nameLine: business.name_line, stopLine: d.stopLine };
    const findings = reviewText(d.text, d.purpose, envelope, longest);
    const link = new RegExp(LINK.source, 'i').exec(d.text);
    if (link && sender.campaign && !sender.campaign.hasLinks) {
      findings.push(
        finding(
          'link-undeclared-by-campaign',
          'text',
          'The campaign of this number declares no links.',
          'Take the link out, or use a number whose campaign declares them.',
          { start: link.index, end: link.index + link[0].length },
        ),
      );
    }
    const worstText = composeText(d.text, envelope, longest);
    const worst = segmentText(worstText);
    const typicalText = composeText(d.text, envelope, { firstName: 'Rosalind', lastName: 'Harcastle' });
    const facts = this.texts.facts(sender, business.name_line, {
      kind: 'dispatch',
      purpose: d.purpose ?? 'informational',
      text: worstText,
      transactional: d.transactional,
      contentBlocked: blocks(findings),
    });
    return {
      sender,
      nameLine: business.name_line,
      findings,
      facts,
      emptyFields: used.filter((f) => !f.fallback).map((f) => FIELD_COLUMN[f.name]),
      example: typicalText,
      typical: segmentText(typicalText).parts.length,
      unitsWorst: worst.units,
      encoding: worst.encoding,
    };
  }

  /** Groups the audience by the columns the posts read and judges each class once. */
  async preview(businessId: string, d: DispatchDraft): Promise<Preview> {
    const r = this.p.db;
    const prepared = await this.prepare(r, businessId, d);
    const rules = await this.texts.rules(r, businessId);
    const allowance = await this.texts.allowance(r, businessId, prepared.sender);
    const { sql, bind } = this.audience(businessId, d.audience);
    const columns = subjectColumns(prepared.emptyFields);
    const rows = await r.all<SubjectRow & { n: number }>(
      `SELECT ${columns.select}, count(*) AS n ${sql} GROUP BY ${columns.groupBy} ORDER BY ${columns.groupBy}`,
      { ...bind, numberId: d.numberId ?? '', now: rules.at },
    );
    const classes: SubjectClass[] = rows.map((row) => ({ subject: subjectOf(row), count: row.n }));
    const counts = judgeClasses(classes, prepared.facts, rules, allowance);
    const memberships = await r.one<{ n: number }>(
      `SELECT count(*) AS n FROM list_member m JOIN contact_number cn ON cn.contact_id = m.contact_id WHERE cn.business_id = $businessId AND m.list_id IN (SELECT value FROM json_each($include))
         AND m.contact_id NOT IN (SELECT x.contact_id FROM list_member x WHERE x.list_id IN (SELECT value FROM json_each($exclude)))`,
      bind,
    );
    const lanes: Record<CarrierKind, number> = { A: 0, B: 0, C: 0 };
    for (const c of classes) lanes[c.subject.carrierKind] += c.count;
    const share = counts.audience > 0 ? counts.pass / counts.audience : 0;
    const plan = planDispatch(
      { A: Math.ceil(lanes.A * share), B: Math.ceil(lanes.B * share), C: Math.ceil(lanes.C * share) },
      prepared.facts.segments,
      prepared.sender.throughput,
      rules.at,
    );
    return {
      counts,
      repeats: Math.max(0, (memberships?.n ?? 0) - counts.audience),
      findings: prepared.findings,
      example: prepared.example,
      encoding: prepared.encoding,
      segmentsTypical: prepared.typical,
      segmentsWorst: prepared.facts.segments,
      unitsWorst: prepared.unitsWorst,
      cost: counts.pass * prepared.facts.segments * DEFAULT_PRICES.segment,
      balance: allowance.balance,
      lastAt: Math.round(plan.lastAt),
      perSecond: paceFor('A', prepared.sender.throughput),
      perDay: prepared.sender.throughput.brandPerDay,
      judgedAt: rules.at,
      classes: classes.length,
    };
  }

  /** Who is behind a count: the same audience in the same order, one by one, until enough are found. */
  async people(
    businessId: string,
    d: DispatchDraft,
    post: number,
    result: 'pass' | 'hold' | 'stop',
    limit: number,
  ): Promise<{ items: Recipient[]; more: boolean }> {
    const r = this.p.db;
    const prepared = await this.prepare(r, businessId, d);
    const rules = await this.texts.rules(r, businessId);
    let left = await this.texts.allowance(r, businessId, prepared.sender);
    const { sql, bind } = this.audience(businessId, d.audience);
    const columns = subjectColumns(prepared.emptyFields);
    const memo = new Map();
    const items: Recipient[] = [];
    const page = 2000;
    for (let from = 0; ; from += page) {
      // In the order in which the preview judges its classes, so that the allowance runs out at the same place.
      const rows = await r.all<SubjectRow & { e164: string; contact_id: string; name: string; id: number }>(
        `SELECT ${columns.select}, cn.e164, cn.contact_id, trim(c.first_name || ' ' || c.last_name) AS name, cn.id ${sql} ORDER BY ${columns.groupBy}, cn.id LIMIT ${page} OFFSET ${from}`,
        { ...bind, numberId: d.numberId ?? '', now: rules.at },
      );
      for (const row of rows) {
        const subject = subjectOf(row);
        const verdict = judge(subject, prepared.facts, rules, left, memo);
        if (verdict.result === 'pass') left = spend(left, subject, prepared.facts, rules);
        const here = verdict.result === result && (result === 'pass' ? true : verdict.post === post);
        if (!here) continue;
        if (items.length === limit) return { items, more: true };
        const reason = verdict.reason ? REASONS[verdict.reason] : null;
        items.push({
          contactId: row.contact_id,
          name: row.name,
          e164: row.e164,
          result: verdict.result,
          post: verdict.post,
          why: reason?.why ?? 'passes',
          lift: reason?.lift ?? '',
          until: verdict.until,
          answers: verdict.answers,
          onFile: onFile(row),
        });
      }
      if (rows.length < page) return { items, more: false };
    }
  }

  // -- sending ---------------------------------------------------------------------------------------------------

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
      const d = draftOf(await this.row(w, businessId, id));
      if (!d.numberId)
        throw refused('Choose the sending number first.', [{ field: 'numberId', message: 'Choose a number.' }]);
      const prepared = await this.prepare(w, businessId, d);
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
      const row = await this.row(w, businessId, id);
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
      const prepared = await this.prepare(w, businessId, d);
      if (blocks(prepared.findings)) throw findingsProblem(prepared.findings);
      if (prepared.sender.clearance !== 'cleared' || prepared.sender.accountState !== 'open')
        throw gateProblem(
          prepared.sender.accountState === 'open'
            ? prepared.sender.clearance
            : `account-${prepared.sender.accountState}`,
        );
      const { sql, bind } = this.audience(businessId, d.audience);
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
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  async cancel(actor: Actor, businessId: string, id: string): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
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
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
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
      this.changed(w, row.business_id, id);
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
    const prepared = await this.prepare(w, row.business_id, d);
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
        { nameLine: prepared.nameLine, stopLine: d.stopLine },
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
    this.changed(w, row.business_id, row.id);
  }

  /** A text of it settled: when nothing is on its way any more, the dispatch's job looks at once. */
  private async wake(w: Writer, id: string): Promise<void> {
    const moving = await w.one(
      `SELECT 1 FROM message WHERE dispatch_id = $1 AND state IN ('judging','waiting','leaving') LIMIT 1`,
      [id],
    );
    if (!moving)
      await w.run(`UPDATE job SET run_at = min(run_at, $2) WHERE key = $1 AND state = 'waiting'`, [
        `dispatch:${id}`,
        this.p.clock.now(),
      ]);
  }

  /** Something changed that may lift holds (a lookup, a top-up, a confirmation): held recipients are asked again now. */
  async askHeldAgain(w: Writer, businessId: string): Promise<void> {
    const now = this.p.clock.now();
    await w.run(
      `UPDATE message SET hold_until = $2 WHERE business_id = $1 AND state = 'held' AND reason IN ('never-looked-up','lookup-unknown','balance-short','texts-switched-off','consent-awaiting','wish-in-review','faults-in-review','registration-pending')`,
      [businessId, now],
    );
    await w.run(
      `UPDATE job SET run_at = min(run_at, $2) WHERE business_id = $1 AND kind = 'dispatch' AND state = 'waiting'`,
      [businessId, now],
    );
  }

  async messages(
    businessId: string,
    id: string,
    state: string | undefined,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: MessageView[]; next: string | null; total: number }> {
    await this.row(this.p.db, businessId, id);
    const bind = [id, JSON.stringify(state ? state.split(',') : [])];
    const where = `m.dispatch_id = $1 AND ($2 = '[]' OR m.state IN (SELECT value FROM json_each($2)))`;
    const rows = await this.p.db.all<MessageRecord>(
      `${MESSAGE_SELECT} WHERE ${where} AND m.id > $3 ORDER BY m.id LIMIT $4`,
      [...bind, cursor ?? '', limit + 1],
    );
    const total = await this.p.db.one<{ n: number }>(`SELECT count(*) AS n FROM message m WHERE ${where}`, bind);
    const items = rows.slice(0, limit);
    return {
      items: items.map(showMessage),
      next: rows.length > limit ? (items[items.length - 1]?.id ?? null) : null,
      total: total?.n ?? 0,
    };
  }

  private async show(r: Reader, row: DispatchRow): Promise<DispatchView> {
    const counts =
      row.state === 'draft'
        ? []
        : await r.all<{ state: string; n: number }>(
            'SELECT state, count(*) AS n FROM message WHERE dispatch_id = $1 GROUP BY state',
            [row.id],
          );
    const d = draftOf(row);
    return {
      id: row.id,
      ...d,
      state: row.state,
      createdBy: row.created_by,
      createdAt: row.created_at,
      sentAt: row.sent_at,
      endsAt: row.ends_at,
      counts: Object.fromEntries(counts.map((c) => [c.state, c.n])),
      version: row.version,
    };
  }

  private changed(w: Writer, businessId: string, id: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'dispatch', id }));
  }
}

export interface MessageRecord {
  id: string;
  direction: 'in' | 'out';
  kind: string;
  e164: string;
  name: string | null;
  text: string;
  segments: number;
  state: string;
  post: number | null;
  reason: string | null;
  hold_until: number | null;
  cost: number;
  carrier: string;
  failure_reason: string | null;
  created_at: number;
  sent_at: number | null;
  final_at: number | null;
}
export const MESSAGE_SELECT = `SELECT m.*, trim(c.first_name || ' ' || c.last_name) AS name FROM message m LEFT JOIN contact_number cn ON cn.id = m.contact_number_id LEFT JOIN contact c ON c.id = cn.contact_id`;

export function showMessage(m: MessageRecord): MessageView {
  const { why, lift } = whyOf(m.reason);
  return {
    id: m.id,
    direction: m.direction,
    kind: m.kind,
    e164: m.e164,
    name: m.name ?? '',
    text: m.text,
    segments: m.segments,
    state: m.state,
    post: m.post,
    why,
    lift,
    holdUntil: m.hold_until,
    cost: m.cost,
    carrier: m.carrier,
    failure: m.failure_reason ?? '',
    at: m.created_at,
    sentAt: m.sent_at,
    finalAt: m.final_at,
  };
}

function draftOf(row: DispatchRow): DispatchDraft {
  return {
    title: row.title,
    text: row.text,
    purpose: row.purpose,
    transactional: row.transactional === 1,
    stopLine: row.stop_line === 1,
    numberId: row.number_id,
    audience: JSON.parse(row.audience) as DispatchDraft['audience'],
  };
}

function onFile(row: SubjectRow): string {
  const said = (['conversational', 'informational', 'promotional'] as const)
    .map((p) => [p, row[`consent_${p}`]] as const)
    .filter(([, s]) => s !== 'none');
  return said.length === 0 ? 'nothing' : said.map(([p, s]) => `${p} ${s}`).join(', ');
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
