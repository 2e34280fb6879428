import type { TextKind } from '@long-gate/core';
import { SYSTEM } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Texts } from '../dispatch/index.js';

/** Answers to HELP and their like: at most so many a person and hour. */
const ANSWERS_AN_HOUR = 3;
const HOUR_MS = 3_600_000;
/** What is answered to somebody who is out, who is in, and to whom either may be. */
const KIND_OF = {
  out: 'opt-out confirmation',
  in: 'opt-in answer',
  back: 'opt-in answer',
  keyword: 'opt-in answer',
  start: 'help answer',
  help: 'help answer',
} as const satisfies Record<string, TextKind>;

/** A text that came in, as it is to be read. */
export interface Incoming {
  businessId: string;
  e164: string;
  /** The number that answers. */
  numberId: string;
  messageId: string;
  text: string;
  /** When it was written, not when it was read. */
  at: number;
}

/** The one text that answers what came in, said by nobody in person. */
export class Answers {
  constructor(
    private readonly p: Platform,
    private readonly texts: Texts,
  ) {}

  /**
   * One answer to what came in, under an id made of it, so that a repeated event says nothing twice.
   * @param limited at most three an hour, whatever the person writes.
   */
  async say(
    w: Writer,
    m: Incoming,
    what: keyof typeof KIND_OF,
    text: string,
    limited: boolean,
    expiresAt = m.at + HOUR_MS,
  ): Promise<void> {
    const kind = KIND_OF[what];
    const since = this.p.clock.now() - HOUR_MS;
    if (limited && (await this.texts.countSince(w, m.businessId, m.e164, kind, SYSTEM.name, since)) >= ANSWERS_AN_HOUR)
      return;
    await this.texts.queue(w, {
      id: idFrom('msg', `${m.messageId}-${what}`),
      businessId: m.businessId,
      e164: m.e164,
      numberId: m.numberId,
      kind,
      purpose: 'informational',
      text,
      sentBy: SYSTEM.name,
      expiresAt,
    });
  }
}
