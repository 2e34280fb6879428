import { optInPage, type PageSeen } from '@long-gate/core';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { sha256 } from '../ledger/ledger-check.js';
import type { OptinPageModel } from './model.js';
import { keepPage } from './page-version-store.js';

/** So many pages are known to be kept; then it is looked up anew. */
const KNOWN = 1000;

/** Pages as they were seen, kept for good by their digests, by which events name them. */
export class KeptPages {
  /** Digests of pages that are known to be kept, by what they were made of: none is written out at each opt-in. */
  private readonly known = new Map<string, string>();

  constructor(
    private readonly p: Platform,
    private readonly documents: Documents,
  ) {}

  async pictureOf(r: Reader, row: OptinPageModel): Promise<{ type: string; bytes: Buffer } | null> {
    if (!row.pictureId) return null;
    const owner = { businessId: row.businessId, objectKind: 'page', objectId: row.id };
    const { row: kept, bytes } = await this.documents.read(r, owner, row.pictureId);
    return { type: kept.type, bytes };
  }

  /** Keeps an opt-in page as it is shown, once. @returns its digest. */
  async keep(w: Writer, row: OptinPageModel, page: Omit<PageSeen, 'picture'>): Promise<string> {
    const name = sha256(JSON.stringify([row.id, row.pageVersion, row.title, row.pictureSha256, page]));
    return this.once(w, name, row, false, async () => {
      const picture = await this.pictureOf(w, row);
      const src = picture ? `data:${picture.type};base64,${picture.bytes.toString('base64')}` : '';
      return optInPage({ ...page, picture: picture ? { src, words: row.pictureWords } : null }, { as: 'kept' });
    });
  }

  /** Keeps a page behind a personal link, on which the words of an opt-in page stood. @returns its digest. */
  async keepBehindLink(w: Writer, row: OptinPageModel, html: string): Promise<string> {
    return this.once(w, sha256(JSON.stringify([row.id, row.pageVersion, html])), row, true, () =>
      Promise.resolve(html),
    );
  }

  private async once(
    w: Writer,
    name: string,
    row: OptinPageModel,
    behindLink: boolean,
    make: () => Promise<string>,
  ): Promise<string> {
    const known = this.known.get(name);
    if (known !== undefined) return known;
    const html = await make();
    const digest = sha256(html);
    await keepPage(w, {
      businessId: row.businessId,
      sha256: digest,
      pageId: row.id,
      pageVersion: row.pageVersion,
      title: row.title,
      html,
      firstAt: Math.round(this.p.clock.now()),
      behindLink,
    });
    w.afterCommit(() => {
      if (this.known.size > KNOWN) this.known.clear();
      this.known.set(name, digest);
    });
    return digest;
  }
}
