import type { SuppressionList, SuppressionWish } from '@long-gate/contracts';
import { dayIn, finding, isListStale, readSuppressionLine, type Finding } from '@long-gate/core';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { record, type Actor } from '../../../platform/audit.js';
import { lotsOf } from '../../../platform/bulk.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import { Lot } from '../../../platform/lot.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../../platform/problem.js';
import { setSuppressions } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import { REFUSED_SHOWN } from '../refused-lines.js';
import type { SuppressionListModel } from './model.js';
import type { SuppressedPage, SuppressedPeople } from './suppressed-people.js';
import * as store from './suppression-store.js';

const CHUNK = 2000;
/** So long letting numbers go works on before other jobs have their turn. */
const TURN_MS = 500;
const OTHER_FILE =
  'Another file of this list has been begun since this one. Look at the list, then choose the file again.';
/** Numbers of an edition that are let go; with the last of them the list itself, where it was taken away. */
const Letting = z.object({ listId: z.string(), edition: z.number().int() });
type Edition = Pick<z.output<typeof SuppressionWish>, 'source' | 'datedOn'>;

/**
 * Lists of numbers not to be texted: registries, what a carrier said, the business's own. What is read keeps off at once,
 * part by part; what an older edition kept off it keeps off until the newer was read to its end. So at no moment, however
 * it is broken off, does a number slip through.
 */
