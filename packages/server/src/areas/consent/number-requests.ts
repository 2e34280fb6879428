import { createHash, randomBytes } from 'node:crypto';
import type { NumberRequest, PublicNumberRequest, startNumberRequests } from '@long-gate/contracts';
import { formatPhone, mergeText, parsePhone, PHONE_REFUSALS, textableBy, type LineType } from '@long-gate/core';
import { GatewayBusy, GatewayDown, type LineAnswer } from '@long-gate/gateways';
import { z } from 'zod';
import { ActorShape, CONTACT, record, type Actor } from '../../platform/audit.js';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, Problem, refused } from '../../platform/problem.js';
import type { ContactEdits, Contacts, Lookups, Person } from '../contacts/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger } from './ledger.js';
import type { NumberRequestModel } from './model.js';
import type { PublicPages } from './pages/public-pages.js';
import * as store from './number-request-store.js';

const DAY_MS = 86_400_000;
/** A link is good for so long, and so long nobody is asked again. */
const GOOD_MS = 30 * DAY_MS;
/** People who can be asked in one go. */
const MOST = 5000;
const hash = (token: string): string => createHash('sha256').update(token).digest('hex');
/** What a line is called to the person whose it is. */
const LINE_WORDS: Record<LineType, string> = {
  mobile: 'a mobile number',
  landline: 'a landline',
  voip: 'an internet line',
  'toll-free': 'a toll-free number',
  none: 'no number in service',
  unknown: 'a number nobody could tell us about',
};

type Wish = z.output<typeof startNumberRequests.body>;
const Round = z.object({
  e164s: z.array(z.string()),
  pageId: z.string(),
  subject: z.string(),
  text: z.string(),
  actor: ActorShape,
});
type Round = z.infer<typeof Round>;

/**
 * Asking people by e-mail for a number that texts reach. The link is personal; the number given is looked up at once and
 * confirms itself by a YES from its handset, and only then texts go to it.
 */
