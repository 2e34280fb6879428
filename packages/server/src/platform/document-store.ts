import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from './db.js';
import { documentTable, type DocumentModel } from './model.js';

/** What a document belongs to, such as a port request. */
export interface DocumentOwner {
  businessId: string;
  objectKind: string;
  objectId: string;
}
/** What is known of a document without opening it. */
export type DocumentRow = Omit<DocumentModel['_attributes'], 'body' | keyof DocumentOwner>;

export async function addDocument(w: Writer, document: CreationAttributes<DocumentModel>): Promise<void> {
  await w.of(documentTable).create(document);
}

/** The documents of something, the first first, without what is in them. */
export async function documentsOf(r: Reader, owner: DocumentOwner): Promise<DocumentRow[]> {
  return r.of(documentTable).findAll({
    where: { ...owner },
    attributes: { exclude: ['body', 'businessId', 'objectKind', 'objectId'] },
    order: ['at', 'id'],
    raw: true,
  });
}

export async function documentById(r: Reader, owner: DocumentOwner, id: string): Promise<DocumentModel | null> {
  return r.of(documentTable).findOne({ where: { id, ...owner } });
}

/** Documents of a business by what they are, whatever they belong to; the first of those that are the same. */
export async function documentsByDigest(
  r: Reader,
  businessId: string,
  digests: readonly string[],
): Promise<Map<string, DocumentModel>> {
  const found = await r.of(documentTable).findAll({ where: { businessId, sha256: [...digests] }, order: ['at', 'id'] });
  return new Map(found.reverse().map((d) => [d.sha256, d]));
}

export async function dropDocument(w: Writer, owner: DocumentOwner, id: string): Promise<void> {
  await w.of(documentTable).destroy({ where: { id, ...owner } });
}
