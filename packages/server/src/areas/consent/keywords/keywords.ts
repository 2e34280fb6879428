import type { Keyword, KeywordEdit } from '@long-gate/contracts';
import {
  blocks,
  comerOf,
  CONFIRM_WITHIN_MS,
  givesCode,
  keywordAnswer,
  readKeyword,
  reviewKeyword,
  type HandledAs,
  type KeywordComer,
} from '@long-gate/core';
import type { z } from 'zod';
import { CONTACT, record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import { newId } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { expectVersion, notFound, Problem, refused } from '../../../platform/problem.js';
import { erasedNumber, type Contacts } from '../../contacts/index.js';
import type { Numbers } from '../../numbers/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Answers, Incoming } from '../answers.js';
import type { OptInWish } from '../confirmations.js';
import type { Ledger } from '../ledger/ledger.js';
import { askedToday } from '../opt-in-request-store.js';
import * as store from './keyword-store.js';
import type { KeywordModel } from './model.js';

type Edit = z.output<typeof KeywordEdit>;

/** Programmes people join by texting a word: what they are told by, what they are answered, and the codes they get. */
export class Keywords {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly numbers: Numbers,
    private readonly documents: Documents,
    private readonly ledger: Ledger,
    private readonly answers: Answers,
  ) {
    p.db.facts.on('contact.erased', async (w, { businessId, people }) => {
      const ids = (await store.keywordsOf(w, businessId)).map((k) => k.id);
      for (const [e164, digest] of people) await store.renameHolder(w, ids, e164, erasedNumber(digest));
    });
  }

  // -- the administrator's side ------------------------------------------------------------------------------------

  async list(businessId: string): Promise<Keyword[]> {
    return this.show(this.p.db, await store.keywordsOf(this.p.db, businessId));
  }

  /** Live programmes whose words nobody can text: their number is not in service any more. */
  async unanswered(businessId: string): Promise<{ id: string; title: string; e164: string }[]> {
    const out = [];
    for (const { id, title, active, numberId } of await store.keywordsOf(this.p.db, businessId))
      if (active && !(await this.numbers.canBeAnswered(this.p.db, businessId, numberId)))
        out.push({ id, title, e164: await this.numbers.addressOf(this.p.db, numberId) });
    return out;
  }

  /** Titles of the programmes whose words are texted to a number. */
  async using(r: Reader, numberId: string): Promise<string[]> {
    return (await store.keywordsOn(r, numberId)).map((k) => k.title);
  }

  /** @throws Problem 409 for a word another programme of the number has, 422 for one that can be none. */
  async add(actor: Actor, businessId: string, e: Edit): Promise<Keyword> {
    const id = newId('kwd');
    await this.p.db.write(async (w) => {
      const words = await this.check(w, businessId, { id, longest: '' }, e);
      await store.addKeyword(w, {
        ...e,
        words,
        id,
        businessId,
        came: { new: 0, already: 0, back: 0 },
        createdAt: Math.round(this.p.clock.now()),
      });
      await this.changed(w, actor, businessId, id, 'keyword begun', { after: e });
    });
    return this.get(businessId, id);
  }

  /** Whoever joined before keeps the words they were told by. */
  async edit(actor: Actor, businessId: string, id: string, seen: number | null, e: Edit): Promise<Keyword> {
    await this.p.db.write(async (w) => {
      const k = await this.known(w, businessId, id);
      expectVersion('keyword', k, seen);
      const so = { id, longest: await store.longestCode(w, id), stood: k.numberId };
      const words = await this.check(w, businessId, so, e);
      const { title, told, place, purposes, active, doubleOptIn, answers } = k;
      const before = { title, words: k.words, told, place, purposes, active, doubleOptIn, answers };
      const anew = told !== e.told || JSON.stringify(purposes) !== JSON.stringify(e.purposes);
      await store.saveKeyword(w, k, { ...e, words }, anew);
      await this.changed(w, actor, businessId, id, 'keyword edited', { before, after: e });
    });
    return this.get(businessId, id);
  }

  private async check(
    r: Reader,
    businessId: string,
    { id, longest, stood }: { id: string; longest: string; stood?: string },
    e: Edit,
  ): Promise<string[]> {
    // It is paused also where its number is gone.
    const asIs = !e.active && e.numberId === stood;
    if (!asIs && !(await this.numbers.canBeAnswered(r, businessId, e.numberId)))
      throw refused('Choose an active number of this business.', [
        { field: 'numberId', message: 'Choose an active number; the word has to arrive.' },
      ]);
    if (new Set(e.purposes.map((x) => x.purpose)).size !== e.purposes.length)
      throw refused('Each purpose stands once.', [{ field: 'purposes', message: 'The same purpose twice.' }]);
    const words = new Set<string>();
    for (const raw of e.words) {
      const read = readKeyword(raw);
      if (!read.ok) throw refused(read.why, [{ field: 'words', message: read.why }]);
      words.add(read.word);
    }
    const [taken] = await store.takenWords(r, e.numberId, [...words], id);
    if (taken) {
      const other = await store.keywordById(r, businessId, taken.keywordId);
      const why = `“${taken.word}” is a word of “${other?.title ?? 'another programme'}” on this number.`;
      throw new Problem(409, 'conflict', why, [
        { field: 'words', message: `${why} Take another word, or another number.` },
      ]);
    }
    const b = await this.businesses.row(r, businessId);
    const draft = { ...e, words: [...words], programmes: e.purposes };
    const findings = reviewKeyword(draft, { legalName: b.legal_name, nameLine: b.name_line }, longest);
    // What is paused can be written to its end later; what is live has to be right.
    if (e.active && blocks(findings))
      throw new Problem(
        422,
        'findings',
        'It cannot be live as it is: mend what is found, or save it paused.',
        findings
          .filter((f) => f.severity === 'block')
          .map((f) => ({ field: f.field, message: `${f.message} ${f.fix}` })),
      );
    return [...words];
  }

  private async changed(
    w: Writer,
    actor: Actor,
    businessId: string,
    id: string,
    action: string,
    what: { before?: object; after?: object },
  ): Promise<void> {
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'keyword', objectId: id, ...what });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }

  /** @throws Problem 404 */
  private async known(r: Reader, businessId: string, id: string): Promise<KeywordModel> {
    const k = await store.keywordById(r, businessId, id);
    if (!k) throw notFound('keyword');
    return k;
  }

  private async get(businessId: string, id: string): Promise<Keyword> {
    const [shown] = await this.show(this.p.db, [await this.known(this.p.db, businessId, id)]);
    return shown as Keyword;
  }

  private async show(r: Reader, all: readonly KeywordModel[]): Promise<Keyword[]> {
    const codes = await store.codesOf(
      r,
      all.map((k) => k.id),
    );
    return all.map((k) => {
      const { pictureId, pictureName, pictureSha256, businessId: _, createdAt: __, ...rest } = k.get({ plain: true });
      return {
        ...rest,
        toldVersion: k.toldVersion,
        words: k.words,
        purposes: k.purposes,
        answers: k.answers,
        came: k.came,
        confirmed: k.confirmed,
        version: k.version,
        lastAt: k.lastAt ?? null,
        picture: pictureId ? { name: pictureName, sha256: pictureSha256 } : null,
        codes: codes.get(k.id) ?? { given: 0, left: 0 },
      };
    });
  }

  async addCodes(
    actor: Actor,
    businessId: string,
    id: string,
    codes: readonly string[],
  ): Promise<{ added: number; known: number; left: number }> {
    const each = [...new Set(codes)];
    const added = await this.p.db.write(async (w) => {
      await this.known(w, businessId, id);
      const n = await store.addCodes(w, id, each);
      if (n > 0) await this.changed(w, actor, businessId, id, 'codes added', { after: { codes: n } });
      return n;
    });
    const left = (await store.codesOf(this.p.db, [id])).get(id)?.left ?? 0;
    return { added, known: codes.length - added, left };
  }

  async dropCodes(actor: Actor, businessId: string, id: string): Promise<{ dropped: number }> {
    return this.p.db.write(async (w) => {
      await this.known(w, businessId, id);
      const dropped = await store.dropCodes(w, id);
      if (dropped > 0) await this.changed(w, actor, businessId, id, 'codes taken away', { before: { codes: dropped } });
      return { dropped };
    });
  }

  /** A picture of the sign: evidence of what people were told, so that one that was shown is never thrown away. */
  async keepPicture(actor: Actor, businessId: string, id: string, name: string, bytes: Buffer): Promise<Keyword> {
    await this.p.db.write(async (w) => {
      const k = await this.known(w, businessId, id);
      const owner = { businessId, objectKind: 'keyword', objectId: id };
      const kept = await this.documents.keep(w, owner, { what: 'sign', name, bytes, by: actor.name });
      await store.saveKeyword(
        w,
        k,
        { pictureId: kept.id, pictureName: kept.name, pictureSha256: kept.sha256 },
        kept.sha256 !== k.pictureSha256,
      );
      await this.changed(w, actor, businessId, id, 'picture of the sign kept', { after: { sha256: kept.sha256 } });
    });
    return this.get(businessId, id);
  }

  /** @throws Problem 404 */
  async picture(businessId: string, id: string): Promise<{ name: string; type: string; bytes: Buffer }> {
    const k = await this.known(this.p.db, businessId, id);
    if (!k.pictureId) throw notFound('picture');
    const owner = { businessId, objectKind: 'keyword', objectId: id };
    const { row, bytes } = await this.documents.read(this.p.db, owner, k.pictureId);
    return { name: row.name, type: row.type, bytes };
  }

  /** Programmes under way whose answers give a code, with how many are left. */
  async codesLeft(businessId: string): Promise<{ id: string; title: string; left: number }[]> {
    const giving = (await store.keywordsOf(this.p.db, businessId)).filter(
      (k) => k.active && Object.values(k.answers).some(givesCode),
    );
    const codes = await store.codesOf(
      this.p.db,
      giving.map((k) => k.id),
    );
    return giving.map((k) => ({ id: k.id, title: k.title, left: codes.get(k.id)?.left ?? 0 }));
  }

  // -- the contact's side ------------------------------------------------------------------------------------------

  /** The words by which somebody may join on a number. */
  async wordsOn(r: Reader, numberId: string): Promise<string[]> {
    return (await store.keywordsOn(r, numberId)).flatMap((k) => k.words);
  }

  /**
   * Somebody texted a word. It is the owner's own act by their own handset: filed with the words they were told by, and
   * confirmed by their YES where the programme asks for one; who is in already is told so.
   */
  async join(w: Writer, m: Incoming, word: string, evidence: Record<string, string>): Promise<HandledAs> {
    const k = (await store.keywordsOn(w, m.numberId)).find((x) => x.words.includes(word.toUpperCase()));
    if (!k) return '';
    await this.contacts.ensure(w, CONTACT, m.businessId, m.e164);
    const states = await this.ledger.statesOf(w, m.businessId, m.e164);
    const barred = await this.ledger.refusedElsewhere(w, m.businessId, m.e164);
    const standing = Object.fromEntries(Object.entries(states).map(([x, s]) => [x, s.state])) as Parameters<
      typeof comerOf
    >[0];
    const comer = comerOf(standing, barred, k.purposes);
    await k.update({ came: { ...k.came, [comer]: k.came[comer] + 1 }, lastAt: Math.round(m.at) });
    if (comer === 'already') {
      await this.answer(w, m, k, comer);
      return 'keyword';
    }
    // What was asked today waits for its YES: no reminder.
    const asked = (await askedToday(w, m.businessId, m.e164, this.p.clock.now())).map((x) => x.purpose);
    const wanted = k.purposes.filter(
      ({ purpose: x }) =>
        (states[x].state !== 'granted' || barred.includes(x)) && (states[x].askedAt === null || !asked.includes(x)),
    );
    if (wanted.length === 0) return 'keyword';
    const [event] = await this.ledger.append(w, m.businessId, [
      {
        e164: m.e164,
        purposes: wanted.map((x) => x.purpose),
        kind: 'granted',
        awaitsConfirmation: k.doubleOptIn,
        how: 'keyword',
        happenedAt: m.at,
        disclosure: k.told,
        disclosureVersion: `${k.title}, version ${k.toldVersion}`,
        evidence: {
          ...evidence,
          keyword: word.toUpperCase(),
          programme: k.id,
          comes: comer,
          place: k.place,
          ...(k.pictureSha256 ? { sha256: k.pictureSha256 } : {}),
        },
      },
    ]);
    if (!event) return 'keyword';
    if (!k.doubleOptIn) {
      await this.answer(w, m, k, comer);
      return 'keyword';
    }
    await this.p.jobs.add(w, {
      kind: 'optin.confirm',
      businessId: m.businessId,
      payload: {
        e164: m.e164,
        numberId: m.numberId,
        eventId: event.id,
        programmes: wanted,
        termsUrl: k.termsUrl,
        byHandset: true,
      } satisfies OptInWish,
      key: `optin:${event.id}`,
    });
    await this.p.jobs.add(w, {
      kind: 'optin.lapse',
      businessId: m.businessId,
      payload: { e164: m.e164 },
      at: event.happenedAt + CONFIRM_WITHIN_MS,
      key: `lapse:${event.id}`,
    });
    return 'keyword';
  }

  /**
   * Somebody said YES to what a word had asked for.
   * @param asked the evidence of the event that asked.
   * @returns whether a programme of ours answers; the campaign's words do where it does not.
   */
  async confirmed(w: Writer, m: Incoming, asked: Readonly<Record<string, string>>): Promise<boolean> {
    const k = await store.keywordById(w, m.businessId, asked['programme'] ?? '');
    if (!k) return false;
    await k.increment('confirmed');
    await this.answer(w, m, k, asked['comes'] === 'back' ? 'back' : 'new');
    return true;
  }

  private async answer(w: Writer, m: Incoming, k: KeywordModel, comer: KeywordComer): Promise<void> {
    const [person] = await this.contacts.people(w, m.businessId, [m.e164]);
    const words = k.answers[comer];
    const code = givesCode(words) ? await store.giveCode(w, k.id, m.e164, Math.round(m.at)) : '';
    await this.answers.say(
      w,
      m,
      'keyword',
      keywordAnswer(words, { firstName: person?.firstName ?? '', code }),
      comer === 'already',
    );
  }
}
