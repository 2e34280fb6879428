import type { Matter } from '@long-gate/contracts';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Registration } from './registration.js';

const matter = mattersOf('registration');
const FOUND = 5;

export function tellRegistration(p: Platform, registration: Registration): void {
  p.matters.tell((id) => ofFilings(registration, id));
  p.matters.tell((id) => ofUnpaid(p, registration, id));
  p.matters.find(async (businessId, words) =>
    (await registration.campaigns.find(p.db, businessId, words, FOUND)).map((c) => ({
      kind: 'campaign',
      title: c.name,
      detail: c.state,
      link: `registration/campaigns/${c.id}`,
    })),
  );
}

async function ofFilings(registration: Registration, id: string): Promise<Matter[]> {
  const d = await registration.dossier(id);
  const out: Matter[] = [];
  const one = (what: string, state: string, blocks: number, link: string): void => {
    if (state === 'declined')
      out.push(
        matter(
          'stop',
          `${what} was declined`,
          'Its reasons stand beside the words they speak of. Mend and resubmit.',
          link,
        ),
      );
    else if (state === 'in review')
      out.push(matter('hold', `${what} is in review`, 'The registrar usually answers within a few days.', link));
    else if (state === 'draft')
      out.push(
        matter(
          'note',
          `${what} is a draft`,
          blocks > 0
            ? `${blocks} finding${blocks === 1 ? '' : 's'} to mend before it can be submitted.`
            : 'It can be submitted.',
          link,
        ),
      );
  };
  one('The brand', d.brand.state, d.brand.findings.filter((f) => f.severity === 'block').length, 'registration/brand');
  for (const c of d.campaigns)
    one(
      `Campaign ${c.name}`,
      c.state,
      c.findings.filter((f) => f.severity === 'block').length,
      `registration/campaigns/${c.id}`,
    );
  return out;
}

async function ofUnpaid(p: Platform, registration: Registration, id: string): Promise<Matter[]> {
  return (await registration.campaigns.unpaidFees(p.db, id)).map((c) =>
    matter(
      'stop',
      `The monthly fee of campaign ${c.name} is unpaid`,
      'Top up: it is tried again every hour. Then it is taken off the register, and its numbers send no more until it is reviewed anew.',
      'settings/money',
      { due: c.lostAt },
    ),
  );
}
