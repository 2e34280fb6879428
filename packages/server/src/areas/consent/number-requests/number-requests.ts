import type { NumberRequest, startNumberRequests } from '@long-gate/contracts';
import { formatPhone, NUMBER_WORDS, numberPage, withoutPerson, type NumberPage } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../../platform/audit.js';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, refused } from '../../../platform/problem.js';
import type { Contacts, Person } from '../../contacts/index.js';
import type { Ledger } from '../ledger/ledger.js';
import { refusedAmong } from '../letters/letter-store.js';
import type { LettersOnTheirWay } from '../letters/letters-on-their-way.js';
import {
  endLettersTo,
  filledLetter,
  hashOf,
  keepLetter,
  LINK_GOOD_MS,
  linkOver,
  newToken,
  reachableBy,
  writeInLots,
  type LettersOf,
} from '../letters/letters.js';
import type { NumberRequestModel } from './model.js';
import { wrongPhone, type NewNumbers } from './new-numbers.js';
import * as store from './number-request-store.js';
import type { PublicPages } from '../pages/public-pages.js';

type Wish = z.output<typeof startNumberRequests.body>;
const Round = z.object({
  e164s: z.array(z.string()),
  pageId: z.string(),
  subject: z.string(),
  text: z.string(),
  actor: ActorShape,
});
type Round = z.infer<typeof Round>;
type Sorted = { asked: Person[]; noMore: number; already: number };

/**
 * Asking people by e-mail for a number that texts reach. The link is personal; the number given is looked up at once and
 * confirms itself by a YES from its handset, and only then texts go to it.
 */
