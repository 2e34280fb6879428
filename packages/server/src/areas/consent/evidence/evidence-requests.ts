import {
  MOST_ASKED_ABOUT,
  type EvidenceOnFile,
  type EvidencePack,
  type EvidenceRequest,
  type EvidenceWish,
} from '@long-gate/contracts';
import { foldConsent, readPastedNumbers, type LedgerEvent, type Purpose } from '@long-gate/core';
import { DateTime } from 'luxon';
import { record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import type { PageOrOne } from '../../../platform/keyset.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../../platform/problem.js';
import { erasedNumber, type Contacts } from '../../contacts/index.js';
import { countTextsOf } from '../../dispatch/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger } from '../ledger/ledger.js';
import type { EvidencePacks } from './evidence-packs.js';
import * as store from './evidence-store.js';
import type { EvidencePackModel, EvidenceRequestModel } from './model.js';

/**
 * Somebody asks for proof of consent: who, about which numbers, by when; what is proven and what is not; and the evidence
 * packs that answer them.
 */
export class EvidenceRequests {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly packs: EvidencePacks,
  ) {
    p.db.facts.on('contact.erased', (w, { businessId, people }) => this.forget(w, businessId, people));
  }

  async list(
    businessId: string,
    q: PageOrOne & { state?: 'open' | 'answered' | undefined },
  ): Promise<{ items: EvidenceRequest[]; next: string | null; total: number; fingerprint: string }> {
    const r = this.p.db;
    const [{ rows, next }, total] = await Promise.all([
      store.requestsOf(r, businessId, q.state, q),
      store.countRequests(r, businessId, q.state),
    ]);
    return { items: await this.show(r, businessId, rows), next, total, fingerprint: this.p.heads.fingerprint };
  }

  /** Requests with a deadline that wait, the most urgent first; a day ends at midnight where the business is. */
  async due(businessId: string): Promise<{ request: EvidenceRequestModel; due: number; overdue: boolean }[]> {
    const waiting = await store.dueRequests(this.p.db, businessId);
    if (waiting.length === 0) return [];
    const zone = (await this.businesses.row(this.p.db, businessId)).time_zone;
    return waiting.map((request) => {
      const due = DateTime.fromISO(request.dueOn ?? '', { zone })
        .endOf('day')
        .toMillis();
      return { request, due, overdue: due < this.p.clock.now() };
    });
  }

  /** What is on file about pasted numbers, and what stands there and is no number. */
  async review(
    businessId: string,
    pasted: string,
  ): Promise<{ items: EvidenceOnFile[]; unread: { raw: string; why: string }[] }> {
    const { e164s, unread } = await this.read(this.p.db, businessId, pasted);
    const r = this.p.db;
    const [events, texts, names] = await Promise.all([
      this.ledger.eventsOfAll(r, businessId, e164s),
      countTextsOf(r, businessId, e164s),
      this.contacts.names(r, businessId, e164s),
    ]);
    const now = this.p.clock.now();
    return {
      items: e164s.map((e164) => {
        const own = events.get(e164) ?? [];
        return {
          e164,
          name: names.get(e164)?.name ?? '',
          contactId: names.get(e164)?.contactId ?? null,
          informational: standsFor(own, 'informational', now),
          promotional: standsFor(own, 'promotional', now),
          events: own.length,
          texts: texts.get(e164) ?? 0,
        };
      }),
      unread,
    };
  }

  /**
   * Notes that somebody asks, and makes the pack. Under one key it is noted once.
   * @throws Problem 422 where no number can be read, or one cannot.
   */
  async ask(actor: Actor, businessId: string, wish: EvidenceWish, key: string): Promise<EvidenceRequest> {
    const id = idFrom('evr', businessId, key);
    await this.p.db.write(async (w) => {
      if (await store.requestById(w, businessId, id)) return;
      const { e164s, unread } = await this.read(w, businessId, wish.numbers);
      if (unread.length > 0)
        throw refused(
          `${unread.length === 1 ? 'One line is' : `${unread.length} lines are`} no telephone number. Mend or take out what stands below; nothing was noted yet.`,
          unread.slice(0, 20).map((u) => ({ field: 'numbers', message: `“${u.raw}”: ${u.why}` })),
        );
      await this.hasLedger(w, businessId);
      await store.addRequest(w, {
        id,
        businessId,
        asker: wish.asker,
        who: wish.who,
        reference: wish.reference,
        question: wish.question,
        dueOn: wish.asker === 'our own file' ? null : wish.dueOn,
        numbers: e164s,
        askedAt: Math.round(this.p.clock.now()),
        askedBy: actor.name,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'evidence asked for',
        objectKind: 'evidence request',
        objectId: id,
        after: { asker: wish.asker, who: wish.who, numbers: e164s.length, dueOn: wish.dueOn },
      });
      await this.packs.add(w, actor, businessId, id, 'first');
      this.changed(w, businessId);
    });
    return this.get(businessId, id);
  }

  /** Makes the pack of a request anew; under one key once. */
  async again(actor: Actor, businessId: string, id: string, key: string): Promise<EvidenceRequest> {
    await this.p.db.write(async (w) => {
      if (!(await store.requestById(w, businessId, id))) throw notFound('request');
      await this.hasLedger(w, businessId);
      await this.packs.add(w, actor, businessId, id, key);
      this.changed(w, businessId);
    });
    return this.get(businessId, id);
  }

  /** @throws Problem 409 where nothing was ever recorded: then no chain stands that could be signed. */
  private async hasLedger(r: Reader, businessId: string): Promise<void> {
    if (await this.ledger.isEmpty(r, businessId))
      throw new Problem(
        409,
        'empty-ledger',
        'No consent is on file yet, of nobody: there is no ledger that a pack could prove anything from. Ask again once the first event is recorded.',
      );
  }

  async answer(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    answer: string,
  ): Promise<EvidenceRequest> {
    await this.p.db.write(async (w) => {
      const request = await store.requestById(w, businessId, id);
      if (!request) throw notFound('request');
      expectVersion('request', request, seen);
      if (request.answeredAt !== null)
        throw conflict(`It was answered already, by ${request.answeredBy}: “${request.answer}”.`);
      await request.update({
        answeredAt: Math.round(this.p.clock.now()),
        answeredBy: actor.name,
        answer,
        version: request.version + 1,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'evidence handed over',
        objectKind: 'evidence request',
        objectId: id,
        after: { answer },
      });
      this.changed(w, businessId);
    });
    return this.get(businessId, id);
  }

  /** Somebody was erased: packs about them go, and what stands in their numbers' place stands in the requests. */
  private async forget(
    w: Writer,
    businessId: string,
    people: readonly (readonly [e164: string, digest: string])[],
  ): Promise<void> {
    const gone = new Map(people.map(([e164, digest]) => [e164, erasedNumber(digest)]));
    const touched = (await store.allRequests(w, businessId)).filter((x) => x.numbers.some((n) => gone.has(n)));
    for (const request of touched)
      await request.update({
        numbers: request.numbers.map((n) => gone.get(n) ?? n),
        version: request.version + 1,
      });
    await this.packs.takeAway(
      w,
      touched.map((x) => x.id),
    );
  }

  // -- reading ---------------------------------------------------------------------------------------------------

  private async read(
    r: Reader,
    businessId: string,
    pasted: string,
  ): Promise<{ e164s: string[]; unread: { raw: string; why: string }[] }> {
    const b = await this.businesses.row(r, businessId);
    const read = readPastedNumbers(pasted, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    const e164s = read.flatMap((x) => (x.ok ? [x.e164] : []));
    if (e164s.length > MOST_ASKED_ABOUT)
      throw refused(
        `These are ${e164s.length.toLocaleString('en-US')} numbers; at most ${MOST_ASKED_ABOUT.toLocaleString('en-US')} are answered for in one request. Make several.`,
        [{ field: 'numbers', message: 'Too many for one request.' }],
      );
    return { e164s, unread: read.flatMap((x) => (x.ok ? [] : [{ raw: x.raw.slice(0, 60), why: x.why }])) };
  }

  private async get(businessId: string, id: string): Promise<EvidenceRequest> {
    const request = await store.requestById(this.p.db, businessId, id);
    if (!request) throw notFound('request');
    const [shown] = await this.show(this.p.db, businessId, [request]);
    return shown as EvidenceRequest;
  }

  private async show(r: Reader, businessId: string, rows: readonly EvidenceRequestModel[]): Promise<EvidenceRequest[]> {
    const packs = await store.packsOf(
      r,
      rows.map((x) => x.id),
    );
    const names = await this.contacts.names(
      r,
      businessId,
      rows.flatMap((x) => (x.numbers.length === 1 ? x.numbers : [])),
    );
    return rows.map((x) => ({
      id: x.id,
      asker: x.asker,
      who: x.who,
      reference: x.reference,
      question: x.question,
      dueOn: x.dueOn ?? null,
      e164s: x.numbers,
      name: x.numbers.length === 1 ? (names.get(x.numbers[0] ?? '')?.name ?? '') : '',
      askedAt: x.askedAt,
      askedBy: x.askedBy,
      answeredAt: x.answeredAt ?? null,
      answeredBy: x.answeredBy,
      answer: x.answer,
      packs: packs.filter((k) => k.requestId === x.id).map(shownPack),
      version: x.version,
    }));
  }

  private changed(w: Writer, businessId: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }
}

function shownPack(k: EvidencePackModel): EvidencePack {
  const { id, state, madeBy, madeAt, size, sha256: digest, events, texts, keptUntil, jobId } = k;
  return { id, state, madeBy, madeAt, size, sha256: digest, events, texts, keptUntil, jobId };
}

/** Where a number stands for a purpose, and the event it rests on. */
function standsFor(events: readonly LedgerEvent[], purpose: Purpose, now: number): EvidenceOnFile['promotional'] {
  const { state, eventId } = foldConsent(events, now)[purpose];
  const by = events.find((e) => e.id === eventId);
  // A YES is given to what was asked before it: the words stand there.
  const asked = events.filter((e) => e.kind === 'granted' && e.purposes.includes(purpose) && e.seq <= (by?.seq ?? 0));
  return {
    state,
    proven: state === 'granted',
    by: by
      ? {
          seq: by.seq,
          kind: by.kind,
          how: by.how,
          happenedAt: by.happenedAt,
          disclosed: (by.disclosure || asked.at(-1)?.disclosure || '') !== '',
        }
      : null,
  };
}
