import type { Dossier, Matter } from '@long-gate/contracts';
import { formatPhone, renewableFrom } from '@long-gate/core';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Registration } from './registration.js';

const matter = mattersOf('registration');
const FOUND = 5;

export function tellRegistration(p: Platform, registration: Registration): void {
  p.matters.tell(async (id) => {
    const d = await registration.dossier(id);
    return [...ofFilings(d), ...ofStanding(d, p.clock.now()), ...ofTollFree(d)];
  });
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

function ofFilings(d: Dossier): Matter[] {
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
    else if (state === 'in review' && !(what === 'The brand' && d.brand.confirmation))
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

/** What waits for an owner's YES, and campaigns that are closed or soon will be. */
function ofStanding({ brand, campaigns }: Dossier, now: number): Matter[] {
  const out: Matter[] = [];
  const asked = brand.confirmation;
  if (asked?.lapsed)
    out.push(
      matter(
        'stop',
        'The owner did not confirm the brand in time',
        'Have the registrar ask again, and let the owner answer YES within 24 hours.',
        'registration/brand',
      ),
    );
  else if (asked)
    out.push(
      matter(
        'hold',
        'The owner has to confirm the brand',
        `The registrar has texted ${brand.body.mobile}: the owner answers YES from there.`,
        'registration/brand',
        { due: asked.until },
      ),
    );
  if (brand.emailMissing)
    out.push(
      matter(
        'stop',
        'The e-mail of the brand is not confirmed',
        'A listed company confirms its business e-mail before its campaigns: have a code mailed and give it back.',
        'registration/brand',
      ),
    );
  for (const c of campaigns) {
    const link = `registration/campaigns/${c.id}`;
    if (c.state === 'suspended')
      out.push(
        (c.halt?.answeredAt ?? null) === null
          ? matter(
              'stop',
              `Campaign ${c.name} is suspended`,
              'Nothing is sent from its numbers. Say what was changed, and the registrar decides.',
              link,
            )
          : matter(
              'hold',
              `Campaign ${c.name} is suspended; your answer is with the registrar`,
              'It decides within two days. Nothing is sent from its numbers until then.',
              link,
            ),
      );
    else if (c.renewalAskedAt !== null || c.renewsAt === null) continue;
    else if (c.state === 'expired')
      out.push(
        matter(
          'stop',
          `The year of campaign ${c.name} is over`,
          'Nothing is sent from its numbers until it is renewed.',
          link,
        ),
      );
    else if (c.state === 'registered' && renewableFrom(c.renewsAt) <= now)
      out.push(
        matter(
          'note',
          `Campaign ${c.name} is registered for a few more days`,
          'Confirm that it still says what is sent, and renew it.',
          link,
          { due: c.renewsAt },
        ),
      );
  }
  return out;
}

function ofTollFree({ tollFree }: Dossier): Matter[] {
  return tollFree.flatMap((v) => {
    const link = `registration/toll-free/${v.numberId}`;
    const name = formatPhone(v.e164);
    if (v.state === 'declined')
      return [
        matter(
          'stop',
          `The verification of ${name} was declined`,
          'Its reasons stand beside the words they speak of. Mend and resubmit.',
          link,
        ),
      ];
    if (v.state === 'in review')
      return [matter('hold', `${name} is being verified`, 'The registrar answers in three to five days.', link)];
    return v.state === 'draft'
      ? [matter('stop', `${name} is not verified`, 'A toll-free number sends nothing before it is.', link)]
      : [];
  });
}

async function ofUnpaid(p: Platform, registration: Registration, id: string): Promise<Matter[]> {
  return (await registration.campaignFees.unpaidFees(p.db, id)).map((c) =>
    matter(
      'stop',
      `The monthly fee of campaign ${c.name} is unpaid`,
      'Top up: it is tried again every hour. Then it is taken off the register, and its numbers send no more until it is reviewed anew.',
      'settings/money',
      { due: c.lostAt },
    ),
  );
}
