import type { ClaimedPerson, ClaimLot } from '@long-gate/contracts';
import { z } from 'zod';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import { fromJson } from '../../../platform/table.js';
import type { Contacts, Intakes } from '../../contacts/index.js';
import { claimLots, openClaims } from './claim-store.js';

const Place = z.tuple([z.number()]);
/** What the lot's event says of one person. */
const Said = z.object({
  date: z.string().default(''),
  source: z.string().default(''),
  disclosure: z.string().default(''),
});

/** Claims of consent that were brought in without proof: what their documents would open, by the lots they came in. */
export class Claims {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly intakes: Intakes,
  ) {}

  /** Lots of which something is open, the largest first, then those of which nothing is. */
  async read(businessId: string): Promise<{ items: ClaimLot[]; open: ClaimLot['open'] }> {
    const lots = await claimLots(this.p.db, businessId);
    const intakes = await this.intakes.named(
      this.p.db,
      businessId,
      lots.map((x) => x.intakeId),
    );
    const items = lots.flatMap(({ intakeId, people, open, informational, promotional, agreed }): ClaimLot[] => {
      const intake = intakes.get(intakeId);
      // What was taken back claims nothing any more.
      if (!intake || intake.undone) return [];
      const { fileName, broughtAt, broughtBy, attestation, claim } = intake;
      const counts = { people, open: { people: open, informational, promotional }, agreed };
      return [{ id: intakeId, fileName, broughtAt, broughtBy, attestation, claim, ...counts }];
    });
    const { unproven, unprovenFor } = await this.contacts.open(businessId);
    return {
      items: items.sort((a, b) => b.open.people - a.open.people || b.broughtAt - a.broughtAt),
      open: { people: unproven, ...unprovenFor },
    };
  }

  /** Whose claim of a lot nothing proves yet. @throws Problem 404 */
  async people(
    businessId: string,
    intakeId: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: ClaimedPerson[]; next: string | null; total: number }> {
    const lot = (await claimLots(this.p.db, businessId)).find((x) => x.intakeId === intakeId);
    if (!lot) throw notFound('lot of claims');
    const after = cursor ? readCursor(Place, cursor)[0] : 0;
    const rows = await openClaims(this.p.db, businessId, intakeId, after, limit + 1);
    const shown = rows.slice(0, limit);
    const names = await this.contacts.names(
      this.p.db,
      businessId,
      shown.map((x) => x.e164),
    );
    const last = shown.at(-1);
    return {
      items: shown.map(({ e164, evidence, ...states }) => ({
        e164,
        name: names.get(e164)?.name ?? '',
        contactId: names.get(e164)?.contactId ?? null,
        ...fromJson(Said, evidence),
        unproven: (['informational', 'promotional'] as const).filter((x) => states[x] === 'unproven'),
      })),
      next: rows.length > limit && last ? packCursor([last.seq]) : null,
      total: lot.open,
    };
  }

  /** The numbers of whom a lot claims what nothing proves yet; one more than a limit where there are more. */
  async numbers(r: Reader, businessId: string, intakeId: string, limit: number): Promise<string[]> {
    return (await openClaims(r, businessId, intakeId, 0, limit)).map((x) => x.e164);
  }
}