export class NumberRequests {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly edits: ContactEdits,
    private readonly lookups: Lookups,
    private readonly ledger: Ledger,
    private readonly pages: PublicPages,
  ) {
    p.jobs.handle('number requests', Round, (round, context) => this.turn(round, context));
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
    already: number;
    sample: { to: string; subject: string; text: string } | null;
  }> {
    await this.pages.known(this.p.db, businessId, wish.pageId);
    const { asked, noEmail, already } = await this.sorted(businessId, wish);
    const [first] = asked;
    return {
      asked: asked.length,
      noEmail,
      already,
      sample: first
        ? {
            to: first.email,
            subject: filled(wish.subject, first, ''),
            text: filled(wish.text, first, this.p.mailer.link('/better-number/…')),
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
      throw refused('Nobody is left to be asked: no e-mail is known, or they were asked in the last 30 days.');
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

  /** @throws Problem 404 for a made-up link, 410 for one whose time is over. */
  async read(token: string): Promise<PublicNumberRequest> {
    const request = await this.byToken(this.p.db, token);
    const [person] = await this.contacts.people(this.p.db, request.businessId, [request.oldE164]);
    return {
      firstName: person?.firstName ?? '',
      old: `••• ${request.oldE164.slice(-2)}`,
      page: await this.pages.publicById(this.p.db, request.businessId, request.pageId),
      state: stateOf(request, this.p.clock.now()),
    };
  }

  /**
   * Somebody gives another number: it is asked about, and where texts reach it one leaves that asks for YES.
   * @throws Problem 422 where texts do not reach it, with what it is.
   */
  async answer(
    token: string,
    form: { phone: string; purposes: ('informational' | 'promotional')[]; words: string },
    evidence: { ip: string; agent: string },
  ): Promise<{ shown: string; from: string }> {
    const request = await this.byToken(this.p.db, token);
    const { businessId } = request;
    const b = await this.businesses.row(this.p.db, businessId);
    const phone = parsePhone(form.phone, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    const wrong = (message: string): Problem => refused(message, [{ field: 'phone', message }]);
    if (!phone.ok) throw wrong(PHONE_REFUSALS[phone.reason]);
    const { e164 } = phone;
    if (e164 === request.oldE164) throw wrong('This is the number texts do not reach. Give another one.');
    await this.pages.checkChoice(this.p.db, businessId, request.pageId, e164, form);
    await this.p.db.write((w) => this.pages.limitTo(w, businessId, e164, evidence.ip));
    const answer = await this.askAbout(businessId, e164, `number request:${request.id}:${e164}`);
    if (textableBy(answer.lineType) === 'no') {
      const why = `This is ${LINE_WORDS[answer.lineType]}: texts do not reach it. Give a mobile number.`;
      await this.p.db.write(async (w) =>
        (await this.byToken(w, token)).update({ refused: `${formatPhone(e164)}: ${LINE_WORDS[answer.lineType]}` }),
      );
      throw wrong(why);
    }
    return this.p.db.write(async (w) => {
      const current = await this.byToken(w, token);
      await this.edits.gave(w, businessId, current.contactId, e164);
      await this.contacts.storeLookup(w, businessId, [answer]);
      const from = await this.pages.requestFor(w, businessId, current.pageId, e164, form, {
        ...evidence,
        numberRequest: current.id,
      });
      await current.update({ state: 'answered', newE164: e164, answeredAt: this.p.clock.now(), refused: '' });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id: current.contactId }));
      return { shown: formatPhone(e164), from: formatPhone(from) };
    });
  }

  /** @throws Problem 503 where nobody can be asked now: what is the business's matter is not the person's. */
  private async askAbout(businessId: string, e164: string, key: string): Promise<LineAnswer> {
    try {
      return await this.lookups.one(businessId, e164, key);
    } catch (error) {
      if (error instanceof GatewayBusy || error instanceof GatewayDown || error instanceof Problem)
        throw new Problem(
          503,
          'not-now',
          'Numbers cannot be checked at this moment. Nothing is lost: try again in a few minutes.',
        );
      throw error;
    }
  }

  /** The handset said YES: texts go to the new number from now on, and staff see it. */
  private async confirm(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const request of await store.waitingForYes(w, businessId, e164s)) {
      const e164 = request.newE164 ?? '';
      const states = await this.ledger.statesOf(w, businessId, e164);
      if (states.informational.state !== 'granted' && states.promotional.state !== 'granted') continue;
      await request.update({ state: 'confirmed', confirmedAt: this.p.clock.now() });
      const preferred = await this.edits.takeUp(w, businessId, request.contactId, e164);
      await record(w, this.p.clock, {
        businessId,
        actor: CONTACT,
        action: preferred
          ? 'better number confirmed'
          : 'better number confirmed: it is another contact’s, merge the two',
        objectKind: 'contact',
        objectId: request.contactId,
        before: { e164: request.oldE164 },
        after: { e164 },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id: request.contactId }));
    }
  }

  private async byToken(r: Reader, token: string): Promise<NumberRequestModel> {
    const request = await store.requestByHash(r, hash(token));
    if (!request) throw notFound('link');
    if (stateOf(request, this.p.clock.now()) === 'lapsed')
      throw new Problem(
        410,
        'link-expired',
        'This link was good for 30 days, and they are over. Ask for a new one where it came from.',
      );
    return request;
  }

  /** Who is asked, each once, and how many are not and why. */
  private async sorted(
    businessId: string,
    { whom }: Pick<Wish, 'whom'>,
  ): Promise<{ asked: Person[]; noEmail: number; already: number }> {
    const e164s = await this.contacts.numbersOf(this.p.db, businessId, whom, MOST + 1);
    if (e164s.length > MOST)
      throw refused(`At most ${MOST.toLocaleString('en-US')} people are asked in one go. Narrow the list first.`);
    const people = await this.contacts.people(this.p.db, businessId, e164s);
    const once = [...new Map(people.map((x) => [x.contactId, x])).values()];
    const reachable = once.filter((x) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(x.email));
    const already = await store.askedSince(
      this.p.db,
      reachable.map((x) => x.contactId),
      this.p.clock.now() - GOOD_MS,
    );
    return {
      asked: reachable.filter((x) => !already.has(x.contactId)),
      noEmail: once.length - reachable.length,
      already: already.size,
    };
  }

  /** Lot by lot: who was asked in the last 30 days, also by this same job before a crash, is not asked again. */
  private async turn(round: Round, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const { businessId } = job;
    const lot = new Lot(100);
    let done = job.doneCount;
    while (done < round.e164s.length) {
      const part = round.e164s.slice(done, done + lot.size);
      await lot.write(
        this.p.db,
        async (w) => {
          const people = await this.contacts.people(w, businessId, part);
          const now = this.p.clock.now();
          const already = await store.askedSince(
            w,
            people.map((x) => x.contactId),
            now - GOOD_MS,
          );
          for (const person of people.filter((x) => !already.has(x.contactId) && x.email !== ''))
            await this.ask(w, businessId, round, person, idFrom('nrq', job.id, person.contactId));
          await this.p.jobs.keep(w, job, round, done + part.length);
        },
        part.length,
      );
      done += part.length;
      if (!(await context.progress(done, round.e164s.length))) return { done: false };
    }
    return {
      done: true,
      result: done === 1 ? 'one e-mail is on its way' : `${done.toLocaleString('en-US')} e-mails are on their way`,
    };
  }

  private async ask(w: Writer, businessId: string, round: Round, person: Person, id: string): Promise<void> {
    const token = randomBytes(24).toString('base64url');
    const now = this.p.clock.now();
    await store.addRequest(w, {
      id,
      businessId,
      contactId: person.contactId,
      pageId: round.pageId,
      tokenHash: hash(token),
      email: person.email,
      oldE164: person.e164,
      askedBy: round.actor.name,
      askedAt: now,
      expiresAt: now + GOOD_MS,
    });
    await this.p.mailer.put(w, `number-request:${id}`, {
      to: person.email,
      subject: filled(round.subject, person, ''),
      text: filled(round.text, person, this.p.mailer.link(`/better-number/${token}`)),
    });
  }
}

function stateOf(request: NumberRequestModel, now: number): NumberRequest['state'] {
  return request.state === 'sent' && request.expiresAt <= now ? 'lapsed' : request.state;
}

function filled(text: string, { firstName, lastName }: Person, link: string): string {
  // The link is put in last: a name that looks like one stays a name.
  return text
    .split('[link]')
    .map((part) => mergeText(part, { firstName, lastName }))
    .join(link);
}
