import type { Matter } from '@long-gate/contracts';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from '../contacts/index.js';
import type { Pages } from './pages.js';
import type { Reviews } from './reviews.js';

const matter = mattersOf('consent');
const FOUND = 5;

export function tellConsent(p: Platform, contacts: Contacts, reviews: Reviews, pages: Pages): void {
  p.matters.tell((id) => ofReplies(contacts, reviews, id));
  p.matters.find(async (businessId, words) =>
    (await pages.list(businessId))
      .filter((page) => `${page.title} /join/${page.slug}`.toLowerCase().includes(words))
      .slice(0, FOUND)
      .map((page) => ({
        kind: 'opt-in page',
        title: page.title,
        detail: `/join/${page.slug}`,
        link: `consent/pages?open=${page.id}`,
      })),
  );
}

async function ofReplies(contacts: Contacts, reviews: Reviews, id: string): Promise<Matter[]> {
  const [{ count, oldest }, { unproven }] = await Promise.all([reviews.waiting(id), contacts.open(id)]);
  return [
    ...(count > 0
      ? [
          matter(
            'stop',
            `${count} repl${count === 1 ? 'y' : 'ies'} may be a wish to stop`,
            'Read them; the law’s outer limit is ten business days.',
            'consent/replies',
            { count, since: oldest },
          ),
        ]
      : []),
    ...(unproven > 0
      ? [
          matter(
            'note',
            `${unproven.toLocaleString('en-US')} claims of consent without proof`,
            'They do not open the gate. File the forms, or invite people to the opt-in page.',
            'contacts?promotional=unproven',
            { count: unproven },
          ),
        ]
      : []),
  ];
}
