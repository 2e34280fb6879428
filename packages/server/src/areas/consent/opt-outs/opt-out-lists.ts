import type { OptOutList, OptOutListWish } from '@long-gate/contracts';
import { dayIn, optedOutAt, PURPOSES, readOptOutLine } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../../platform/audit.js';
import { lotsOf } from '../../../platform/bulk.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import { idFrom } from '../../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import { Lot } from '../../../platform/lot.js';
import type { PageOrOne } from '../../../platform/keyset.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound, refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger, NewEvent } from '../ledger/ledger.js';
import { REFUSED_SHOWN, type RefusedLines } from '../refused-lines.js';
import type { OptOutListModel } from './model.js';
import * as store from './opt-out-store.js';

/** So many lines are read before others have their turn. */
const AT_ONCE = 5000;
/** So long it goes on before other jobs have their turn. */
const TURN_MS = 500;

/** What a job carries: from which line on the list is still to be recorded. */
const Recording = z.object({ listId: z.string(), at: z.number().int(), actor: ActorShape });
type Recording = z.infer<typeof Recording>;

/**
 * Lists of people who had opted out before the business wrote to them from here. Each of them is a no in the ledger, with
 * the line of the file that says it, and counts for all texts; who agreed after it stays in, and only the person comes
 * back. The file is kept with its digest.
 */
