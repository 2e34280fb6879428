import type { Preview, Recipient } from '@long-gate/contracts';
import {
  blocks,
  composeText,
  DEFAULT_PRICES,
  fieldsUsed,
  finding,
  judge,
  judgeClasses,
  findLinks,
  paceFor,
  planDispatch,
  REASONS,
  reviewText,
  segmentText,
  spend,
  type CarrierKind,
  type Finding,
  type MergeField,
  type MessageFacts,
  type SubjectClass,
} from '@long-gate/core';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { subjectColumns, subjectOf, type SubjectRow } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import type { DispatchDraft } from './drafts.js';
import type { Texts } from './texts.js';

const FIELD_COLUMN: Record<MergeField, 'first_name' | 'last_name'> = { firstName: 'first_name', lastName: 'last_name' };

/** Everything a draft says, worked out: the basis of preview and sending alike. */
export interface Prepared {
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

/** What a draft would do if it were sent now: who passes each post, who is held and stopped, what it costs. */
export class GatePreview {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly texts: Texts,
  ) {}

  /** Everyone in any included list or tag, less everyone in an excluded one: contact numbers, each once. */
  audience(businessId: string, a: DispatchDraft['audience']): { sql: string; bind: Record<string, unknown> } {
    return {
      sql: `FROM contact_number cn JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId
        WHERE cn.business_id = $businessId AND cn.contact_id IN (SELECT m.contact_id FROM list_member m JOIN contact_list l ON l.id = m.list_id AND l.business_id = $businessId WHERE m.list_id IN (SELECT value FROM json_each($include)))
          AND cn.contact_id NOT IN (SELECT m.contact_id FROM list_member m WHERE m.list_id IN (SELECT value FROM json_each($exclude)))`,
      bind: { businessId, include: JSON.stringify(a.include), exclude: JSON.stringify(a.exclude) },
    };
  }

  /** Works out what will really be sent: name line, merged fields at their longest over the audience, stop line. */
  async prepare(r: Reader, businessId: string, d: DispatchDraft): Promise<Prepared> {
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
    const envelope = { nameLine: business.name_line, stopLine: d.stopLine, signature: sender.signature };
    const findings = reviewText(
      d.text,
      { purpose: d.purpose, transactional: d.transactional, override: d.override, registered: sender.campaign },
      envelope,
      longest,
    );
    const [link] = findLinks(d.text);
    if (link && sender.campaign && !sender.campaign.hasLinks) {
      findings.push(
        finding(
          'link-undeclared-by-campaign',
          'text',
          'The campaign of this number declares no links.',
          'Take the link out, or use a number whose campaign declares them.',
          { start: link.start, end: link.end },
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
      overridden: d.override !== '',
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
}

function onFile(row: SubjectRow): string {
  const said = (['conversational', 'informational', 'promotional'] as const)
    .map((p) => [p, row[`consent_${p}`]] as const)
    .filter(([, s]) => s !== 'none');
  return said.length === 0 ? 'nothing' : said.map(([p, s]) => `${p} ${s}`).join(', ');
}