export class NumberRequests {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly numbers: NewNumbers,
    private readonly pages: PublicPages,
    private readonly ledger: Ledger,
    letters: LettersOnTheirWay,
  ) {
    p.jobs.handle('number requests', Round, (round, context) => this.turn(round, context));
    letters.of('nrq', async (r, id) => {
      const request = await store.requestOfAnybody(r, id);
      return (
        request && {
          businessId: request.businessId,
          email: request.email,
          e164: request.oldE164,
          not: () => Promise.resolve(''),
          ended: (failed, why) => request.update({ failed, why }),
        }
      );
    });
    p.db.facts.on('consent.changed', (w, { businessId, e164s }) => this.confirm(w, businessId, e164s));
    p.db.facts.on('contact.erased', (w, { businessId, people }) =>
      store.dropRequestsFor(
        w,
        businessId,
        people.map(([e164]) => e164),
      ),
    );
  }

  async preview(
    businessId: string,
    wish: Omit<Wish, 'seen'>,
  ): Promise<{
    asked: number;
    noEmail: number;
    noMore: number;
    already: number;
    sample: { to: string; subject: string; text: string } | null;
  }> {
    await this.pages.known(this.p.db, businessId, wish.pageId);
    const { asked, noEmail, noMore, already } = await this.sorted(businessId, wish);
    const [first] = asked;
    return {
      asked: asked.length,
      noEmail,
      noMore,
      already,
      sample: first
        ? {
            to: first.email,
            subject: filledLetter(wish.subject, first, ''),
            text: filledLetter(wish.text, first, this.p.mailer.link('/better-number/…')),
          }
        : null,
    };
  }

  /** @throws Problem 409 where others are to be asked than were seen, 422 where nobody is. */
  async start(actor: Actor, businessId: string, wish: Wish, key: string): Promise<{ jobId: string; asked: number }> {
    const jobKey = idFrom('nrq', businessId, key);
    const known = await this.p.jobs.idOf(this.p.db, jobKey);
    if (known !== undefined) return { jobId: known, asked: wish.seen };
    await this.pages.known(this.p.db, businessId, wish.pageId);
    const { asked } = await this.sorted(businessId, wish);
    if (asked.length === 0)
      throw refused(
        'Nobody is left to be asked: no e-mail is known, they want no such e-mail any more, or they were asked in the last 30 days.',
      );
    if (asked.length !== wish.seen)
      throw conflict(`${asked.length} people would be asked now; ${wish.seen} when you looked. Look again.`);
    const round: Round = {
      e164s: asked.map((x) => x.e164),
      pageId: wish.pageId,
      subject: wish.subject,
      text: wish.text,
      actor: { id: actor.id, name: actor.name },
    };
    const jobId = await this.p.db.write(async (w) => {
      const meanwhile = await this.p.jobs.idOf(w, jobKey);
      if (meanwhile !== undefined) return meanwhile;
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'asking for better numbers',
        objectKind: 'number request',
        objectId: jobKey,
        after: { people: asked.length, subject: wish.subject },
      });
      return this.p.jobs.add(w, {
        kind: 'number requests',
        businessId,
        payload: round,
        title:
          asked.length === 1
            ? 'Asking one person for a better number'
            : `Asking ${asked.length} people for a better number`,
        total: asked.length,
        key: jobKey,
      });
    });
    return { jobId, asked: asked.length };
  }

  async list(
    businessId: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: NumberRequest[]; next: string | null; total: number }> {
    const place = cursor ? readCursor(z.tuple([z.number(), z.string()]), cursor) : null;
    const rows = await store.requestsAfter(
      this.p.db,
      businessId,
      place && { askedAt: place[0], id: place[1] },
      limit + 1,
    );
    const page = rows.slice(0, limit);
    const names = await this.contacts.names(
      this.p.db,
      businessId,
      page.map((x) => x.oldE164),
    );
    const now = this.p.clock.now();
    const last = page.at(-1);
    return {
      items: page.map((x) => ({
        id: x.id,
        contactId: x.contactId,
        name: names.get(x.oldE164)?.name ?? '',
        email: x.email,
        oldE164: x.oldE164,
        newE164: x.newE164,
        state: stateOf(x, now),
        why: x.why,
        refused: x.refused,
        askedBy: x.askedBy,
        askedAt: x.askedAt,
        answeredAt: x.answeredAt,
        confirmedAt: x.confirmedAt,
      })),
      next: rows.length > limit && last ? packCursor([last.askedAt, last.id]) : null,
      total: await store.countRequests(this.p.db, businessId),
    };
  }

  /** The page as it stands. @throws Problem 404, the same for a link that is made up and for one that is over. */
  async read(token: string): Promise<{ page: NumberPage; words: string }> {
    return this.shown(this.p.db, await this.byToken(this.p.db, token));
  }

  private async shown(r: Reader, request: NumberRequestModel): Promise<{ page: NumberPage; words: string }> {
    const { businessId, oldE164 } = request;
    const [person] = await this.contacts.people(r, businessId, [oldE164]);
    const offered = await this.pages.publicById(r, businessId, request.pageId);
    const { language, business, purposes, privacyUrl, termsUrl, ground, accent, words } = offered;
    return {
      page: {
        language,
        business,
        firstName: person?.firstName ?? '',
        number: `••• ${oldE164.slice(-2)}`,
        confirmed: request.state === 'confirmed',
        purposes,
        privacyUrl,
        termsUrl,
        ground,
        accent,
      },
      words,
    };
  }

  /**
   * Somebody gives another number: it is asked about, and where texts reach it one leaves that asks for YES.
   * @throws Problem 422 where texts do not reach it, with what it is, 409 where no number is in service that could ask for
   * the YES; in the language of the page.
   */
  async answer(
    token: string,
    form: { phone: string; purposes: ('informational' | 'promotional')[]; words: string },
    evidence: { ip: string; agent: string },
  ): Promise<{ shown: string; from: string }> {
    const request = await this.byToken(this.p.db, token);
    const { businessId, pageId } = request;
    const { language } = await this.pages.publicById(this.p.db, businessId, pageId);
    const same = NUMBER_WORDS[language].same;
    const e164 = await this.numbers.read(businessId, form.phone, request.oldE164, language, same);
    await this.pages.checkChoice(this.p.db, businessId, pageId, e164, form);
    await this.pages.checkAsking(this.p.db, businessId, pageId);
    await this.p.db.write((w) => this.pages.limitTo(w, businessId, e164, evidence.ip, language));
    const { answer, not } = await this.numbers.lookUp(businessId, e164, `number request:${request.id}`, language);
    if (not) {
      await this.p.db.write(async (w) => (await this.byToken(w, token)).update({ refused: not.kept }));
      throw wrongPhone(not.said);
    }
    return this.p.db.write(async (w) => {
      const current = await this.byToken(w, token);
      await this.numbers.give(w, businessId, current.contactId, answer);
      const { page } = await this.shown(w, current);
      const seen = numberPage(withoutPerson(page), { as: 'kept' });
      const chosen = { purposes: form.purposes, words: form.words, page: seen };
      const from = await this.pages.requestFor(w, businessId, current.pageId, e164, chosen, {
        ...evidence,
        numberRequest: current.id,
      });
      await current.update({ state: 'answered', newE164: e164, answeredAt: this.p.clock.now(), refused: '' });
      return { shown: formatPhone(e164), from: formatPhone(from) };
    });
  }

  /** The handset said YES: texts go to the new number from now on, and staff see it. */
  private async confirm(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const request of await store.waitingForYes(w, businessId, e164s)) {
      const e164 = request.newE164 ?? '';
      if (!(await this.ledger.joinedSince(w, businessId, e164, request.answeredAt ?? 0))) continue;
      await request.update({ state: 'confirmed', confirmedAt: this.p.clock.now() });
      await this.numbers.takeUp(w, businessId, request.contactId, request.oldE164, e164);
    }
  }

  /** Whose letters these are, for the page that ends them: also by a link that is over, which still ends them. */
  async letters(token: string): Promise<LettersOf> {
    const request = await this.everByToken(this.p.db, token);
    return this.pages.publicById(this.p.db, request.businessId, request.pageId);
  }

  /** No more letters of any kind to that address. Source: RFC 8058. */
  async endLetters(token: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const { businessId, email } = await this.everByToken(w, token);
      await endLettersTo(w, this.p, businessId, email);
    });
  }

  private async everByToken(r: Reader, token: string): Promise<NumberRequestModel> {
    const request = await store.requestByHash(r, hashOf(token));
    if (!request) throw linkOver();
    return request;
  }

  private async byToken(r: Reader, token: string): Promise<NumberRequestModel> {
    const request = await this.everByToken(r, token);
    if (stateOf(request, this.p.clock.now()) === 'lapsed') throw linkOver();
    return request;
  }

  /** Who is asked, each once, and how many are not and why. */
  private async sorted(businessId: string, { whom }: Pick<Wish, 'whom'>): Promise<{ noEmail: number } & Sorted> {
    const { people, noEmail } = await reachableBy(this.p.db, this.contacts, businessId, whom);
    return { noEmail, ...(await this.mayBeAsked(this.p.db, businessId, people)) };
  }

  /** Not whose address gets no such e-mail any more, nor who was asked in the last 30 days. */
  private async mayBeAsked(r: Reader, businessId: string, people: readonly Person[]): Promise<Sorted> {
    const hashed = (x: Person): string => hashOf(x.email.toLowerCase());
    const no = await refusedAmong(r, businessId, people.map(hashed));
    const willing = people.filter((x) => !no.has(hashed(x)));
    const already = await store.askedSince(
      r,
      willing.map((x) => x.contactId),
      this.p.clock.now() - LINK_GOOD_MS,
    );
    return {
      asked: willing.filter((x) => !already.has(x.contactId)),
      noMore: people.length - willing.length,
      already: already.size,
    };
  }

  /** Lot by lot: who was asked in the last 30 days, also by this same job before a crash, is not asked again. */
  private async turn(round: Round, context: JobContext): Promise<JobOutcome> {
    const { id, businessId } = context.job;
    return writeInLots(this.p, round, context, async (w, part) => {
      const people = (await this.contacts.people(w, businessId, part)).filter((x) => x.email !== '');
      for (const person of (await this.mayBeAsked(w, businessId, people)).asked)
        await this.ask(w, businessId, round, person, idFrom('nrq', id, person.contactId));
    });
  }

  private async ask(w: Writer, businessId: string, round: Round, person: Person, id: string): Promise<void> {
    const token = newToken();
    const now = this.p.clock.now();
    await store.addRequest(w, {
      id,
      businessId,
      contactId: person.contactId,
      pageId: round.pageId,
      tokenHash: hashOf(token),
      email: person.email,
      oldE164: person.e164,
      askedBy: round.actor.name,
      askedAt: now,
      expiresAt: now + LINK_GOOD_MS,
      words: await keepLetter(w, businessId, round, now),
      firstName: person.firstName,
      lastName: person.lastName,
    });
    const link = this.p.mailer.link(`/better-number/${token}`);
    await this.p.mailer.put(w, `number-request:${id}`, {
      to: person.email,
      subject: filledLetter(round.subject, person, ''),
      text: `${filledLetter(round.text, person, link)}\n\nNo more e-mails like this one: ${link}/letters`,
      unsubscribe: `${link}/letters`,
    });
  }
}

function stateOf(request: NumberRequestModel, now: number): NumberRequest['state'] {
  if (request.state === 'sent' && request.failed) return request.failed;
  return request.state === 'sent' && request.expiresAt <= now ? 'lapsed' : request.state;
}
