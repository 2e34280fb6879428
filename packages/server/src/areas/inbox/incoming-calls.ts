import type { OutsideEvent } from '@long-gate/gateways';
import { z } from 'zod';
import { CONTACT } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import type { Ledger } from '../consent/index.js';
import type { Contacts, Lists, Lookups } from '../contacts/index.js';
import type { Texts } from '../dispatch/index.js';
import type { Calls, Numbers } from '../numbers/index.js';
import type { Inbox } from './inbox.js';

const TextBackShape = z.object({
  key: z.string(),
  e164: z.string(),
  numberId: z.string(),
  text: z.string(),
  /** When they called. */
  at: z.number(),
});
type TextBack = z.infer<typeof TextBackShape>;

/** Who a text back comes from, as the conversation shows it. */
const TEXT_BACK = 'text back to a caller';
/** One text back a caller in this time. */
const TEXT_BACK_EVERY_MS = 12 * 3_600_000;

/** Calls to our numbers: shown in the Inbox, answered by a text, and, where 1 was pressed, kept as consent. */
export class IncomingCalls {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly calls: Calls,
    private readonly contacts: Contacts,
    private readonly lists: Lists,
    private readonly lookups: Lookups,
    private readonly texts: Texts,
    private readonly ledger: Ledger,
    private readonly inbox: Inbox,
  ) {
    p.feed.on('call.inbound', (w, e) => this.receive(w, e));
    p.jobs.handle('call.text-back', TextBackShape, (b, { job }) => this.textBack(job.businessId, b));
  }

  private async receive(w: Writer, e: Extract<OutsideEvent, { kind: 'call.inbound' }>): Promise<void> {
    const ours = await this.numbers.byAddress(w, e.to);
    if (!ours) return;
    const businessId = ours.business_id;
    const handling = await this.calls.get(w, businessId, ours.id);
    // Pressing 1 is taken only for a greeting that told all there is to tell.
    const joined =
      handling.way === 'greet' &&
      handling.invites &&
      e.pressed === '1' &&
      (await this.calls.findings(w, businessId, handling.greeting)).length === 0;
    const what = {
      none: 'Called; nobody answers calls to this number.',
      forward: `Called; put through to ${handling.forwardTo}.`,
      greet: joined ? 'Called, heard the greeting and pressed 1.' : 'Called and heard the greeting.',
    }[handling.way];
    const contact = await this.contacts.ensure(w, CONTACT, businessId, e.from);
    const id = idFrom('msg', 'call', e.key);
    const call = {
      id,
      businessId,
      numberId: ours.id,
      from: e.from,
      contactNumberId: contact.id,
      kind: 'call' as const,
      text: what,
      at: Math.round(e.at),
    };
    // Whoever was put through, joined or is texted back has been served; a call that nobody took waits for somebody.
    const served = handling.way === 'forward' || joined || (handling.way === 'greet' && handling.textBack !== '');
    if (await this.inbox.file(w, call, handling.way !== 'none')) await this.inbox.note(w, call, served ? 'call' : '');
    if (joined) {
      const list = await this.lists.ensure(w, CONTACT, businessId, handling.list, 'list');
      await this.lists.join(w, list, contact.contactId);
      await this.ledger.append(w, businessId, [
        {
          e164: e.from,
          purposes: ['informational'],
          kind: 'granted',
          how: 'phone call',
          // What they heard, to the letter, is what they agreed to.
          disclosure: handling.greeting,
          disclosureVersion: `greeting of ${e.to}`,
          evidence: { call: e.key, pressed: '1', to: e.to },
          happenedAt: e.at,
        },
      ]);
    }
    if (handling.way === 'greet' && handling.textBack !== '')
      await this.p.jobs.add(w, {
        kind: 'call.text-back',
        businessId,
        payload: { key: e.key, e164: e.from, numberId: ours.id, text: handling.textBack, at: e.at } satisfies TextBack,
        key: `text-back:${e.key}`,
      });
  }

  /**
   * The caller's own call makes them answerable; whether texts reach their line only a lookup says. The text goes
   * through the gate like every other, and once a caller and interval, however often they ring.
   */
  private async textBack(businessId: string, b: TextBack): Promise<JobOutcome> {
    const known = await this.contacts.byAddress(this.p.db, businessId, b.e164);
    if (!known) return { done: true };
    if (known.lookedUpAt === null) await this.lookups.one(businessId, b.e164, `call:${b.key}`);
    await this.p.db.write(async (w) => {
      const since = this.p.clock.now() - TEXT_BACK_EVERY_MS;
      if ((await this.texts.countSince(w, businessId, b.e164, 'answer', TEXT_BACK, since)) > 0) return;
      await this.texts.queue(w, {
        id: idFrom('msg', 'text back', b.key),
        businessId,
        kind: 'answer',
        purpose: 'conversational',
        numberId: b.numberId,
        e164: b.e164,
        text: b.text,
        sentBy: TEXT_BACK,
        expiresAt: b.at + 3_600_000,
      });
    });
    return { done: true };
  }
}
