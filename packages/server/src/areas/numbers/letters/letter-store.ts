import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import type { LinkEnd } from './letter-shape.js';
import { signingLinkTable, type SigningLinkModel } from './model.js';

export async function addLink(w: Writer, link: CreationAttributes<SigningLinkModel>): Promise<void> {
  await w.of(signingLinkTable).create(link);
}

/** The links by which this was to be signed are worth nothing any more. What was signed stays to be read. */
export async function endLinks(
  w: Writer,
  objectKind: string,
  objectId: string,
  endedWhy: Exclude<LinkEnd, ''>,
): Promise<void> {
  await w
    .of(signingLinkTable)
    .update({ ended: true, endedWhy }, { where: { objectKind, objectId, ended: false, usedAt: null } });
}

/** The last link that was made for this, ended or not. */
export async function lastLink(r: Reader, objectKind: string, objectId: string): Promise<SigningLinkModel | null> {
  return r.of(signingLinkTable).findOne({
    where: { objectKind, objectId },
    order: [
      ['ended', 'ASC'],
      ['expiresAt', 'DESC'],
    ],
  });
}

export async function linkByHash(r: Reader, tokenHash: string): Promise<SigningLinkModel | null> {
  return r.of(signingLinkTable).findOne({ where: { tokenHash } });
}
