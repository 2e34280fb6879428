import type { Preview, When } from '@long-gate/contracts';
import {
  blocks,
  composeText,
  DEFAULT_PRICES,
  fieldsUsed,
  finding,
  judgeClasses,
  judgeStretches,
  findLinks,
  momentOf,
  openByHour,
  ownPageSpan,
  ownMoment,
  sendWindow,
  paceFor,
  planDispatch,
  postNo,
  reviewText,
  segmentText,
  type Allowance,
  type CarrierKind,
  type ContactField,
  type Envelope,
  type Finding,
  type GateRules,
  type HoursRules,
  type MessageFacts,
  type Placed,
  type SubjectClass,
} from '@long-gate/core';
import { DateTime } from 'luxon';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import {
  audienceClasses,
  audienceMemberships,
  countDueIn,
  longestFields,
  PacedQuestions,
  subjectOf,
  type AskedBy,
  type Audience,
  type SubjectRow,
  type Textability,
} from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import type { DispatchDraft } from './drafts.js';
import type { Texts } from './texts.js';

const FIELD_COLUMN: Record<ContactField, 'first_name' | 'last_name'> = {
  firstName: 'first_name',
  lastName: 'last_name',
};

const HOURS = postNo('hours');
/** So far ahead it is shown when an audience may be texted. */
const HOURS_AHEAD = 48;

/** The longest value of each merge field that is used. */
export type Longest = Partial<Record<ContactField, string>>;

/** Everything a draft says, worked out: the basis of preview and sending alike. */
export interface Prepared {
  sender: Sender;
  envelope: Envelope;
  findings: Finding[];
  facts: MessageFacts;
  emptyFields: ('first_name' | 'last_name')[];
  example: string;
  typical: number;
  unitsWorst: number;
  encoding: string;
}

/** What a dispatch is judged by at a moment. */
export interface Judging {
  prepared: Prepared;
  /** The zone of the business. */
  zone: string;
  /** When it would begin, where a time was chosen for it. */
  begins: number | null;
  now: number;
  rules: GateRules;
  allowance: Allowance;
  audience: Audience;
  by: AskedBy;
  /** The audience by how the posts see it, and the same as the gate reads it. */
  rows: (SubjectRow & { n: number })[];
  classes: SubjectClass[];
}

/** What another area finds in what would be sent now. */
export type AlsoFinds = (
  r: Reader,
  businessId: string,
  draft: Pick<DispatchDraft, 'purpose'>,
) => Promise<readonly Finding[]>;

