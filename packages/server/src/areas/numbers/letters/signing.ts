import { createHash, randomBytes } from 'node:crypto';
import { CONTACT, record, SYSTEM } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound, Problem, refused } from '../../../platform/problem.js';
import { FrozenLetter, type KeptLetter, type LinkEnd } from './letter-shape.js';
import { addLink, endLinks, lastLink, linkByHash } from './letter-store.js';
import type { SigningLinkModel } from './model.js';
import { letterPdf, type Letter } from './letter-pdf.js';

const LINK_MS = 14 * 86_400_000;
const hash = (token: string): string => createHash('sha256').update(token).digest('hex');

export interface LinkState {
  expires_at: number;
  used_at: number | null;
  /** Why it is worth nothing any more; empty for one that is not ended. */
  ended: LinkEnd;
}

/** What is said to a holder whose link is worth nothing any more, and what they are to do. */
const GONE: Record<Exclude<LinkEnd, ''> | 'expired', (business: string) => string> = {
  replaced: (b) => `${b} has made a newer link for this letter. Open the one that was sent to you last.`,
  changed: (b) =>
    `What the letter says was changed after this link was made, so it cannot be signed as you saw it. ${b} has to send you a new link: read the letter there again before you sign.`,
  withdrawn: (b) => `Nothing needs to be signed here any more. If you expected to sign, ask ${b}.`,
  expired: (b) => `This link was good for 14 days, and they are over. Ask ${b} for a new one.`,
};

/** What a letter belongs to: a port request, a hosted set-up. */
export interface LetterOwner {
  /** The letter as it would be signed now; `open` while it may be. */
  read(r: Reader, id: string): Promise<{ letter: Letter; businessId: string; open: boolean; signedBy: string } | null>;
  /** Keeps the signed letter and raises the version. */
  keep(w: Writer, id: string, letter: KeptLetter): Promise<void>;
}

/**
 * Links by which account holders sign letters on a page of their own: good for 14 days and for one signature. A link
 * holds the letter as it was made; where what it says is changed, the link ends, and the holder has to read again.
 */
export class Signing {
  private readonly owners = new Map<string, LetterOwner>();

  constructor(
    private readonly p: Platform,
    private readonly documents: Documents,
  ) {
    p.db.facts.on('letter.edited', (w, { objectKind, objectId }) => this.endIfChanged(w, objectKind, objectId));
  }

  own(kind: string, owner: LetterOwner): void {
    this.owners.set(kind, owner);
  }

  /** Makes a link that holds the letter as it stands; an earlier one ends. */
  async makeLink(w: Writer, kind: string, id: string): Promise<{ path: string; expiresAt: number }> {
    const found = await this.owners.get(kind)?.read(w, id);
    if (!found) throw notFound('letter');
    const token = randomBytes(24).toString('base64url');
    const expiresAt = this.p.clock.now() + LINK_MS;
    await endLinks(w, kind, id, 'replaced');
    await addLink(w, {
      tokenHash: hash(token),
      objectKind: kind,
      objectId: id,
      expiresAt: Math.round(expiresAt),
      letter: FrozenLetter.parse(found.letter),
    });
    return { path: `/sign/${token}`, expiresAt };
  }

  /** Nothing is to be signed any more. */
  async endLinks(w: Writer, kind: string, id: string): Promise<void> {
    await endLinks(w, kind, id, 'withdrawn');
  }

  /** Ends a link whose letter says something else by now, and says so in the trail. */
  private async endIfChanged(w: Writer, kind: string, id: string): Promise<void> {
    const link = await lastLink(w, kind, id);
    if (!link || link.ended || link.usedAt !== null) return;
    const found = await this.owners.get(kind)?.read(w, id);
    if (!found || isFrozen(link, found.letter)) return;
    await endLinks(w, kind, id, 'changed');
    await record(w, this.p.clock, {
      businessId: found.businessId,
      actor: SYSTEM,
      action: 'signing link ended: the letter was changed after it was made',
      objectKind: kind,
      objectId: id,
    });
  }

  async linkOf(r: Reader, kind: string, id: string): Promise<LinkState | undefined> {
    const link = await lastLink(r, kind, id);
    return link ? { expires_at: link.expiresAt, used_at: link.usedAt, ended: link.endedWhy } : undefined;
  }

  /** @throws Problem 404 for a made-up link; 410 for one that was good once, with why it is not and what to do. */
  private async byToken(r: Reader, token: string) {
    const link = await linkByHash(r, hash(token));
    const owner = link && this.owners.get(link.objectKind);
    const found = owner && (await owner.read(r, link.objectId));
    if (!link || !owner || !found) throw notFound('signing link');
    const used = link.usedAt !== null;
    const { business } = found.letter;
    if (!used) {
      const gone = (why: keyof typeof GONE): Problem => new Problem(410, `link-${why}`, GONE[why](business));
      if (link.ended) throw gone(link.endedWhy || 'withdrawn');
      if (!found.open) throw gone('withdrawn');
      if (link.expiresAt < this.p.clock.now()) throw gone('expired');
      if (!isFrozen(link, found.letter)) throw gone('changed');
    }
    // What the holder sees and signs is the letter as it was when the link was made.
    const letter: Letter = { ...(link.letter ?? found.letter), day: found.letter.day };
    return { link, owner, used, ...found, letter };
  }

  async letterToSign(token: string): Promise<Letter & { signed: boolean; signedBy: string; signedAt: number | null }> {
    const { letter, used, signedBy, link } = await this.byToken(this.p.db, token);
    return { ...letter, signed: used, signedBy: used ? signedBy : '', signedAt: link.usedAt };
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
      // A letter that was changed while it was read is refused here: its link has ended.
      const { link, owner, used, businessId } = await this.byToken(w, token);
      if (used) return;
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

/** Whether a letter still says what the link holds; one made before links held their letter is taken as it is. */
function isFrozen(link: SigningLinkModel, letter: Letter): boolean {
  return link.letter === null || JSON.stringify(link.letter) === JSON.stringify(FrozenLetter.parse(letter));
}
