import {
  dayIn,
  parsePhone,
  PHONE_REFUSALS,
  readRelationshipLine,
  relationshipBroken,
  relationshipEnds,
  standsAfter,
  type LedgerEvent,
  type RelationshipKind,
} from '@long-gate/core';
import type { BroughtRelationships, Relationship, RelationshipPart, RelationshipWish } from '@long-gate/contracts';
import { parse } from 'csv-parse/sync';
import { record, type Actor } from '../../../platform/audit.js';
import { lotsOf } from '../../../platform/bulk.js';
import { csvPart } from '../../../platform/csv.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom, orderedId } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, notFound, refused } from '../../../platform/problem.js';
import { setRelated, type Contacts } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger } from '../ledger/ledger.js';
import { REFUSED_SHOWN } from '../refused-lines.js';
import type { RelationshipModel } from './model.js';
import * as store from './relationship-store.js';

const CHUNK = 1000;

/** One that excepts a number from registries, the longest of them. */
export type Exception = Pick<RelationshipModel, 'kind' | 'happenedOn' | 'endsAt'>;
type Said = { e164: string; kind: RelationshipKind; happenedOn: string; reference: string };

/**
 * Purchases and inquiries on record. Each excepts its number from do-not-call registries for a time, until its owner says
 * no or the number is found to be somebody else's. None is consent: offers by text want that in writing all the same.
 */
