import { createHash } from 'node:crypto';
import type { Clock } from './clock.js';
import type { Reader, Writer } from './db.js';
import {
  addDocument,
  documentById,
  documentsByDigest,
  dropDocument,
  documentsOf,
  type DocumentOwner,
  type DocumentRow,
} from './document-store.js';
import { newId } from './ids.js';
import { notFound, refused } from './problem.js';
import type { Vault } from './vault.js';

export type { DocumentOwner, DocumentRow };

const LIMIT_BYTES = 10 * 1024 * 1024;

/** What a file is by its first bytes; its name and what the browser says of it prove nothing. */
function typeOf(bytes: Buffer): 'application/pdf' | 'image/png' | 'image/jpeg' | null {
  if (bytes.subarray(0, 5).toString('latin1') === '%PDF-') return 'application/pdf';
  if (bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))) return 'image/png';
  if (bytes.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff]))) return 'image/jpeg';
  return null;
}

const ENDINGS: Record<string, string> = {
  'application/pdf': 'pdf',
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'text/plain; charset=utf-8': 'txt',
};

/** Whether a file is text that a person can read: UTF-8, and no character that is none. */
function isText(bytes: Buffer): boolean {
  try {
    return !new TextDecoder('utf-8', { fatal: true }).decode(bytes).includes('\0');
  } catch {
    return false;
  }
}

/** A document as it was handed in. */
export interface KeptDocument {
  sha256: string;
  name: string;
  type: string;
  ending: string;
  bytes: Buffer;
}

/** A file that is to be kept. */
export interface HandedIn {
  /** What it is, in words. */
  what: string;
  name: string;
  bytes: Buffer;
  by: string;
}

/** Documents, sealed at rest, each with the SHA-256 of what was handed in. */
export class Documents {
  constructor(
    private readonly vault: Vault,
    private readonly clock: Clock,
  ) {}

  /** @throws Problem 422 for anything but a PDF, PNG or JPEG of at most 10 MB. */
  async keep(w: Writer, owner: DocumentOwner, file: HandedIn): Promise<DocumentRow> {
    const type = typeOf(file.bytes);
    if (!type)
      throw refused(`“${file.name}” is no PDF, PNG or JPEG. Save or scan it as one of these and upload it again.`, [
        { field: 'file', message: 'PDF, PNG or JPEG only.' },
      ]);
    return this.seal(w, owner, file, type, 'Scan it at a lower resolution.');
  }

  /** A text or CSV file. @throws Problem 422 for anything else, or more than 10 MB. */
  async keepText(w: Writer, owner: DocumentOwner, file: HandedIn): Promise<DocumentRow> {
    if (!isText(file.bytes))
      throw refused(`“${file.name}” is no text in UTF-8. Save it as text or CSV (UTF-8) and choose it again.`, [
        { field: 'file', message: 'Text or CSV in UTF-8 only.' },
      ]);
    return this.seal(w, owner, file, 'text/plain; charset=utf-8', 'Cut it into several.');
  }

  private async seal(
    w: Writer,
    owner: DocumentOwner,
    file: HandedIn,
    type: string,
    smaller: string,
  ): Promise<DocumentRow> {
    if (file.bytes.length > LIMIT_BYTES)
      throw refused(
        `“${file.name}” has ${(file.bytes.length / 1_048_576).toFixed(1)} MB; at most 10 MB are taken. ${smaller}`,
        [{ field: 'file', message: 'At most 10 MB.' }],
      );
    const row: DocumentRow = {
      id: newId('doc'),
      what: file.what,
      name: file.name.replace(/[^\p{L}\p{N} ._()-]/gu, '_'),
      type,
      size: file.bytes.length,
      sha256: createHash('sha256').update(file.bytes).digest('hex'),
      uploadedBy: file.by,
      at: this.clock.now(),
    };
    await addDocument(w, { ...row, ...owner, body: this.vault.sealBytes(file.bytes) });
    return row;
  }

  async of(r: Reader, owner: DocumentOwner): Promise<DocumentRow[]> {
    return documentsOf(r, owner);
  }

  /** What these digests are of, with the last part of a file's name for its kind; what is not here is left out. */
  async byDigest(r: Reader, businessId: string, digests: readonly string[]): Promise<KeptDocument[]> {
    const found = await documentsByDigest(r, businessId, digests);
    return [...found.values()].map((d) => ({
      sha256: d.sha256,
      name: d.name,
      type: d.type,
      ending: ENDINGS[d.type] ?? 'bin',
      bytes: this.vault.unsealBytes(d.body),
    }));
  }

  /** Takes a document away for good. */
  async drop(w: Writer, owner: DocumentOwner, id: string): Promise<void> {
    await dropDocument(w, owner, id);
  }

  async read(r: Reader, owner: DocumentOwner, id: string): Promise<{ row: DocumentRow; bytes: Buffer }> {
    const row = await documentById(r, owner, id);
    if (!row) throw notFound('document');
    return { row, bytes: this.vault.unsealBytes(row.body) };
  }
}
