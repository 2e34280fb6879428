import type { Matter } from '@long-gate/contracts';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Drafts } from './drafts.js';

const matter = mattersOf('dispatch');
const FOUND = 5;

export function tellDispatch(p: Platform, drafts: Drafts): void {
  p.matters.tell((id) => ofDispatches(p, drafts, id));
  p.matters.find(async (businessId, words) =>
    (await drafts.find(p.db, businessId, words, FOUND)).map((d) => ({
      kind: 'dispatch',
      title: d.title,
      detail: d.state,
      link: `dispatch/${d.id}`,
    })),
  );
}

async function ofDispatches(p: Platform, drafts: Drafts, id: string): Promise<Matter[]> {
  const rows = await drafts.open(p.db, id, 20);
  return rows.map((d) =>
    d.schedule
      ? ofSchedule(d.title, d.schedule)
      : d.state === 'draft'
        ? matter('note', `Draft: ${d.title}`, 'Not sent yet.', `dispatch/${d.id}`, { group: '# drafts of dispatches' })
        : matter(
            'hold',
            `Sending: ${d.title}`,
            d.held > 0
              ? `${d.held.toLocaleString('en-US')} held; they follow by themselves when their moment comes.`
              : 'Texts are leaving at the permitted pace.',
            `dispatch/${d.id}`,
          ),
  );
}

function ofSchedule(title: string, s: { dispatchId: string; at: number; held: string; reach: number }): Matter {
  const link = `dispatch/${s.dispatchId}`;
  return s.held === ''
    ? matter('note', `Scheduled: ${title}`, `To ${s.reach.toLocaleString('en-US')} people, as confirmed.`, link, {
        due: s.at,
      })
    : matter('stop', `Held, and asks you: ${title}`, s.held, link, { since: s.at });
}
