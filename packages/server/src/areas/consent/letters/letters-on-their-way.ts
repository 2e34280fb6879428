import type { Reader, Writer } from '../../../platform/db.js';
import type { Judge } from '../../../platform/mailer.js';
import type { Platform } from '../../../platform/platform.js';
import type { Contacts, Person } from '../../contacts/index.js';
import { refusedAmong, refuseMail } from './letter-store.js';
import { hashOf } from './letters.js';

/** How a letter ended that its person never had, or did not want. */
export type LetterEnd = 'came back' | 'complained' | 'held back';

/** A letter to one person, as its kind keeps it. */
export interface KeptLetter {
  businessId: string;
  email: string;
  e164: string;
  /**
   * Why it must not leave any more, for reasons of its kind; empty where it may.
   * @param person whom it is for, as the contacts have them now.
   */
  not(r: Reader, person: Person): Promise<string>;
  ended(how: LetterEnd, why: string): Promise<unknown>;
}
type Find = (r: Reader, id: string) => Promise<KeptLetter | null>;

/** What letters are called where they are handed over: with what begins the id each has where it is kept. */
const KEY = /^(?:invitation|number-request):((lnk|nrq)_\w+)$/;

/**
 * Letters to people between being written and being read. Each is judged once more as it leaves, since it may have waited
 * for a mail service that was down; and where one comes back, or is complained of, its address gets no more of any kind.
 */
export class LettersOnTheirWay implements Judge {
  private readonly kinds = new Map<string, Find>();

  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
  ) {
    p.mailer.judgedBy(this);
    p.feed.on('mail.bounced', (w, e) => this.returned(w, e.key, 'came back', e.reason));
    p.feed.on('mail.complained', (w, e) => this.returned(w, e.key, 'complained', ''));
  }

  /** @param ids what begins the ids of that kind. */
  of(ids: 'lnk' | 'nrq', find: Find): void {
    this.kinds.set(ids, find);
  }

  /** The letter of a key; null where its kind has it no more, and undefined for a message that is none. */
  private async byKey(r: Reader, key: string): Promise<KeptLetter | null | undefined> {
    const [, id = '', kind = ''] = KEY.exec(key) ?? [];
    return this.kinds.get(kind)?.(r, id);
  }

  async not(key: string): Promise<string> {
    const r = this.p.db;
    const letter = await this.byKey(r, key);
    if (letter === undefined) return '';
    if (letter === null) return 'Whom it was for was erased.';
    const { businessId, email, e164 } = letter;
    const hash = hashOf(email.toLowerCase());
    if ((await refusedAmong(r, businessId, [hash])).has(hash)) return 'Its address gets no such e-mail any more.';
    const person = (await this.contacts.people(r, businessId, [e164])).find((x) => x.email === email);
    return person ? letter.not(r, person) : 'Nobody among the contacts has this address and number any more.';
  }

  async heldBack(w: Writer, key: string, why: string): Promise<void> {
    const letter = await this.byKey(w, key);
    await letter?.ended('held back', why);
    if (letter) this.tell(w, letter.businessId);
  }

  private async returned(w: Writer, key: string, how: 'came back' | 'complained', why: string): Promise<void> {
    const letter = await this.byKey(w, key);
    if (!letter) return;
    const { businessId, email } = letter;
    await letter.ended(how, why);
    await refuseMail(w, { businessId, emailHash: hashOf(email.toLowerCase()), why: how, at: this.p.clock.now() });
    this.tell(w, businessId);
  }

  private tell(w: Writer, businessId: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }
}
