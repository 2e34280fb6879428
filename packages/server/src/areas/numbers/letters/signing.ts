import { createHash, randomBytes } from 'node:crypto';
import { CONTACT, record } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, notFound, refused } from '../../../platform/problem.js';
import type { KeptLetter } from './letter-shape.js';
import { addLink, endLinks, linkByHash, openLink } from './letter-store.js';
import { letterPdf, type Letter } from './letter-pdf.js';

const LINK_MS = 14 * 86_400_000;
const hash = (token: string): string => createHash('sha256').update(token).digest('hex');

export interface LinkState {
  expires_at: number;
  used_at: number | null;
}

/** What a letter belongs to: a port request, a hosted set-up. */
export interface LetterOwner {
  /** The letter as it would be signed now; `open` while it may be. */
  read(
    r: Reader,
    id: string,
  ): Promise<{ letter: Letter; businessId: string; version: number; open: boolean; signedBy: string } | null>;
  /** Keeps the signed letter and raises the version. */
  keep(w: Writer, id: string, letter: KeptLetter): Promise<void>;
}

/** Links by which account holders sign letters on a page of their own: good for 14 days and for one signature. */
export class Signing {
  private readonly owners = new Map<string, LetterOwner>();

  constructor(
    private readonly p: Platform,
    private readonly documents: Documents,
  ) {}

  own(kind: string, owner: LetterOwner): void {
    this.owners.set(kind, owner);
  }

  /** Makes a link; an earlier one ends. */
  async makeLink(w: Writer, kind: string, id: string): Promise<{ path: string; expiresAt: number }> {
    const token = randomBytes(24).toString('base64url');
    const expiresAt = this.p.clock.now() + LINK_MS;
    await this.endLinks(w, kind, id);
    await addLink(w, { tokenHash: hash(token), objectKind: kind, objectId: id, expiresAt: Math.round(expiresAt) });
    return { path: `/sign/${token}`, expiresAt };
  }

  async endLinks(w: Writer, kind: string, id: string): Promise<void> {
    await endLinks(w, kind, id);
  }

  async linkOf(r: Reader, kind: string, id: string): Promise<LinkState | undefined> {
    const link = await openLink(r, kind, id);
    return link ? { expires_at: link.expiresAt, used_at: link.usedAt } : undefined;
  }

  private async byToken(r: Reader, token: string) {
    const link = await linkByHash(r, hash(token));
    const owner = link && this.owners.get(link.objectKind);
    const found = owner && (await owner.read(r, link.objectId));
    const used = link !== null && link.usedAt !== null;
    if (!link || !owner || !found || (!used && (link.expiresAt < this.p.clock.now() || !found.open)))
      throw notFound('signing link');
    return { link, owner, used, ...found };
  }

  async letterToSign(token: string): Promise<Letter & { signed: boolean; signedBy: string }> {
    const { letter, used, signedBy } = await this.byToken(this.p.db, token);
    return { ...letter, signed: used, signedBy: used ? signedBy : '' };
  }

  /** The account holder signs. A second time changes nothing. */
  async sign(token: string, s: { name: string; drawn: string; ip: string; userAgent: string }): Promise<void> {
    const before = await this.byToken(this.p.db, token);
    if (before.used) return;
    const { day } = before.letter;
    const drawn = s.drawn === '' ? null : Buffer.from(s.drawn.replace(/^data:[^,]*,/, ''), 'base64');
    const pdf = await letterPdf(before.letter, { name: s.name, day, drawn, ip: s.ip }).catch(() => {
      throw refused('The drawing could not be read; draw it again or sign with your typed name.', [
        { field: 'drawn', message: 'Draw it again.' },
      ]);
    });
    await this.p.db.write(async (w) => {
      const { link, owner, used, version, businessId } = await this.byToken(w, token);
      if (used) return;
      if (version !== before.version)
        throw conflict('The letter was changed while you read it. Read it again, then sign.');
      const kept = await this.documents.keep(
        w,
        { businessId, objectKind: link.objectKind, objectId: link.objectId },
        { what: 'letter', name: `letter-of-authorisation-${day}.pdf`, bytes: pdf, by: s.name },
      );
      await link.update({ usedAt: Math.round(this.p.clock.now()) });
      await owner.keep(w, link.objectId, {
        how: 'signed',
        signedBy: s.name,
        signedOn: day,
        holderName: before.letter.holderName,
        numbers: [...before.letter.numbers],
        signedAt: this.p.clock.now(),
        ip: s.ip,
        userAgent: s.userAgent,
        documentId: kept.id,
      });
      await record(w, this.p.clock, {
        businessId,
        actor: { id: CONTACT.id, name: `${s.name} (account holder)` },
        action: 'letter of authorisation signed',
        objectKind: link.objectKind,
        objectId: link.objectId,
        after: { signedOn: day, sha256: kept.sha256 },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id: link.objectId }));
    });
  }
}