export class OptOutLists {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly documents: Documents,
    private readonly ledger: Ledger,
  ) {
    p.jobs.handle('opt-outs', Recording, (recording, context) => this.turn(recording, context));
  }

  async list(
    businessId: string,
    page: PageOrOne,
  ): Promise<{ items: OptOutList[]; next: string | null; total: number }> {
    const [{ rows, next }, total] = await Promise.all([
      store.optOutLists(this.p.db, businessId, page),
      store.countLists(this.p.db, businessId),
    ]);
    return { items: rows.map(shown), next, total };
  }

  /**
   * Brings a list in, once for one key.
   * @throws Problem 422 for a day to come, a file that is no text or too large, or one with no number in it.
   */
  async bring(
    actor: Actor,
    businessId: string,
    { base64, name, ...wish }: OptOutListWish,
    key: string,
  ): Promise<OptOutList> {
    const id = idFrom('ool', businessId, key);
    const known = await store.optOutListById(this.p.db, businessId, id);
    if (known) return shown(known);
    const b = await this.businesses.row(this.p.db, businessId);
    if (wish.datedOn > dayIn(this.p.clock.now(), b.time_zone))
      throw refused('The day of the list is still to come.', [
        { field: 'datedOn', message: 'Write the day the file is of.' },
      ]);
    const bytes = Buffer.from(base64, 'base64');
    const lines = linesOf(bytes);
    const allowFictional = Boolean(b.allow_fictional);
    const refusals: z.output<typeof RefusedLines> = [];
    let [numbers, wrong] = [0, 0];
    let line = 0;
    for (const part of lotsOf(lines, AT_ONCE)) {
      for (const raw of part) {
        line++;
        const read = readOptOutLine(raw, allowFictional);
        if (read === null) continue;
        if ('e164' in read) numbers++;
        else if (++wrong <= REFUSED_SHOWN) refusals.push({ line, raw: raw.slice(0, 60), why: read.why });
      }
      await new Promise((others) => setImmediate(others));
    }
    if (numbers === 0)
      throw refused(`No number was found in “${name}”. Choose a text file with a number on each line.`, [
        { field: 'base64', message: 'There is no number in it.' },
      ]);
    await this.p.db.write(async (w) => {
      if (await store.optOutListById(w, businessId, id)) return;
      const owner = { businessId, objectKind: 'opt-out list', objectId: id };
      const document = await this.documents.keepText(w, owner, {
        what: 'list of people who opted out',
        name,
        bytes,
        by: actor.name,
      });
      await store.addOptOutList(w, {
        ...{ id, businessId, ...wish, documentId: document.id },
        ...{ name: document.name, size: document.size, sha256: document.sha256 },
        ...{ lines: lines.length, refused: wrong, refusals },
        ...{ broughtBy: actor.name, broughtAt: Math.round(this.p.clock.now()) },
      });
      // Without a title, so that nobody can call it off: the rest of a list would stay in.
      await this.p.jobs.add(w, {
        kind: 'opt-outs',
        businessId,
        payload: { listId: id, at: 0, actor: { id: actor.id, name: actor.name } } satisfies Recording,
        key: `opt-outs:${id}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-outs brought in',
        objectKind: 'opt-out list',
        objectId: id,
        after: { ...wish, name: document.name, sha256: document.sha256, numbers, refused: wrong },
      });
    });
    const made = await store.optOutListById(this.p.db, businessId, id);
    if (!made) throw notFound('list');
    return shown(made);
  }

  /** The file of a list; each look is audited. */
  async document(actor: Actor, businessId: string, id: string): Promise<{ name: string; type: string; bytes: Buffer }> {
    const list = await this.known(this.p.db, businessId, id);
    const { row, bytes } = await this.documents.read(this.p.db, ownerOf(list), list.documentId);
    await this.p.db.write((w) =>
      record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-outs looked at',
        objectKind: 'opt-out list',
        objectId: id,
        after: { document: row.name },
      }),
    );
    return { name: row.name, type: row.type, bytes };
  }

  private async known(r: Reader, businessId: string, id: string): Promise<OptOutListModel> {
    const list = await store.optOutListById(r, businessId, id);
    if (!list) throw notFound('list');
    return list;
  }

  /** Lot by lot until its turn is over or nobody is left. */
  private async turn(recording: Recording, { job }: JobContext): Promise<JobOutcome> {
    const list = await this.known(this.p.db, job.businessId, recording.listId);
    const lines = linesOf((await this.documents.read(this.p.db, ownerOf(list), list.documentId)).bytes);
    const until = performance.now() + TURN_MS;
    const lot = new Lot(1000);
    let at: number | null = recording.at;
    while (at !== null && at < lines.length && performance.now() < until)
      at = await this.step({ ...recording, at }, list, lines.slice(at, at + lot.size), job, lot);
    if (at === null || at < lines.length) return { done: false };
    return this.p.db.write(async (w) => {
      const now = await this.known(w, job.businessId, recording.listId);
      await now.update({ done: true });
      return { done: true };
    });
  }

  /** Records those of some lines. @returns the next line; null where the job is somebody else's by now. */
  private step(
    recording: Recording,
    list: OptOutListModel,
    lines: readonly string[],
    job: JobContext['job'],
    lot: Lot,
  ): Promise<number | null> {
    return lot.write(
      this.p.db,
      async (w) => {
        if (!(await this.p.jobs.isRunning(w, job.id))) return null;
        await this.record(w, list, lines, recording);
        const at = recording.at + lines.length;
        await this.p.jobs.keep(w, job, { ...recording, at }, at);
        return at;
      },
      lines.length,
    );
  }

  private async record(
    w: Writer,
    list: OptOutListModel,
    lines: readonly string[],
    { at, actor }: Recording,
  ): Promise<void> {
    const { businessId } = list;
    const b = await this.businesses.row(w, businessId);
    const said = new Map<string, NewEvent>();
    lines.forEach((raw, i) => {
      const read = readOptOutLine(raw, Boolean(b.allow_fictional));
      if (read === null || !('e164' in read) || said.has(read.e164)) return;
      said.set(read.e164, {
        e164: read.e164,
        purposes: [...PURPOSES],
        kind: 'revoked',
        how: list.origin === 'carrier' ? 'carrier' : 'imported record',
        happenedAt: optedOutAt(read.on, list.datedOn, b.time_zone, this.p.clock.now()),
        recordedBy: actor.id,
        evidence: {
          ...{ source: list.source, optOutList: list.id, file: list.name, fileSha256: list.sha256 },
          ...{ line: String(at + i + 1), words: raw.slice(0, 100) },
        },
      });
    });
    const e164s = [...said.keys()];
    for (const s of await this.ledger.statesOfAll(w, businessId, e164s))
      if (PURPOSES.every((x) => s[x] === 'revoked')) said.delete(s.e164);
    if (said.size > 0) await this.ledger.append(w, businessId, [...said.values()]);
    const after = await this.ledger.statesOfAll(w, businessId, [...said.keys()]);
    await store.countOptedOut(w, list.id, {
      people: said.size,
      agreedSince: after.filter((s) => PURPOSES.some((x) => s[x] === 'granted')).length,
      already: e164s.length - said.size,
    });
  }
}

const ownerOf = (list: OptOutListModel) => ({
  businessId: list.businessId,
  objectKind: 'opt-out list',
  objectId: list.id,
});
const linesOf = (bytes: Buffer): string[] => {
  const lines = bytes
    .toString('utf8')
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\r|\n/);
  if (lines.at(-1) === '') lines.pop();
  return lines;
};

function shown(l: OptOutListModel): OptOutList {
  const { id, origin, source, datedOn, name, size, sha256, lines, refused: no, refusals, broughtBy, broughtAt } = l;
  const { people, agreedSince, already, done } = l;
  return {
    ...{ id, origin, source, datedOn, name, size, sha256, lines, refused: no, refusals },
    ...{ people, agreedSince, already, done, broughtBy, broughtAt },
  };
}
