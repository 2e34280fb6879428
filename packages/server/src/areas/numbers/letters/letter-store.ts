import type { Reader, Writer } from '../../../platform/db.js';
import { signingLinkTable, type SigningLinkModel } from './model.js';

export async function addLink(
  w: Writer,
  link: { tokenHash: string; objectKind: string; objectId: string; expiresAt: number },
): Promise<void> {
  await w.of(signingLinkTable).create(link);
}

/** The links by which this was to be signed are worth nothing any more. */
export async function endLinks(w: Writer, objectKind: string, objectId: string): Promise<void> {
  await w.of(signingLinkTable).update({ ended: true }, { where: { objectKind, objectId } });
}

/** The link by which this may be signed, where there is one. */
export async function openLink(r: Reader, objectKind: string, objectId: string): Promise<SigningLinkModel | null> {
  return r.of(signingLinkTable).findOne({ where: { objectKind, objectId, ended: false } });
}

export async function linkByHash(r: Reader, tokenHash: string): Promise<SigningLinkModel | null> {
  return r.of(signingLinkTable).findOne({ where: { tokenHash, ended: false } });
}

/** As {@link endLinks}, but what was signed stays to be read. */
export async function endUnused(w: Writer, objectKind: string, objectId: string): Promise<void> {
  await w.of(signingLinkTable).update({ ended: true }, { where: { objectKind, objectId, usedAt: null } });
}
