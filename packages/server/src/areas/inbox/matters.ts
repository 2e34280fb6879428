import type { Matter } from '@long-gate/contracts';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Inbox } from './inbox.js';

const matter = mattersOf('inbox');

export function tellInbox(p: Platform, inbox: Inbox): void {
  p.matters.tell((id) => ofConversations(inbox, id));
}

async function ofConversations(inbox: Inbox, id: string): Promise<Matter[]> {
  const { n, first } = await inbox.waiting(id);
  return n > 0
    ? [
        matter(
          'note',
          `${n} conversation${n === 1 ? ' waits' : 's wait'} for an answer`,
          'Staff may answer within 24 hours of a person’s last word.',
          'inbox',
          { count: n, due: first },
        ),
      ]
    : [];
}
