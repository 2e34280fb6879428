import { record, type Actor } from '../../../platform/audit.js';
import type { Reader } from '../../../platform/db.js';
import type { DocumentOwner, Documents } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound, refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import type { NumberRow } from '../number-row.js';
import { anyNumber, saveNumber } from '../number-store.js';
import type { Numbers } from '../numbers.js';
import { vCard } from './contact-card.js';
import { monogram } from './monogram.js';

/** Phones leave out what is larger. */
const PICTURE_BYTES = 200 * 1024;
type Picture = { type: string; bytes: Buffer };

const ownerOf = (row: Pick<NumberRow, 'id' | 'business_id'>): DocumentOwner => ({
  businessId: row.business_id,
  objectKind: 'number',
  objectId: row.id,
});

/** The public contact card of each number, by which people recognise who writes. */
export class Cards {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly documents: Documents,
  ) {}

  /** @throws Problem 404 for a number that is not active, or that nobody can call or answer. */
  private async shown(r: Reader, id: string): Promise<NumberRow> {
    const row = await anyNumber(r, id);
    if (row?.state !== 'active' || row.kind === 'sender ID') throw notFound('contact card');
    return row;
  }

  /** What stands on the card, whoever asks. Its label is for colleagues and does not stand there. */
  async card(r: Reader, id: string): Promise<string> {
    const row = await this.shown(r, id);
    const business = await this.businesses.row(r, row.business_id);
    return vCard({
      business: business.legal_name,
      nameLine: business.name_line,
      cardName: row.card_name,
      e164: row.e164,
      website: business.website,
      email: business.contact_email,
      picture: await this.pictureOf(r, row),
      revision: row.active_at ?? row.ordered_at,
    });
  }

  async picture(r: Reader, id: string): Promise<Picture> {
    return this.pictureOf(r, await this.shown(r, id));
  }

  /** One's own picture, or the first letters of the name. */
  private async pictureOf(r: Reader, row: NumberRow): Promise<Picture> {
    if (row.card_picture !== null) {
      const { row: kept, bytes } = await this.documents.read(r, ownerOf(row), row.card_picture);
      return { type: kept.type, bytes };
    }
    const { name_line: nameLine } = await this.businesses.row(r, row.business_id);
    return { type: 'image/png', bytes: await monogram(nameLine) };
  }

  /** Puts a picture of one's own on the card, or takes it off (null). @throws Problem 422 for what phones do not show. */
  async setPicture(
    actor: Actor,
    businessId: string,
    id: string,
    file: { name: string; bytes: Buffer } | null,
  ): Promise<void> {
    if (file && file.bytes.length > PICTURE_BYTES)
      throw refused(
        `“${file.name}” has ${Math.ceil(file.bytes.length / 1024)} kB; phones show at most ${PICTURE_BYTES / 1024} kB. Make it smaller, 400 pixels a side are enough.`,
        [{ field: 'file', message: `At most ${PICTURE_BYTES / 1024} kB.` }],
      );
    await this.p.db.write(async (w) => {
      const row = await this.numbers.row(w, businessId, id);
      const kept =
        file && (await this.documents.keep(w, ownerOf(row), { ...file, what: 'card picture', by: actor.name }));
      if (kept && !kept.type.startsWith('image/'))
        throw refused(`“${kept.name}” is no picture. Choose a PNG or JPEG.`, [
          { field: 'file', message: 'PNG or JPEG only.' },
        ]);
      await saveNumber(w, id, { cardPicture: kept?.id ?? null });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: kept ? 'picture put on the contact card' : 'picture taken off the contact card',
        objectKind: 'number',
        objectId: id,
        ...(kept ? { after: { name: kept.name, size: kept.size, sha256: kept.sha256 } } : {}),
      });
      this.numbers.changed(w, businessId, id);
    });
  }
}
