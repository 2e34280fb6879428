import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import type { ConsentArea } from '../consent/index.js';
import type { ContactsArea } from '../contacts/index.js';
import type { DispatchArea } from '../dispatch/index.js';
import type { NumbersArea } from '../numbers/index.js';
import { Inbox } from './inbox.js';
import { IncomingCalls } from './incoming-calls.js';
import { tellInbox } from './matters.js';
import { inboxRoutes } from './routes.js';
import { dropThreads, INBOX_COUNTS } from './thread-store.js';

/** What people write and how they call, and the answers to them. */
export function inboxArea(
  p: Platform,
  router: Router,
  {
    numbers,
    calls,
    contacts,
    lists,
    lookups,
    texts,
    ledger,
    replies,
  }: NumbersArea & ContactsArea & DispatchArea & ConsentArea,
) {
  p.db.facts.on('contact.erased', (w, { businessId, people }) =>
    dropThreads(
      w,
      businessId,
      people.map(([e164]) => e164),
    ),
  );
  const inbox = new Inbox(p, numbers, contacts, texts, replies);
  new IncomingCalls(p, numbers, calls, contacts, lists, lookups, texts, ledger, inbox);
  tellInbox(p, inbox);
  p.keptCounts.add(...INBOX_COUNTS);
  inboxRoutes(router, inbox);
  return { inbox };
}
