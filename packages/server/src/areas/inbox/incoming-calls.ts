import type { OutsideEvent } from '@long-gate/gateways';
import { CONTACT } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Ledger } from '../consent/index.js';
import type { Contacts } from '../contacts/index.js';
import type { Texts } from '../dispatch/index.js';
import type { Calls, Numbers } from '../numbers/index.js';
import type { Inbox } from './inbox.js';

/** Calls to our numbers: shown in the Inbox, answered by a text, and, where 1 was pressed, kept as consent. */
export class IncomingCalls {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly calls: Calls,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly ledger: Ledger,
    private readonly inbox: Inbox,
  ) {
    p.feed.on('call.inbound', (w, e) => this.receive(w, e));
  }

  private async receive(w: Writer, e: Extract<OutsideEvent, { kind: 'call.inbound' }>): Promise<void> {
    const ours = await this.numbers.byAddress(w, e.to);
    if (!ours) return;
    const businessId = ours.business_id;
    const handling = await this.calls.get(w, businessId, ours.id);
    const joined = handling.way === 'greet' && handling.invites && e.pressed === '1';
    const what = {
      none: 'Called; nobody answers calls to this number.',
      forward: `Called; put through to ${handling.forwardTo}.`,
      greet: joined ? 'Called, heard the greeting and pressed 1.' : 'Called and heard the greeting.',
    }[handling.way];
    const contact = await this.contacts.ensure(w, CONTACT, businessId, e.from);
    const id = idFrom('msg', 'call', e.key);
    await this.inbox.file(w, {
      id,
      businessId,
      numberId: ours.id,
      from: e.from,
      contactNumberId: contact.id,
      kind: 'call',
      text: what,
      at: Math.round(e.at),
    });
    if (joined) {
      const list = await this.contacts.ensureList(w, CONTACT, businessId, handling.list, 'list');
      await this.contacts.join(w, list, contact.contactId);
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
    // The caller's own call makes them answerable; the text goes through the gate like every other.
    if (handling.way === 'greet' && handling.textBack !== '')
      await this.texts.queue(w, {
        id: idFrom('msg', 'text back', e.key),
        businessId,
        kind: 'answer',
        purpose: 'conversational',
        numberId: ours.id,
        e164: e.from,
        text: handling.textBack,
        sentBy: 'text back to a caller',
      });
  }
}
