import type { READ_AS, recordWish } from '@long-gate/contracts';
import {
  dayIn,
  joinedText,
  PURPOSE_WORDS,
  purposesBeforeLastStop,
  PURPOSES,
  readReply,
  refusalDayEnd,
  STOP_AT_ONCE,
  type HandledAs,
  type LedgerEvent,
  type Programme,
  type Purpose,
  type ReplyReading,
} from '@long-gate/core';
import { DateTime } from 'luxon';
import type { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { refused, type Problem } from '../../platform/problem.js';
import type { Texts } from '../dispatch/index.js';
import type { Numbers } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import type { Answers, Incoming } from './answers.js';
import type { Keywords } from './keywords/keywords.js';
import type { Ledger, NewEvent } from './ledger/ledger.js';
import { programmesAsked } from './opt-in-request-store.js';
import { countConfirmed } from './pages/page-store.js';
import type { Reviews } from './reviews.js';

/** One confirmation of an opt-out, within this time (47 CFR 64.1200(a)(12)). */
const CONFIRM_STOP_MS = 5 * 60_000;
/** What a reply means for consent, and the one text that answers it. */
export class Replies {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly texts: Texts,
    private readonly ledger: Ledger,
    private readonly reviews: Reviews,
    private readonly answers: Answers,
    private readonly keywords: Keywords,
  ) {}

  /**
   * Reads a text that came in and carries out what it means, in the transaction that stores the message.
   * @returns as what it was carried out; empty where somebody has to read it.
   */
  async read(w: Writer, m: Incoming): Promise<HandledAs> {
    const last = await this.texts.lastTo(w, m.businessId, m.e164);
    const keywords = await this.keywords.wordsOn(w, m.numberId);
    const context = { lastSent: last?.text, keywords };
    let reading = readReply(m.text, context);
    // A wish in a person's own words may name a list; only then what the lists are for is asked.
    if (reading.intent === 'stop' && reading.confidence < 1)
      reading = readReply(m.text, { ...context, lists: await this.texts.lists(w, m.businessId) });
    const evidence = { message: m.messageId, words: m.text.slice(0, 300) };
    switch (reading.intent) {
      case 'stop':
        return this.stop(w, m, reading, evidence);
      case 'start':
        await this.comeBack(w, m, evidence);
        return 'start';
      case 'yes':
        return (await this.yes(w, m, reading, last?.id ?? '', evidence)) ? 'confirmation' : '';
      case 'join':
        return this.keywords.join(w, m, reading.matched, evidence);
      case 'help':
        await this.answers.say(w, m, 'help', await this.words(w, m, 'helpMessage'), true);
        return 'help';
      default:
        // No wish, but somebody should look: a question about stopping, a limit of hours.
        if (reading.review)
          await this.reviews.open(w, {
            ...m,
            about: 'stop',
            reading: { matched: reading.matched, confidence: 0.3, purposes: ['promotional'], stopped: false },
          });
        return '';
    }
  }

  private async stop(
    w: Writer,
    m: Incoming,
    reading: ReplyReading,
    evidence: Record<string, string>,
  ): Promise<HandledAs> {
    const purposes = reading.purposes ?? [...PURPOSES];
    const sure = reading.confidence >= STOP_AT_ONCE;
    // Where only offers are meant they are held until somebody has read it; every other wish that is sure counts at once.
    const stopped = sure && !(purposes.length === 1 && purposes[0] === 'promotional');
    if (stopped) {
      const before = await this.ledger.statesOf(w, m.businessId, m.e164);
      await this.revoke(w, m.businessId, {
        e164: m.e164,
        purposes,
        kind: 'revoked',
        how: reading.confidence === 1 && !reading.purposes ? 'keyword' : 'reply',
        happenedAt: m.at,
        evidence,
      });
      // One confirmation of leaving altogether: not for one who was already out.
      if (!reading.purposes && !PURPOSES.every((x) => before[x].state === 'revoked'))
        await this.answers.say(w, m, 'out', await this.words(w, m, 'optOutMessage'), false, m.at + CONFIRM_STOP_MS);
    }
    if (reading.review || !stopped)
      await this.reviews.open(w, {
        ...m,
        about: 'stop',
        reading: { matched: reading.matched, confidence: reading.confidence, purposes, stopped },
      });
    if (!stopped) return '';
    return PURPOSES.every((x) => purposes.includes(x)) ? 'opt-out' : 'opt-out of some';
  }

  /** Records a revocation and takes back at once whatever has not left. */
  async revoke(w: Writer, businessId: string, event: NewEvent): Promise<void> {
    await this.ledger.append(w, businessId, [event]);
    await this.texts.withdraw(w, businessId, event.e164, event.purposes);
  }

  /**
   * YES completes an opt-in only as the answer to that request: it was the last text that reached the person, within
   * its 72 hours. Otherwise it is an answer like any other, and staff are shown it where somebody is out or was asked.
   * @returns whether it completed one.
   */
  private async yes(
    w: Writer,
    m: Incoming,
    reading: ReplyReading,
    lastTextId: string,
    evidence: Record<string, string>,
  ): Promise<boolean> {
    const states = await this.ledger.statesOf(w, m.businessId, m.e164);
    const wanted = await programmesAsked(w, lastTextId, m.at);
    const answered = wanted.filter(({ purpose: x }) => states[x].askedAt !== null && states[x].askedAt <= m.at);
    if (answered.length > 0) {
      const asked = await this.askedBy(w, m, answered);
      await this.countOnPages(w, m, asked);
      await this.ledger.append(w, m.businessId, [
        {
          e164: m.e164,
          purposes: answered.map((x) => x.purpose),
          kind: 'confirmed',
          how: 'reply',
          happenedAt: m.at,
          evidence: { ...evidence, answers: lastTextId },
        },
      ]);
      await this.reviews.answered(w, m.businessId, m.e164);
      // A word's programme answers in its own words, for what was joined by it.
      const byWord = asked.find((e) => e.how === 'keyword');
      const saidByWord = byWord && (await this.keywords.confirmed(w, m, byWord.evidence)) ? byWord.purposes : [];
      const rest = answered.filter((x) => !saidByWord.includes(x.purpose));
      if (rest.length > 0) await this.answers.say(w, m, 'in', await this.words(w, m, 'optInMessage', rest), false);
      return true;
    }
    const open = PURPOSES.filter((x) => states[x].askedAt !== null || states[x].state === 'revoked');
    if (open.length > 0)
      await this.reviews.open(w, {
        ...m,
        about: 'yes',
        reading: { matched: reading.matched, confidence: reading.confidence, purposes: open, stopped: false },
      });
    return false;
  }

  /** The events that asked for what is confirmed now, one for each kind of text. */
  private async askedBy(w: Writer, m: Incoming, answered: readonly { purpose: Purpose }[]): Promise<LedgerEvent[]> {
    const asked = (await this.ledger.eventsOf(w, m.businessId, m.e164))
      .filter((e) => e.kind === 'granted' && e.awaitsConfirmation)
      .reverse();
    return answered.flatMap(({ purpose }) => asked.find((e) => e.purposes.includes(purpose)) ?? []);
  }

  /** The pages on which what is confirmed now was agreed to. */
  private async countOnPages(w: Writer, m: Incoming, asked: readonly LedgerEvent[]): Promise<void> {
    for (const { how, evidence, recordedAt: at, disclosureVersion } of asked) {
      const slug = evidence['page'];
      if (how === 'web page' && slug) await countConfirmed(w, m.businessId, slug, { at, disclosureVersion });
    }
  }

  /** START: the purposes in force when the person left, as a new grant that cites the last disclosure. */
  private async comeBack(w: Writer, m: Incoming, evidence: Record<string, string>): Promise<void> {
    const events = await this.ledger.eventsOf(w, m.businessId, m.e164);
    const states = await this.ledger.statesOf(w, m.businessId, m.e164);
    // What they agreed to by this number, and refused by another of theirs since, is taken up again from here.
    const barred = await this.ledger.refusedElsewhere(w, m.businessId, m.e164);
    const left = purposesBeforeLastStop(events).filter((x) => states[x].state === 'revoked');
    const back = PURPOSES.filter((x) => left.includes(x) || (barred.includes(x) && states[x].state === 'granted'));
    const name = (await this.businesses.row(w, m.businessId)).name_line;
    if (back.length === 0) {
      const text = `${name}: there is nothing to take up again for this number. Join on our page if you like. Reply HELP for help.`;
      await this.answers.say(w, m, 'start', text, true);
      return;
    }
    const cited = [...events]
      .reverse()
      .find((e) => e.kind === 'granted' && e.disclosure !== '' && e.purposes.some((x) => back.includes(x)));
    await this.ledger.append(w, m.businessId, [
      {
        e164: m.e164,
        purposes: back,
        kind: 'granted',
        how: 'keyword',
        happenedAt: m.at,
        disclosure: cited?.disclosure ?? '',
        disclosureVersion: cited?.disclosureVersion ?? '',
        evidence: { ...evidence, cites: cited?.id ?? '' },
      },
    ]);
    await this.reviews.answered(w, m.businessId, m.e164);
    const text = `${name}: you are back in for ${list(back)}. Rates may apply. Reply HELP for help, STOP to end.`;
    await this.answers.say(w, m, 'back', text, false);
  }

  /** Tells somebody what they joined without having written: their page said it. @param m the event that says so. */
  async sayJoined(w: Writer, m: Incoming, joined: readonly Programme[]): Promise<void> {
    await this.answers.say(w, m, 'in', await this.words(w, m, 'optInMessage', joined), false);
  }

  /**
   * A contact told a member of staff: works at once, like any other route. What was said on a day that is over counts
   * from its end: whatever else they said that day, the no is the stricter.
   * @throws Problem 422 for a day to come, and where they agreed anew after that day: the no of then would stop nothing.
   */
  async recordWish(
    actor: Actor,
    businessId: string,
    wish: Omit<z.output<typeof recordWish.body>, 'saidOn'> & { saidOn?: string },
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const zone = (await this.businesses.row(w, businessId)).time_zone;
      const now = this.p.clock.now();
      const today = dayIn(now, zone);
      const saidOn = wish.saidOn || today;
      const wrong = (message: string): Problem => refused(message, [{ field: 'saidOn', message }]);
      const happenedAt = refusalDayEnd(saidOn, zone, now);
      if (happenedAt === null) throw wrong('This day is still to come. Choose the day on which they said it.');
      const agreed = (await this.ledger.lastConsents(w, businessId, [wish.e164])).get(wish.e164);
      if (agreed !== undefined && agreed > happenedAt)
        throw wrong(
          `They agreed anew on ${DateTime.fromMillis(agreed, { zone }).toFormat('d LLL yyyy')}, so what they said before would stop nothing. If they said no since, choose that day.`,
        );
      const late: Record<string, string> = saidOn === today ? {} : { saidOn };
      await this.revoke(w, businessId, {
        e164: wish.e164,
        purposes: wish.purposes,
        kind: 'revoked',
        how: wish.how,
        happenedAt,
        evidence: { words: wish.words, ...late },
        recordedBy: actor.id,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'wish to stop recorded',
        objectKind: 'consent',
        objectId: wish.e164,
        after: { purposes: wish.purposes, how: wish.how, ...late },
      });
    });
  }

  /** A person read a doubtful reply. Where it was a wish, it counts from when it was written. */
  async decide(actor: Actor, businessId: string, id: string, readAs: (typeof READ_AS)[number]): Promise<void> {
    await this.reviews.decide(actor, businessId, id, readAs, (w, e164, purposes, at, message) =>
      this.revoke(w, businessId, {
        e164,
        purposes,
        kind: 'revoked',
        how: 'reply',
        happenedAt: at,
        evidence: { message },
        recordedBy: actor.id,
      }),
    );
  }

  private async words(
    r: Reader,
    m: Incoming,
    which: 'optOutMessage' | 'helpMessage' | 'optInMessage',
    joined: readonly Programme[] = [],
  ): Promise<string> {
    const campaign = (await this.numbers.sender(r, m.businessId, m.numberId)).campaign;
    const b = await this.businesses.row(r, m.businessId);
    const own = campaign?.[which] ?? '';
    // What the campaign says of joining stands where it says how often, as the page did; else the page's own words.
    if (which === 'optInMessage')
      return own !== '' && joined.every((p) => own.includes(p.frequency)) ? own : joinedText(b.name_line, joined);
    if (own !== '') return own;
    return which === 'optOutMessage'
      ? `${b.name_line}: you are out and will get no more texts from us.`
      : `${b.name_line}: write to ${b.contact_email || 'our office'}. Reply STOP to end.`;
  }
}

function list(purposes: readonly Purpose[]): string {
  return purposes.map((x) => PURPOSE_WORDS[x]).join(' and ');
}
