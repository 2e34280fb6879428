import type { Behind, Recipient } from '@long-gate/contracts';
import {
  formatPhone,
  judgeStretches,
  REASONS,
  remediesOf,
  type ReasonCode,
  type Remedy,
  type Stretch,
} from '@long-gate/core';
import { z } from 'zod';
import type { Actor } from '../../platform/audit.js';
import { packCursor, readCursor } from '../../platform/cursor.js';
import { csvPart } from '../../platform/csv.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { audienceRows, type AudienceRow, type Lists, type Lookups, type SubjectRow } from '../contacts/index.js';
import type { GatePreview, Judging } from './gate-preview.js';

const Whole = z.number().int().min(0);
/** A place among the people behind a count: the stretch, which class it is of, after which row, how many of it came before. */
const Place = z.tuple([Whole, z.string(), Whole, Whole]);
type Place = z.infer<typeof Place>;
const BEGINNING: Place = [0, '', 0, 0];
const CHUNK = 1000;
/** One job asks about no more than so many: at the pace of the service that is most of an hour. */
const ASKED_MOST = 50_000;
const HEADS = ['phone', 'name', 'email', 'result', 'why', 'what would lift it', 'on file'];

/** One reason behind a count, with how many it is and what can be done about them here. */
export interface ReasonCount {
  reason: ReasonCode;
  why: string;
  lift: string;
  n: number;
  remedies: Remedy[];
}

interface Found {
  judging: Judging;
  /** Those asked for, reason by reason, the most frequent first. */
  stretches: Stretch[];
  reasons: ReasonCount[];
}

/** Who is behind a count of the gate preview, judged as the preview judges them. */
export class PeopleBehind {
  constructor(
    private readonly p: Platform,
    private readonly preview: GatePreview,
    private readonly lists: Lists,
    private readonly lookups: Lookups,
  ) {}

  async page(
    businessId: string,
    which: Behind,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: Recipient[]; next: string | null; total: number; reasons: ReasonCount[] }> {
    const found = await this.find(businessId, which);
    const { items, next } = await this.rows(found, cursor ? readCursor(Place, cursor) : BEGINNING, limit);
    return {
      items: items.map(shown),
      next: next && packCursor(next),
      total: found.stretches.reduce((n, s) => n + s.count, 0),
      reasons: found.reasons,
    };
  }

  /** All of them as CSV with a heading row, some at a time; whoever changes meanwhile is in it once or not at all. */
  async *csv(businessId: string, which: Behind): AsyncGenerator<string> {
    yield csvPart([HEADS], true);
    for await (const rows of this.all(businessId, which))
      yield csvPart(
        rows.map(({ row, stretch }) => {
          const { why, lift } = wordsOf(stretch);
          return [formatPhone(row.e164), row.name, row.email, stretch.verdict.result, why, lift, onFile(row)];
        }),
      );
  }

  /** All of them in lots, as they stand when it begins. */
  async *all(businessId: string, which: Behind): AsyncGenerator<{ row: AudienceRow; stretch: Stretch }[]> {
    const found = await this.find(businessId, which);
    for (let place: Place | null = BEGINNING; place !== null;) {
      const page: { items: { row: AudienceRow; stretch: Stretch }[]; next: Place | null } = await this.rows(
        found,
        place,
        CHUNK,
      );
      if (page.items.length > 0) yield page.items;
      place = page.next;
    }
  }

  /** Their numbers, and no more than so many of them. */
  async numbers(businessId: string, which: Behind, most = ASKED_MOST): Promise<string[]> {
    const out: string[] = [];
    for await (const rows of this.all(businessId, which)) {
      out.push(...rows.slice(0, most - out.length).map((x) => x.row.e164));
      if (out.length >= most) break;
    }
    return out;
  }

  /** What it costs to ask about the lines of all of them, also of those that were asked about before. */
  async estimate(businessId: string, which: Behind): ReturnType<Lookups['estimate']> {
    return this.lookups.estimate(businessId, { e164s: await this.numbers(businessId, which), again: true });
  }
  /** @throws Problem 422 where nobody is behind the count any more, or the balance does not reach. */
  async lookUp(actor: Actor, businessId: string, which: Behind, key: string): ReturnType<Lookups['start']> {
    return this.lookups.start(actor, businessId, { e164s: await this.numbers(businessId, which), again: true }, key);
  }