export class SuppressionLists {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly onLists: SuppressedPeople,
  ) {
    p.jobs.handle('suppression', Letting, (letting, context) => this.letGo(letting, context));
  }

  async list(businessId: string, r: Reader = this.p.db): Promise<SuppressionList[]> {
    const zone = (await this.businesses.row(r, businessId)).time_zone;
    return (await store.listsOf(r, businessId)).map((l) => this.shown(l, zone));
  }

  /** What is found in offers that would leave now: each registry too old to send by ({@link isListStale}). */
  async findIn(r: Reader, businessId: string, { purpose }: { purpose: string | null }): Promise<Finding[]> {
    if (purpose !== 'promotional') return [];
    return (await this.list(businessId, r))
      .filter((l) => l.stale)
      .map((l) =>
        finding(
          'suppression-list-old',
          'purpose',
          `The do-not-call list “${l.name}” is ${l.daysOld} days old; offers may go by one of 31 days at most.`,
          'Bring in a newer file under Consent, Suppression lists, before these offers leave.',
        ),
      );
  }

  /** Begins a list; under one key once. @throws Problem 422 for a day to come. */
  async add(
    actor: Actor,
    businessId: string,
    wish: z.output<typeof SuppressionWish>,
    key: string,
  ): Promise<SuppressionList> {
    const id = idFrom('sup', businessId, key);
    await this.p.db.write(async (w) => {
      if (await store.listById(w, businessId, id)) return;
      await this.checkDay(w, businessId, wish.datedOn);
      await store.addList(w, {
        id,
        businessId,
        ...wish,
        reading: 1,
        editions: 1,
        readingSource: wish.source,
        readingDatedOn: wish.datedOn,
        refusals: [],
        addedBy: actor.name,
        addedAt: Math.round(this.p.clock.now()),
      });
      await this.trail(w, actor, businessId, id, 'suppression list begun', wish);
    });
    return this.get(businessId, id);
  }

  /** Begins a newer edition beside the one that stands; one that was begun before and not read to its end is left. */
  async renew(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    { source, datedOn }: Edition,
  ): Promise<SuppressionList> {
    await this.p.db.write(async (w) => {
      const list = await this.known(w, businessId, id);
      expectVersion('list', list, seen);
      await this.checkDay(w, businessId, datedOn);
      if (list.reading > 0) await this.letting(w, list, list.reading);
      const edition = list.editions + 1;
      await list.update({
        reading: edition,
        editions: edition,
        readingSource: source,
        readingDatedOn: datedOn,
        parts: 0,
        read: 0,
        refused: 0,
        refusals: [],
        version: list.version + 1,
      });
      await this.trail(w, actor, businessId, id, 'newer suppression list begun', { source, datedOn });
    });
    return this.get(businessId, id);
  }

  /** Takes the next part of a file. @throws Problem 409 where nothing is being read, or another part comes first. */
  async take(
    businessId: string,
    id: string,
    { edition, part, lines }: { edition: number; part: number; lines: readonly string[] },
  ): Promise<{ parts: number; lines: number; refused: number }> {
    const { allow_fictional } = await this.businesses.row(this.p.db, businessId);
    const e164s = new Set<string>();
    const refusals: { at: number; raw: string; why: string }[] = [];
    lines.forEach((line, at) => {
      const read = readSuppressionLine(line, Boolean(allow_fictional));
      if (read === null) return;
      if ('e164' in read) e164s.add(read.e164);
      else refusals.push({ at, raw: line.slice(0, 60), why: read.why });
    });
    return this.p.db.write(async (w) => {
      const list = await this.known(w, businessId, id);
      const so = { parts: list.parts, lines: list.read, refused: list.refused };
      if (list.reading === 0) throw conflict('Nothing is being read into this list. Begin a newer edition first.');
      if (edition !== list.reading) throw conflict(OTHER_FILE);
      if (part < list.parts) return so;
      if (part > list.parts) throw conflict(`Part ${list.parts + 1} comes first; this is part ${part + 1}.`);
      const all = [...e164s];
      await store.addNumbers(w, { businessId, id, edition: list.reading }, all);
      await this.project(w, businessId, all);
      const now = {
        parts: list.parts + 1,
        read: list.read + lines.length,
        refused: list.refused + refusals.length,
      };
      await list.update({
        ...now,
        refusals: [
          ...list.refusals,
          ...refusals.map((x) => ({ line: list.read + x.at + 1, raw: x.raw, why: x.why })),
        ].slice(0, REFUSED_SHOWN),
      });
      return { parts: now.parts, lines: now.read, refused: now.refused };
    });
  }

  /**
   * All has come: the edition stands.
   * @throws Problem 409 where parts are missing; 422 where no number was in it, which would let everybody go.
   */
  async finish(
    actor: Actor,
    businessId: string,
    id: string,
    { edition, parts }: { edition: number; parts: number },
  ): Promise<SuppressionList> {
    await this.p.db.write(async (w) => {
      const list = await this.known(w, businessId, id);
      if (list.reading === 0 && edition === list.edition) return;
      if (edition !== list.reading) throw conflict(OTHER_FILE);
      if (parts !== list.parts)
        throw conflict(`${list.parts} parts have come, of ${parts}. Hand in the others, or choose the file again.`);
      const numbers = await store.countNumbers(w, id, list.reading);
      if (numbers === 0)
        throw refused(
          'No number was found in this file, so the list stays as it was. Choose a text file with a number on each line.',
        );
      if (list.edition > 0) await this.letting(w, list, list.edition);
      await list.update({
        state: 'stands',
        edition: list.reading,
        reading: 0,
        source: list.readingSource,
        datedOn: list.readingDatedOn,
        numbers,
        broughtAt: Math.round(this.p.clock.now()),
        version: list.version + 1,
      });
      await this.trail(w, actor, businessId, id, 'suppression list brought in', {
        source: list.source,
        datedOn: list.datedOn,
        numbers,
        refused: list.refused,
      });
    });
    return this.get(businessId, id);
  }

  /** Leaves what is being read: of a list that never stood, the list. */
  async discard(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const list = await this.known(w, businessId, id);
      if (list.reading === 0) return;
      await this.letting(w, list, list.reading);
      await list.update({
        reading: 0,
        ...(list.edition === 0 ? { state: 'going' as const } : {}),
        version: list.version + 1,
      });
      await this.trail(w, actor, businessId, id, 'suppression list left unread', {});
    });
  }

  /** Takes a list away. Its numbers are kept off until the last of them was let go. */
  async drop(actor: Actor, businessId: string, id: string, seen: number | null): Promise<void> {
    await this.p.db.write(async (w) => {
      const list = await this.known(w, businessId, id);
      expectVersion('list', list, seen);
      for (const edition of [list.reading, list.edition]) if (edition > 0) await this.letting(w, list, edition);
      await list.update({ state: 'going', reading: 0, version: list.version + 1 });
      await this.trail(w, actor, businessId, id, 'suppression list taken away', { numbers: list.numbers });
    });
  }

  /** Numbers that come as contacts are looked for on the lists, from their first moment. */
  async recall(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    if (await store.hasLists(w, businessId)) await this.project(w, businessId, e164s);
  }

  /** Contacts on a list, a page of them, with what it keeps from each. @throws Problem 404 */
  async people(businessId: string, id: string, cursor: string | undefined, limit: number): Promise<SuppressedPage> {
    return this.onLists.page(await this.known(this.p.db, businessId, id), cursor, limit);
  }

  /** The same, all of them, as CSV. @throws Problem 404 before the first line. */
  async file(businessId: string, id: string): Promise<AsyncGenerator<string>> {
    return this.onLists.lines(await this.known(this.p.db, businessId, id));
  }

  private async project(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const part of lotsOf(e164s, CHUNK)) {
      const kept = new Map((await store.keptOff(w, businessId, part)).map((x) => [x.e164, x.suppression]));
      await setSuppressions(
        w,
        businessId,
        part.map((e164) => [e164, kept.get(e164) ?? 'none'] as const),
      );
    }
  }

  private async letting(w: Writer, list: SuppressionListModel, edition: number): Promise<void> {
    await this.p.jobs.add(w, {
      kind: 'suppression',
      businessId: list.businessId,
      payload: { listId: list.id, edition } satisfies z.infer<typeof Letting>,
      key: `suppression:${list.id}:${edition}`,
    });
  }

  private async letGo({ listId, edition }: z.infer<typeof Letting>, { job }: JobContext): Promise<JobOutcome> {
    const { businessId } = job;
    const lot = new Lot(1000);
    const until = performance.now() + TURN_MS;
    while (performance.now() < until) {
      const left = await lot.write(
        this.p.db,
        async (w) => {
          const e164s = await store.dropNumbers(w, listId, edition, lot.size);
          if (e164s.length > 0) await this.project(w, businessId, e164s);
          else {
            const list = await store.listOfAnybody(w, listId);
            if (list?.state === 'going' && !(await store.anyNumber(w, listId))) await list.update({ state: 'gone' });
            w.afterCommit(() => {
              this.p.live.tell({ businessId, topic: 'consent' });
              this.p.live.tell({ businessId, topic: 'contacts' });
            });
          }
          return e164s.length;
        },
        lot.size,
      );
      if (left === 0) return { done: true };
    }
    return { done: false };
  }

  private async checkDay(r: Reader, businessId: string, day: string): Promise<void> {
    const zone = (await this.businesses.row(r, businessId)).time_zone;
    if (day > dayIn(this.p.clock.now(), zone))
      throw refused('The day of the list is still to come.', [
        { field: 'datedOn', message: 'Write the day the file is of.' },
      ]);
  }

  private async known(r: Reader, businessId: string, id: string): Promise<SuppressionListModel> {
    const list = await store.listById(r, businessId, id);
    if (!list || list.state === 'going' || list.state === 'gone') throw notFound('list');
    return list;
  }

  private async get(businessId: string, id: string): Promise<SuppressionList> {
    const list = await this.known(this.p.db, businessId, id);
    return this.shown(list, (await this.businesses.row(this.p.db, businessId)).time_zone);
  }

  private shown(l: SuppressionListModel, zone: string): SuppressionList {
    const today = DateTime.fromISO(dayIn(this.p.clock.now(), zone), { zone: 'utc' });
    const daysOld = Math.max(0, Math.round(today.diff(DateTime.fromISO(l.datedOn, { zone: 'utc' }), 'days').days));
    const { id, name, kind, source, datedOn, numbers, refused: no, refusals, addedBy, addedAt, version } = l;
    return {
      id,
      name,
      kind,
      state: l.edition > 0 ? 'stands' : 'reading',
      source,
      datedOn,
      daysOld,
      stale: l.edition > 0 && isListStale(kind, daysOld),
      numbers,
      reading:
        l.reading > 0
          ? { edition: l.reading, source: l.readingSource, datedOn: l.readingDatedOn, parts: l.parts, lines: l.read }
          : null,
      refused: no,
      refusals,
      addedBy,
      addedAt,
      broughtAt: l.broughtAt ?? null,
      version,
    };
  }

  private async trail(
    w: Writer,
    actor: Actor,
    businessId: string,
    objectId: string,
    action: string,
    after: object,
  ): Promise<void> {
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'suppression list', objectId, after });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }
}
