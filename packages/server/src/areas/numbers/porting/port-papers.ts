import { isEditable } from '@long-gate/core';
import { record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import { letterPdf, type Letter } from '../letters/letter-pdf.js';
import type { KeptLetter } from '../letters/letter-shape.js';
import type { Signing } from '../letters/signing.js';
import { editPort } from './port-edit.js';
import { portParagraphs } from './port-letter.js';
import { portDay, readPort, unsealed, type Port, type PortRow } from './port-row.js';
import { keepPort, portById, savePort } from './port-store.js';

/** Whose documents the papers of a request are. */
export function ownerOfPapers(row: Pick<PortRow, 'id' | 'businessId'>): {
  businessId: string;
  objectKind: string;
  objectId: string;
} {
  return { businessId: row.businessId, objectKind: 'port', objectId: row.id };
}

/** The papers of a port request: the letter of authorisation, signed on paper or by link, and the bill. */
export class PortPapers {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly documents: Documents,
    private readonly signing: Signing,
  ) {
    signing.own('port', {
      read: async (r, id) => {
        const row = await portById(r, id);
        if (!row) return null;
        const port = unsealed(p.vault, row);
        return {
          letter: await this.letterOf(r, port),
          businessId: row.businessId,
          open: isEditable(row.state),
          signedBy: port.letter?.signedBy ?? '',
        };
      },
      keep: (w, id, letter) => savePort(w, id, { letter }),
    });
  }

  async upload(
    actor: Actor,
    businessId: string,
    id: string,
    file: { what: 'letter' | 'bill'; name: string; bytes: Buffer; dated: string; signedBy: string },
  ): Promise<void> {
    await editPort(this.p, businessId, id, null, async (w, port) => {
      if (file.what === 'letter' && file.signedBy === '')
        throw refused('Say who signed the letter.', [{ field: 'signedBy', message: 'This is missing.' }]);
      const kept = await this.documents.keep(w, ownerOfPapers(port.row), { ...file, by: actor.name });
      if (file.what === 'bill') await keepPort(w, id, { billDated: file.dated });
      else
        await this.keepLetter(w, port, {
          how: 'uploaded',
          signedBy: file.signedBy,
          signedOn: file.dated,
          signedAt: this.p.clock.now(),
          ip: '',
          userAgent: '',
          documentId: kept.id,
        });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `${file.what === 'bill' ? 'bill' : 'signed letter'} uploaded`,
        objectKind: 'port',
        objectId: id,
        after: { name: kept.name, size: kept.size, sha256: kept.sha256, dated: file.dated },
      });
    });
  }

  /** Takes away what was uploaded by mistake; what the holder signed by a link stays. That it was there stays in the trail. */
  async drop(actor: Actor, businessId: string, id: string, documentId: string): Promise<void> {
    await editPort(this.p, businessId, id, null, async (w, port) => {
      const owner = ownerOfPapers(port.row);
      const row = (await this.documents.of(w, owner)).find((d) => d.id === documentId);
      if (!row) return;
      const { letter } = port;
      if (letter?.documentId === documentId) {
        if (letter.how === 'signed')
          throw refused('The holder signed this letter here; it stays. A new signature takes its place.');
        await keepPort(w, id, { letter: null });
      }
      if (row.what === 'bill') await keepPort(w, id, { billDated: '' });
      await this.documents.drop(w, owner, documentId);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `${row.what} taken away`,
        objectKind: 'port',
        objectId: id,
        before: { name: row.name, size: row.size, sha256: row.sha256 },
      });
    });
  }

  private async keepLetter(w: Writer, port: Port, letter: Omit<KeptLetter, 'holderName' | 'numbers'>): Promise<void> {
    const kept: KeptLetter = {
      ...letter,
      holderName: port.facts.holderName,
      numbers: port.numbers.map((n) => n.e164),
    };
    await keepPort(w, port.row.id, { letter: kept });
  }

  async readDocument(
    actor: Actor,
    businessId: string,
    id: string,
    documentId: string,
  ): Promise<{ name: string; type: string; bytes: Buffer }> {
    const { row, bytes } = await this.documents.read(this.p.db, ownerOfPapers({ id, businessId }), documentId);
    await this.p.db.write((w) =>
      record(w, this.p.clock, {
        businessId,
        actor,
        action: `${row.what} looked at`,
        objectKind: 'port',
        objectId: id,
        after: { document: row.name },
      }),
    );
    return { name: row.name, type: row.type, bytes };
  }

  private async letterOf(r: Reader, port: Port): Promise<Letter> {
    const { facts, row } = port;
    const business = (await this.businesses.row(r, row.businessId)).legal_name;
    return {
      subtitle: 'to port telephone numbers',
      business,
      holderName: facts.holderName,
      authorisedName: facts.authorisedName,
      address: [`${facts.street} ${facts.unit}`.trim(), facts.city, `${facts.state} ${facts.postalCode}`.trim()]
        .filter((t) => t !== '')
        .join(', '),
      carrier: row.losingCarrier,
      numbers: port.numbers.map((n) => n.e164),
      paragraphs: portParagraphs({ business, carrier: row.losingCarrier, holderName: facts.holderName }),
      day: portDay(this.p.clock.now()),
    };
  }

  /** The letter as a PDF, unsigned: to print, sign and upload. */
  async letter(businessId: string, id: string): Promise<Buffer> {
    return letterPdf(await this.letterOf(this.p.db, await readPort(this.p.db, this.p.vault, businessId, id)), null);
  }

  async makeLink(actor: Actor, businessId: string, id: string): Promise<{ path: string; expiresAt: number }> {
    let link = { path: '', expiresAt: 0 };
    await editPort(this.p, businessId, id, null, async (w, port) => {
      if (port.facts.holderName === '' || port.numbers.length === 0)
        throw refused('Write the holder’s name and at least one number first; both stand in the letter.', [
          { field: 'facts.holderName', message: 'Needed for the letter.' },
        ]);
      link = await this.signing.makeLink(w, 'port', id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'signing link made',
        objectKind: 'port',
        objectId: id,
        after: { goodUntil: portDay(link.expiresAt) },
      });
    });
    return link;
  }
}