  /** Puts all of them on a tag, made where there is none of that name. */
  async tag(
    actor: Actor,
    businessId: string,
    which: Behind,
    name: string,
  ): Promise<{ listId: string; added: number; people: number }> {
    const listId = await this.p.db.write((w) => this.lists.ensure(w, actor, businessId, name, 'tag'));
    let people = 0;
    const lots = async function* (all: ReturnType<PeopleBehind['all']>): AsyncGenerator<string[]> {
      for await (const rows of all) {
        people += rows.length;
        yield rows.map((x) => x.row.contact_id);
      }
    };
    const added = await this.lists.putAll(actor, businessId, listId, lots(this.all(businessId, which)));
    return { listId, added, people };
  }

  private async find(businessId: string, { dispatch, post, result, reason }: Behind): Promise<Found> {
    const { when, ...draft } = dispatch;
    const judging = await this.preview.judging(businessId, draft, when);
    const { classes, prepared, rules, allowance } = judging;
    const here = [...judgeStretches(classes, prepared.facts, rules, allowance)].filter(
      ({ verdict: v }) => v.result === result && (result === 'pass' || v.post === post),
    );
    const counts = new Map<ReasonCode, number>();
    for (const { verdict, count } of here)
      if (verdict.reason) counts.set(verdict.reason, (counts.get(verdict.reason) ?? 0) + count);
    const reasons = [...counts].sort((a, b) => b[1] - a[1]);
    const order = reasons.map(([r]) => r);
    const at = (s: Stretch): number => (s.verdict.reason ? order.indexOf(s.verdict.reason) : 0);
    return {
      judging,
      stretches: here
        .filter((s) => reason === null || s.verdict.reason === reason)
        .sort((a, b) => at(a) - at(b) || a.index - b.index || a.from - b.from),
      reasons: reasons.map(([r, n]) => ({
        reason: r,
        why: REASONS[r].why,
        lift: REASONS[r].lift,
        n,
        remedies: [...remediesOf(r)],
      })),
    };
  }

  /** Some of them after a place: each stretch by the index of its rows, so that the last page costs what the first does. */
  private async rows(
    { judging, stretches }: Found,
    [at, key, after, taken]: Place,
    limit: number,
  ): Promise<{ items: { row: AudienceRow; stretch: Stretch }[]; next: Place | null }> {
    const { audience, by, rows } = judging;
    const keyOf = (s: Stretch): string =>
      idFrom('cls', JSON.stringify({ ...rows[s.index], n: 0 }), s.verdict.result, s.verdict.reason ?? '');
    // Classes come and go while somebody reads: the one that was read is found again by what it is.
    const found = stretches.findIndex((s) => keyOf(s) === key);
    let place = found === -1 ? { after: 0, taken: 0 } : { after, taken };
    const items: { row: AudienceRow; stretch: Stretch }[] = [];
    for (let i = found === -1 ? at : found; i < stretches.length; i++) {
      const stretch = stretches[i];
      const of = stretch && rows[stretch.index];
      if (!stretch || !of) continue;
      // Only where the allowance cuts a class in two does this part of it end by number.
      const here = stretch.count < of.n ? stretch.count - place.taken : Infinity;
      const wanted = Math.min(here, limit - items.length);
      if (wanted === 0 && here > 0) return { items, next: [i, keyOf(stretch), place.after, place.taken] };
      const from = { after: place.after, from: place.after === 0 ? stretch.from : 0 };
      const some = wanted > 0 ? await audienceRows(this.p.db, audience, by, of, from, wanted) : [];
      items.push(...some.map((row) => ({ row, stretch })));
      const last = some.at(-1);
      if (last && some.length === wanted && wanted < here)
        return { items, next: [i, keyOf(stretch), last.id, place.taken + some.length] };
      place = { after: 0, taken: 0 };
    }
    return { items, next: null };
  }
}

const wordsOf = ({ verdict }: Stretch): { why: string; lift: string } =>
  verdict.reason ? REASONS[verdict.reason] : { why: 'passes', lift: '' };

function shown({ row, stretch }: { row: AudienceRow; stretch: Stretch }): Recipient {
  const { verdict } = stretch;
  const { why, lift } = wordsOf(stretch);
  return {
    contactId: row.contact_id,
    name: row.name,
    e164: row.e164,
    result: verdict.result,
    post: verdict.post,
    reason: verdict.reason,
    why,
    lift,
    until: verdict.until,
    answers: verdict.answers,
    onFile: onFile(row),
  };
}

function onFile(row: SubjectRow): string {
  const said = (['conversational', 'informational', 'promotional'] as const)
    .map((p) => [p, row[`consent_${p}`]] as const)
    .filter(([, s]) => s !== 'none');
  return said.length === 0 ? 'nothing' : said.map(([p, s]) => `${p} ${s}`).join(', ');
}