export class Relationships {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
  ) {
    p.db.facts.on('consent.changed', (w, { businessId, e164s }) => this.followConsent(w, businessId, e164s));
    p.db.facts.on('contact.erased', (w, { businessId, people }) =>
      store.dropRelationships(
        w,
        businessId,
        people.map(([e164]) => e164),
      ),
    );
  }

  // -- what is on record -----------------------------------------------------------------------------------------

  async page(
    businessId: string,
    { cursor, limit, ...filter }: store.RelationshipFilter & { cursor?: string | undefined; limit: number },
  ): Promise<{ items: Relationship[]; next: string | null; total: number }> {
    const r = this.p.db;
    const now = this.p.clock.now();
    const [{ rows, next }, total] = await Promise.all([
      store.relationshipsPage(r, businessId, filter, now, { cursor, limit }),
      store.countRelationships(r, businessId, filter, now),
    ]);
    return { items: await this.shown(businessId, rows), next, total };
  }

  /** The same as CSV, all of them. */
  async *file(businessId: string, filter: store.RelationshipFilter): AsyncGenerator<string> {
    yield csvPart(
      [['phone', 'name', 'day', 'what', 'about', 'standing', 'excepts until', 'recorded by', 'file', 'withdrawn']],
      true,
    );
    const { time_zone } = await this.businesses.row(this.p.db, businessId);
    for (let cursor: string | undefined; ;) {
      const { items, next } = await this.page(businessId, { ...filter, cursor, limit: CHUNK });
      if (items.length > 0)
        yield csvPart(
          items.map((x) => [
            ...[x.e164, x.name, x.happenedOn, x.kind, x.reference, x.standing, dayIn(x.endsAt, time_zone)],
            ...[x.recordedBy, x.file, x.withdrawn?.why ?? ''],
          ]),
        );
      if (next === null) return;
      cursor = next;
    }
  }

  private async shown(businessId: string, rows: readonly RelationshipModel[]): Promise<Relationship[]> {
    const r = this.p.db;
    const now = this.p.clock.now();
    const names = await this.contacts.names(
      r,
      businessId,
      rows.map((x) => x.e164),
    );
    const files = await store.fileNames(r, businessId, [...new Set(rows.map((x) => x.fileId ?? '').filter(Boolean))]);
    return rows.map((x) => ({
      id: x.id,
      e164: x.e164,
      name: names.get(x.e164)?.name ?? '',
      contactId: names.get(x.e164)?.contactId ?? null,
      kind: x.kind,
      happenedOn: x.happenedOn,
      reference: x.reference,
      endsAt: x.endsAt,
      standing: standingOf(x, now),
      brokenAt: x.brokenAt ?? null,
      file: files.get(x.fileId ?? '') ?? '',
      recordedBy: x.recordedBy,
      recordedAt: x.recordedAt,
      withdrawn:
        typeof x.withdrawnAt === 'number' ? { at: x.withdrawnAt, by: x.withdrawnBy, why: x.withdrawnWhy } : null,
    }));
  }

  /** What excepts these numbers now; those that nothing excepts are not in the answer. */
  async exceptions(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, Exception>> {
    const out = new Map<string, Exception>();
    const now = this.p.clock.now();
    for (const part of lotsOf(e164s, CHUNK))
      for (const x of await store.relationshipsOf(r, businessId, part))
        if (standingOf(x, now) === 'stands' && x.endsAt > (out.get(x.e164)?.endsAt ?? 0)) out.set(x.e164, x);
    return out;
  }

  /** Until when a number was excepted, by what was on record and known of its owner at a moment; null for not at all. */
  async untilAsOf(
    r: Reader,
    businessId: string,
    e164: string,
    known: readonly LedgerEvent[],
    at: number,
  ): Promise<number | null> {
    const { time_zone } = await this.businesses.row(r, businessId);
    const broken = relationshipBroken(known);
    const ends = (await store.relationshipsOf(r, businessId, [e164])).flatMap((x) => {
      const there = x.recordedAt <= at && (typeof x.withdrawnAt !== 'number' || x.withdrawnAt > at);
      return there && standsAfter(x.happenedOn, broken, time_zone) && x.endsAt > at ? [x.endsAt] : [];
    });
    return ends.length > 0 ? Math.max(...ends) : null;
  }

  // -- recording -------------------------------------------------------------------------------------------------

  /** Records one; the same once more changes nothing. @throws Problem 422 for no number, or a day to come. */
  async record(actor: Actor, businessId: string, wish: RelationshipWish): Promise<Relationship> {
    const b = await this.businesses.row(this.p.db, businessId);
    const phone = parsePhone(wish.phone, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    const say = (field: string, message: string) => refused(message, [{ field, message }]);
    if (!phone.ok) throw say('phone', PHONE_REFUSALS[phone.reason]);
    if (wish.happenedOn > dayIn(this.p.clock.now(), b.time_zone))
      throw say('happenedOn', 'That day is still to come. Write the day it happened.');
    const said: Said = { e164: phone.e164, kind: wish.kind, happenedOn: wish.happenedOn, reference: wish.reference };
    const row = await this.p.db.write(async (w) => {
      const on = await store.relationshipsOf(w, businessId, [said.e164]);
      const same = on.find((x) => keyOf(x) === keyOf(said) && typeof x.withdrawnAt !== 'number');
      if (same) return same;
      const [id = ''] = await this.add(w, actor, businessId, [said], '');
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `${said.kind} recorded`,
        objectKind: 'relationship',
        objectId: id,
        after: said,
      });
      return store.relationshipById(w, businessId, id);
    });
    const [shown] = row ? await this.shown(businessId, [row]) : [];
    if (!shown) throw notFound('purchase or inquiry');
    return shown;
  }

  /**
   * Takes the next part of a file; a part that has come already changes nothing. What was withdrawn stays so.
   * @throws Problem 409 where another part comes first.
   */
  async take(actor: Actor, businessId: string, part: RelationshipPart): Promise<BroughtRelationships> {
    const b = await this.businesses.row(this.p.db, businessId);
    const today = dayIn(this.p.clock.now(), b.time_zone);
    const said: Said[] = [];
    const wrong: { at: number; raw: string; why: string }[] = [];
    part.lines.forEach((line, at) => {
      const read = readRelationshipLine(cellsOf(line), { allowFictional: Boolean(b.allow_fictional), today });
      if (read === null) return;
      if ('why' in read) wrong.push({ at, raw: line.slice(0, 60), why: read.why });
      else said.push(read);
    });
    const id = idFrom('rlf', businessId, part.file);
    return this.p.db.write(async (w) => {
      let file = await store.fileById(w, businessId, id);
      if (!file) {
        const broughtAt = Math.round(this.p.clock.now());
        file = await store.addFile(w, {
          ...{ id, businessId, name: part.name, refusals: [], broughtBy: actor.name, broughtAt },
        });
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'purchases and inquiries brought in',
          objectKind: 'business',
          objectId: businessId,
          after: { file: part.name },
        });
      }
      const so = file;
      const answer = (): BroughtRelationships => ({
        ...{ parts: so.parts, lines: so.read, taken: so.taken, known: so.known, refused: so.refused },
        refusals: so.refusals,
      });
      if (part.part < so.parts) return answer();
      if (part.part > so.parts)
        throw conflict(`Part ${so.parts + 1} of the file comes first; this is part ${part.part + 1}.`);
      const on = new Set<string>();
      for (const some of lotsOf([...new Set(said.map((x) => x.e164))], CHUNK))
        for (const x of await store.relationshipsOf(w, businessId, some)) on.add(keyOf(x));
      const fresh = said.filter((x) => !on.has(keyOf(x)) && on.add(keyOf(x)));
      await this.add(w, actor, businessId, fresh, id);
      await so.update({
        parts: so.parts + 1,
        read: so.read + part.lines.length,
        taken: so.taken + fresh.length,
        known: so.known + said.length - fresh.length,
        refused: so.refused + wrong.length,
        refusals: [...so.refusals, ...wrong.map((x) => ({ line: so.read + x.at + 1, raw: x.raw, why: x.why }))].slice(
          0,
          REFUSED_SHOWN,
        ),
      });
      return answer();
    });
  }

  /** Takes one back that was recorded in error; it stays on record with the reason. @throws Problem 404, 409 */
  async withdraw(actor: Actor, businessId: string, id: string, why: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await store.relationshipById(w, businessId, id);
      if (!row) throw notFound('purchase or inquiry');
      if (typeof row.withdrawnAt === 'number') throw conflict('It has been withdrawn already.');
      const at = Math.round(this.p.clock.now());
      await row.update({ withdrawnAt: at, withdrawnBy: actor.name, withdrawnWhy: why });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `${row.kind} withdrawn`,
        objectKind: 'relationship',
        objectId: id,
        after: { why },
      });
      await this.project(w, businessId, [row.e164]);
    });
  }

  // -- what follows ----------------------------------------------------------------------------------------------

  /** Numbers that come as contacts are excepted from their first moment. */
  async recall(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    if (await store.hasRelationships(w, businessId)) await this.project(w, businessId, e164s);
  }

  /** @returns their ids, in their order. */
  private async add(
    w: Writer,
    actor: Actor,
    businessId: string,
    said: readonly Said[],
    fileId: string,
  ): Promise<string[]> {
    const { time_zone } = await this.businesses.row(w, businessId);
    const e164s = [...new Set(said.map((x) => x.e164))];
    const events = await this.ledger.eventsOfAll(w, businessId, e164s);
    const recordedAt = Math.round(this.p.clock.now());
    const rows = said.map((x) => {
      const broken = relationshipBroken(events.get(x.e164) ?? []);
      return {
        ...{ id: orderedId('rel'), businessId, ...x },
        endsAt: relationshipEnds(x.kind, x.happenedOn, time_zone),
        brokenAt: standsAfter(x.happenedOn, broken, time_zone) ? null : broken,
        ...{ fileId, recordedBy: actor.name, recordedAt },
      };
    });
    if (rows.length > 0) await store.addRelationships(w, rows);
    await this.project(w, businessId, e164s);
    return rows.map((x) => x.id);
  }

  /** Who leaves is excepted by nothing that was before; nor is whoever has the number now. */
  private async followConsent(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    if (!(await store.hasRelationships(w, businessId))) return;
    const { time_zone } = await this.businesses.row(w, businessId);
    for (const part of lotsOf(e164s, CHUNK)) {
      const rows = (await store.relationshipsOf(w, businessId, part)).filter((x) => typeof x.withdrawnAt !== 'number');
      const numbers = [...new Set(rows.map((x) => x.e164))];
      if (numbers.length === 0) continue;
      const events = await this.ledger.eventsOfAll(w, businessId, numbers);
      for (const x of rows) {
        const broken = relationshipBroken(events.get(x.e164) ?? []);
        const brokenAt = standsAfter(x.happenedOn, broken, time_zone) ? null : broken;
        if (brokenAt !== (x.brokenAt ?? null)) await store.breakRelationship(w, x.id, brokenAt);
      }
      await this.project(w, businessId, numbers);
    }
  }

  /**
   * Takes over until when these numbers are excepted into what the gate reads. No text leaves or stays for it alone: who
   * did not agree in writing gets no offers.
   */
  private async project(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const part of lotsOf(e164s, CHUNK)) {
      const until = await store.exceptedUntil(w, businessId, part);
      await setRelated(
        w,
        businessId,
        until.map((x) => [x.e164, x.until] as const),
      );
    }
    w.afterCommit(() => {
      this.p.live.tell({ businessId, topic: 'consent' });
      this.p.live.tell({ businessId, topic: 'contacts' });
    });
  }
}

/** What makes one the same as another. */
const keyOf = (x: Pick<Said, 'e164' | 'kind' | 'happenedOn'>): string => `${x.e164} ${x.kind} ${x.happenedOn}`;

function standingOf(x: RelationshipModel, now: number): Relationship['standing'] {
  if (typeof x.withdrawnAt === 'number') return 'withdrawn';
  if (typeof x.brokenAt === 'number') return 'broken';
  return x.endsAt > now ? 'stands' : 'over';
}

/** A line in its cells, however they are parted; one that is no CSV is a cell of its own. */
function cellsOf(line: string): string[] {
  try {
    const [cells] = parse(line, { delimiter: [',', ';', '\t'], relax_quotes: true, relax_column_count: true });
    return cells ?? [];
  } catch {
    return [line];
  }
}
