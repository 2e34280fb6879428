import {
  purposesBeforeLastStop,
  PURPOSES,
  readReply,
  STOP_AT_ONCE,
  type Purpose,
  type ReplyReading,
} from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound } from '../../platform/problem.js';
import type { Contacts } from '../contacts/index.js';
import type { Texts } from '../dispatch/index.js';
import type { Numbers } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger, NewEvent } from './ledger.js';

/** One confirmation of an opt-out, within this time (47 CFR 64.1200(a)(12)). */
const CONFIRM_STOP_MS = 5 * 60_000;
const PURPOSE_WORDS: Record<Purpose, string> = {
  conversational: 'answers',
  informational: 'notices',
  promotional: 'offers',
};

/** What a reply means for consent, and the one text that answers it. */
export class Replies {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly ledger: Ledger,
  ) {}

  /** Reads a text that came in and carries out what it means, in the transaction that stores the message. */
  async read(
    w: Writer,
    businessId: string,
    e164: string,
    numberId: string,
    messageId: string,
    text: string,
  ): Promise<ReplyReading> {
    const last = await w.one<{ text: string }>(
      `SELECT text FROM message WHERE business_id = $1 AND e164 = $2 AND direction = 'out' AND sent_at IS NOT NULL ORDER BY sent_at DESC LIMIT 1`,
      [businessId, e164],
    );
    const reading = readReply(text, { lastSent: last?.text });
    const evidence = { message: messageId, words: text.slice(0, 300) };
    const states = await this.ledger.statesOf(w, businessId, e164);
    switch (reading.intent) {
      case 'stop':
        await this.stop(w, businessId, e164, numberId, messageId, reading, evidence);
        break;
      case 'start':
        await this.comeBack(w, businessId, e164, numberId, messageId, evidence);
        break;
      case 'yes': {
        const waiting = PURPOSES.filter((x) => states[x].state === 'awaiting');
        if (waiting.length > 0) await this.confirm(w, businessId, e164, numberId, messageId, waiting, evidence);
        else if (PURPOSES.some((x) => states[x].state === 'revoked'))
          await this.comeBack(w, businessId, e164, numberId, messageId, evidence);
        break;
      }
      case 'help':
        await this.say(w, {
          businessId,
          e164,
          numberId,
          id: `${messageId}-help`,
          kind: 'help answer',
          text: await this.words(w, businessId, numberId, 'helpMessage'),
        });
        break;
      default:
        break;
    }
    return reading;
  }

  private async stop(
    w: Writer,
    businessId: string,
    e164: string,
    numberId: string,
    messageId: string,
    reading: ReplyReading,
    evidence: Record<string, string>,
  ): Promise<void> {
    const purposes = reading.purposes ?? [...PURPOSES];
    const atOnce = reading.confidence >= STOP_AT_ONCE && !reading.purposes;
    if (atOnce) {
      const before = await this.ledger.statesOf(w, businessId, e164);
      await this.revoke(w, businessId, {
        e164,
        purposes: [...PURPOSES],
        kind: 'revoked',
        how: reading.confidence === 1 ? 'keyword' : 'reply',
        evidence,
      });
      // One confirmation: not for one who was already out.
      if (!PURPOSES.every((x) => before[x].state === 'revoked')) {
        await this.say(w, {
          businessId,
          e164,
          numberId,
          id: `${messageId}-out`,
          kind: 'opt-out confirmation',
          text: await this.words(w, businessId, numberId, 'optOutMessage'),
          expiresAt: this.p.clock.now() + CONFIRM_STOP_MS,
        });
      }
    } else await this.contacts.setWishInReview(w, businessId, e164, true);
    if (reading.review) {
      await w.run(
        `INSERT INTO reply_review (id, business_id, e164, message_id, reading, at) VALUES ($1,$2,$3,$4,$5,$6)`,
        [
          newId('rev'),
          businessId,
          e164,
          messageId,
          JSON.stringify({ matched: reading.matched, confidence: reading.confidence, purposes, stopped: atOnce }),
          this.p.clock.now(),
        ],
      );
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    }
  }

  /** Records a revocation and takes back at once whatever has not left. */
  async revoke(w: Writer, businessId: string, event: NewEvent): Promise<void> {
    await this.ledger.append(w, businessId, [event]);
    await this.texts.withdraw(w, businessId, event.e164, event.purposes);
  }

  /** START: the purposes in force when the person left, as a new grant that cites the last disclosure. */
  private async comeBack(
    w: Writer,
    businessId: string,
    e164: string,
    numberId: string,
    messageId: string,
    evidence: Record<string, string>,
  ): Promise<void> {
    const events = await this.ledger.eventsOf(w, businessId, e164);
    const states = await this.ledger.statesOf(w, businessId, e164);
    const back = purposesBeforeLastStop(events).filter((x) => states[x].state === 'revoked');
    const name = (await this.businesses.row(w, businessId)).name_line;
    if (back.length === 0) {
      await this.say(w, {
        businessId,
        e164,
        numberId,
        id: `${messageId}-start`,
        kind: 'help answer',
        text: `${name}: there is nothing to take up again for this number. Join on our page if you like. Reply HELP for help.`,
      });
      return;
    }
    const cited = [...events]
      .reverse()
      .find((e) => e.kind === 'granted' && e.disclosure !== '' && e.purposes.some((x) => back.includes(x)));
    await this.ledger.append(w, businessId, [
      {
        e164,
        purposes: back,
        kind: 'granted',
        how: 'keyword',
        disclosure: cited?.disclosure ?? '',
        disclosureVersion: cited?.disclosureVersion ?? '',
        evidence: { ...evidence, cites: cited?.id ?? '' },
      },
    ]);
    await this.contacts.setWishInReview(w, businessId, e164, false);
    await this.say(w, {
      businessId,
      e164,
      numberId,
      id: `${messageId}-start`,
      kind: 'help answer',
      text: `${name}: you are back in for ${list(back)}. Rates may apply. Reply HELP for help, STOP to end.`,
    });
  }

  private async confirm(
    w: Writer,
    businessId: string,
    e164: string,
    numberId: string,
    messageId: string,
    purposes: Purpose[],
    evidence: Record<string, string>,
  ): Promise<void> {
    await this.ledger.append(w, businessId, [{ e164, purposes, kind: 'confirmed', how: 'reply', evidence }]);
    await this.say(w, {
      businessId,
      e164,
      numberId,
      id: `${messageId}-in`,
      kind: 'help answer',
      text: await this.words(w, businessId, numberId, 'optInMessage', purposes),
    });
  }

  /** A contact told a member of staff: works at once, like any other route. */
  async recordWish(
    actor: Actor,
    businessId: string,
    wish: { e164: string; purposes: Purpose[]; how: 'phone call' | 'e-mail' | 'paper form'; words: string },
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      await this.revoke(w, businessId, {
        e164: wish.e164,
        purposes: wish.purposes,
        kind: 'revoked',
        how: wish.how,
        evidence: { words: wish.words },
        recordedBy: actor.id,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'wish to stop recorded',
        objectKind: 'consent',
        objectId: wish.e164,
        after: { purposes: wish.purposes, how: wish.how },
      });
    });
  }

  /** A person read a doubtful reply. Where it was a wish, it counts from when it was written. */
  async decide(actor: Actor, businessId: string, id: string, stop: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await w.one<{ id: string; e164: string; message_id: string; reading: string; at: number }>(
        `SELECT * FROM reply_review WHERE id = $1 AND business_id = $2 AND state = 'open'`,
        [id, businessId],
      );
      if (!row) throw notFound('review');
      const reading = JSON.parse(row.reading) as { purposes: Purpose[]; stopped: boolean };
      if (stop && !reading.stopped)
        await this.revoke(w, businessId, {
          e164: row.e164,
          purposes: reading.purposes,
          kind: 'revoked',
          how: 'reply',
          happenedAt: row.at,
          evidence: { message: row.message_id },
          recordedBy: actor.id,
        });
      await this.contacts.setWishInReview(w, businessId, row.e164, false);
      await w.run(`UPDATE reply_review SET state = $2 WHERE id = $1`, [id, stop ? 'stop' : 'not a wish']);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: stop ? 'reply read as a wish to stop' : 'reply read as no wish to stop',
        objectKind: 'consent',
        objectId: row.e164,
        after: { message: row.message_id },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
  }

  private async words(
    r: Reader,
    businessId: string,
    numberId: string,
    which: 'optOutMessage' | 'helpMessage' | 'optInMessage',
    purposes: Purpose[] = [],
  ): Promise<string> {
    const campaign = (await this.numbers.sender(r, businessId, numberId)).campaign;
    const b = await this.businesses.row(r, businessId);
    const own = campaign?.[which] ?? '';
    if (own !== '') return own;
    if (which === 'optOutMessage') return `${b.name_line}: you are out and will get no more texts from us.`;
    if (which === 'helpMessage')
      return `${b.name_line}: write to ${b.contact_email || 'our office'}. Reply STOP to end.`;
    return `${b.name_line}: you are in for ${list(purposes)}. Rates may apply. Reply HELP for help, STOP to end.`;
  }

  private async say(
    w: Writer,
    t: {
      businessId: string;
      e164: string;
      numberId: string;
      id: string;
      kind: 'opt-out confirmation' | 'help answer';
      text: string;
      expiresAt?: number;
    },
  ): Promise<void> {
    await this.texts.queue(w, { ...t, id: idFrom('msg', t.id), purpose: 'informational', sentBy: SYSTEM.name });
  }
}

function list(purposes: readonly Purpose[]): string {
  return purposes.map((x) => PURPOSE_WORDS[x]).join(' and ');
}