/** What a draft would do if it were sent now: who passes each post, who is held and stopped, what it costs. */
export class GatePreview {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly texts: Texts,
    private readonly textability: Textability,
  ) {}

  private readonly others: AlsoFinds[] = [];

  /** Findings of another area are said with those about the words. */
  findsToo(finds: AlsoFinds): void {
    this.others.push(finds);
  }

  audience(businessId: string, d: Pick<DispatchDraft, 'audience'>): Audience {
    return { businessId, ...d.audience };
  }

  /** Works out what will really be sent: name line, merged fields at their longest over the audience, stop line. */
  async prepare(r: Reader, businessId: string, d: DispatchDraft, longest?: Longest): Promise<Prepared> {
    return this.workOut(r, businessId, d, longest ?? (await this.longest(r, businessId, d)));
  }

  /** The longest each merge field gets over the audience. A scan of it, so whoever asks often keeps the answer. */
  async longest(r: Reader, businessId: string, d: DispatchDraft): Promise<Longest> {
    const used = fieldsUsed(d.text);
    if (used.length === 0) return {};
    const values = await longestFields(r, this.audience(businessId, d));
    return Object.fromEntries(
      used.map(({ name, fallback }) => {
        const value = values[FIELD_COLUMN[name]];
        return [name, value.length >= (fallback ?? '').length ? value : (fallback ?? '')];
      }),
    );
  }

  private async workOut(r: Reader, businessId: string, d: DispatchDraft, longest: Longest): Promise<Prepared> {
    const { name_line } = await this.businesses.row(r, businessId);
    const sender = await this.numbers.sender(r, businessId, d.numberId);
    const found: Finding[] = [];
    for (const finds of this.others) found.push(...(await finds(r, businessId, d)));
    return this.saidBy(sender, await this.names(r, businessId, name_line, d), d, longest, found);
  }

  /** By what a text names its sender and its reader's page, which is asked for where it has one. */
  async names(
    r: Reader,
    businessId: string,
    nameLine: string,
    { text }: Pick<DispatchDraft, 'text'>,
  ): Promise<Pick<Envelope, 'nameLine' | 'ownPage'>> {
    return { nameLine, ownPage: ownPageSpan(text) ? await this.texts.ownPages.shown(r, businessId) : '' };
  }

  /** The same from what is known of the sender. @param found what others found. */
  saidBy(
    sender: Sender,
    names: Pick<Envelope, 'nameLine' | 'ownPage'>,
    d: Pick<DispatchDraft, 'text' | 'purpose' | 'transactional' | 'stopLine' | 'override'>,
    longest: Longest,
    found: readonly Finding[] = [],
  ): Prepared {
    const used = fieldsUsed(d.text);
    const envelope: Envelope = { ...names, stopLine: d.stopLine, signature: sender.signature };
    const findings = reviewText(
      d.text,
      { purpose: d.purpose, transactional: d.transactional, override: d.override, registered: sender.campaign },
      envelope,
      longest,
    );
    const ownPage = ownPageSpan(d.text);
    if (ownPage && !names.ownPage)
      findings.push(
        finding(
          'own-page-not-set-up',
          'text',
          'Nothing says yet where links to contacts’ own pages stand.',
          'Name a domain of yours and a page under Consent, Links in texts.',
          ownPage,
        ),
      );
    const link = findLinks(d.text)[0] ?? ownPage;
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
    findings.push(...found);
    const worstText = composeText(d.text, envelope, longest);
    const worst = segmentText(worstText);
    const typicalText = composeText(d.text, envelope, { firstName: 'Rosalind', lastName: 'Harcastle' });
    const facts = this.texts.facts(sender, names.nameLine, {
      kind: 'dispatch',
      purpose: d.purpose ?? 'informational',
      text: worstText,
      transactional: d.transactional,
      overridden: d.override !== '',
      contentBlocked: blocks(findings),
    });
    return {
      sender,
      envelope,
      findings,
      facts,
      emptyFields: used.filter((f) => !f.fallback).map((f) => FIELD_COLUMN[f.name]),
      example: typicalText,
      typical: segmentText(typicalText).parts.length,
      unitsWorst: worst.units,
      encoding: worst.encoding,
    };
  }

  /** When a wall time comes first among an audience: in the zone of the easternmost of them. */
  async firstOwn(businessId: string, d: DispatchDraft, local: string): Promise<number> {
    const by = { numberId: d.numberId, emptyFields: [], now: this.p.clock.now() };
    const classes = await audienceClasses(this.p.db, this.audience(businessId, d), by);
    const moments = classes.map((row) => ownMoment(local, listed(subjectOf(row).zones)));
    return Math.min(...moments, ownMoment(local, []));
  }

  /**
   * Everything a dispatch is judged by, and its audience by classes.
   * @param when as it would be at a time chosen for it; null for now.
   */
  async judging(businessId: string, d: DispatchDraft, when: When | null): Promise<Judging> {
    const r = this.p.db;
    const ready = await this.prepare(r, businessId, d);
    const prepared = { ...ready, facts: { ...ready.facts, notBefore: when?.zone === 'own' ? when.local : null } };
    const zone = (await this.businesses.row(r, businessId)).time_zone;
    const begins =
      when && (when.zone === 'own' ? await this.firstOwn(businessId, d, when.local) : momentOf(when.local, zone));
    const now = await this.texts.rules(r, businessId);
    const rules = { ...now, at: begins ?? now.at };
    const allowance = await this.texts.allowance(r, businessId, prepared.sender);
    const audience = this.audience(businessId, d);
    const by = { numberId: d.numberId, emptyFields: prepared.emptyFields, now: rules.at };
    const rows = await audienceClasses(r, audience, by);
    const classes: SubjectClass[] = rows.map((row) => ({ subject: subjectOf(row), count: row.n }));
    return { prepared, zone, begins, now: now.at, rules, allowance, audience, by, rows, classes };
  }

  /**
   * Groups the audience by the columns the posts read and judges each class once.
   * @param when as it would be at a time chosen for it; null for now.
   */
  async preview(businessId: string, d: DispatchDraft, when: When | null = null): Promise<Preview> {
    const r = this.p.db;
    const { prepared, zone, begins, now, rules, allowance, audience, classes } = await this.judging(
      businessId,
      d,
      when,
    );
    const counts = judgeClasses(classes, prepared.facts, rules, allowance);
    const memberships = await audienceMemberships(r, audience);
    const lanes: Record<CarrierKind, number> = { A: 0, B: 0, C: 0 };
    for (const c of classes) lanes[c.subject.carrierKind] += c.count;
    const alive = this.alive(classes, prepared.facts, rules, allowance);
    const share = counts.audience > 0 ? counts.pass / counts.audience : 0;
    const plan = planDispatch(
      { A: Math.ceil(lanes.A * share), B: Math.ceil(lanes.B * share), C: Math.ceil(lanes.C * share) },
      prepared.facts.segments,
      prepared.sender.throughput,
      rules.at,
    );
    return {
      counts,
      repeats: Math.max(0, memberships - counts.audience),
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
      hours: alive.length > 0 ? openByHour(alive, rules.hours, rules.at, HOURS_AHEAD) : [],
      classes: classes.length,
      askedFirst: await this.askedFirst(r, audience, now),
      reach: counts.pass + counts.hold,
      costAtMost: (counts.pass + counts.hold) * prepared.facts.segments * DEFAULT_PRICES.segment,
      later: when && begins !== null ? this.later(when, begins, zone, now, alive, rules.hours) : null,
    };
  }

  /** Whose numbers are asked about before anything goes to them, where the business wishes it. */
  private async askedFirst(r: Reader, audience: Audience, now: number): Promise<Preview['askedFirst']> {
    const { reassignedBeforeDispatch, reassignedDays } = await this.textability.policy(r, audience.businessId);
    if (!reassignedBeforeDispatch) return null;
    const n = await countDueIn(r, audience, now - reassignedDays * 86_400_000);
    return n === 0
      ? null
      : { numbers: n, cost: n * DEFAULT_PRICES.reassignedQuery, seconds: PacedQuestions.seconds(n) };
  }

  /** Those the gate does not stop, by place; none where the hours are not asked. */
  private alive(...of: Parameters<typeof judgeStretches>): Placed[] {
    const [classes] = of;
    const alive: Placed[] = [];
    let asked = false;
    for (const { index, count, verdict } of judgeStretches(...of)) {
      const subject = classes[index]?.subject;
      if (!subject || verdict.result === 'stop') continue;
      // Where the clock has a say, its answer has an end.
      asked ||= verdict.answers.some((a) => a.post === HOURS && a.until !== undefined);
      alive.push({ zones: subject.zones, states: subject.states, count });
    }
    return asked ? alive : [];
  }

  /** How many a chosen time would hold by their hours, until when, and whether another time holds fewer. */
  private later(
    when: When,
    at: number,
    zone: string,
    now: number,
    alive: readonly Placed[],
    hours: HoursRules,
  ): Preview['later'] {
    const heldAt = (local: string): { held: number; until: number | null } => {
      let held = 0;
      let until: number | null = null;
      for (const { zones, states, count } of alive) {
        const place = { zones: listed(zones), states: listed(states) };
        const moment = when.zone === 'own' ? ownMoment(local, place.zones) : momentOf(local, zone);
        const window = sendWindow(place, hours, moment);
        if (window.open) continue;
        held += count;
        if ('opensAt' in window) until = Math.max(until ?? 0, window.opensAt);
      }
      return { held, until };
    };
    const chosen = heldAt(when.local);
    let better: { at: number; local: string; held: number } | null = null;
    const start = DateTime.fromISO(when.local, { zone }).startOf('hour');
    for (let h = 1; chosen.held > 0 && h <= HOURS_AHEAD && better?.held !== 0; h++) {
      const moment = start.plus({ hours: h });
      const local = moment.toFormat("yyyy-LL-dd'T'HH:mm");
      if (moment.toMillis() <= now) continue;
      const { held } = heldAt(local);
      if (held < (better?.held ?? chosen.held)) better = { at: moment.toMillis(), local, held };
    }
    return { at, held: chosen.held, heldUntil: chosen.until, better };
  }
}

const listed = (names: string): string[] => (names === '' ? [] : names.split(','));
