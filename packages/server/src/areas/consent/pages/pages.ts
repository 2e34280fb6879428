import type { OptInPage, OptInPageEdit } from '@long-gate/contracts';
import { blocks, reviewPage } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import type { z } from 'zod';
import { record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import { newId } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../../platform/problem.js';
import type { Numbers } from '../../numbers/index.js';
import type { Businesses } from '../../settings/index.js';
import type { OptinPageModel } from './model.js';
import * as store from './page-store.js';
import { paperForm } from './paper-form.js';
import type { PublicPages } from './public-pages.js';

type Edit = z.output<typeof OptInPageEdit>;
/** So many weeks back it is shown what came of a page. */
const WEEKS = 26;
/** A picture is seen on a telephone, and kept with every version of its page. */
const PICTURE_BYTES = 300_000;

/** Opt-in pages as the office makes them. */
export class Pages {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly documents: Documents,
    private readonly faces: PublicPages,
  ) {}

  /** Titles of the published pages whose texts come from a number. */
  async using(r: Reader, numberId: string): Promise<string[]> {
    return (await store.pagesFrom(r, numberId)).map((p) => p.title);
  }

  /** Published pages on which nobody can join: their number cannot ask for a YES any more. */
  async unanswered(businessId: string): Promise<{ id: string; title: string; e164: string }[]> {
    const out = [];
    for (const page of await store.pagesOf(this.p.db, businessId))
      if (page.published && !(await this.faces.isOpen(this.p.db, page)))
        out.push({ id: page.id, title: page.title, e164: await this.numbers.addressOf(this.p.db, page.numberId) });
    return out;
  }

  async list(businessId: string): Promise<OptInPage[]> {
    return this.show(this.p.db, await store.pagesOf(this.p.db, businessId));
  }

  async add(actor: Actor, businessId: string, e: Edit): Promise<OptInPage> {
    const id = newId('pag');
    await this.p.db.write(async (w) => {
      await this.check(w, businessId, id, e);
      await store.addPage(w, { id, businessId, ...e, createdAt: Math.round(this.p.clock.now()) });
      await this.faces.keepShown(w, businessId, id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-in page made',
        objectKind: 'page',
        objectId: id,
        after: e,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.get(businessId, id);
  }

  /** Whoever agreed before keeps the words they saw; the page's disclosure gets a new version. */
  async edit(actor: Actor, businessId: string, id: string, seen: number | null, e: Edit): Promise<OptInPage> {
    await this.p.db.write(async (w) => {
      const page = await store.pageById(w, businessId, id);
      if (!page) throw notFound('page');
      expectVersion('page', page, seen);
      await this.check(w, businessId, id, e, page.numberId);
      const before = { ...page.get(), purposes: page.purposes, asks: page.asks, onSite: page.onSite };
      const words =
        JSON.stringify(before.purposes) !== JSON.stringify(e.purposes) ||
        before.language !== e.language ||
        before.privacyUrl !== e.privacyUrl ||
        before.termsUrl !== e.termsUrl;
      await store.savePage(page, e, words);
      await this.faces.keepShown(w, businessId, id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'opt-in page edited',
        objectKind: 'page',
        objectId: id,
        before,
        after: e,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.get(businessId, id);
  }

  /** @param stood the number it has so far: a page is paused also where that is gone. */
  private async check(r: Reader, businessId: string, id: string, e: Edit, stood?: string): Promise<void> {
    if (await store.slugIsTaken(r, e.slug, id)) throw conflict(`There is already a page at “${e.slug}”.`);
    const asIs = !e.published && e.numberId === stood;
    if (!asIs && !(await this.numbers.canBeAnswered(r, businessId, e.numberId)))
      throw refused('Choose an active number of this business.', [
        { field: 'numberId', message: 'Choose an active number; the YES has to arrive.' },
      ]);
    const twice = new Set(e.purposes.map((x) => x.purpose)).size !== e.purposes.length;
    if (twice)
      throw refused('Each purpose stands once on a page.', [{ field: 'purposes', message: 'The same purpose twice.' }]);
    if (!e.published) return;
    const b = await this.businesses.row(r, businessId);
    const findings = reviewPage({ ...e, picture: null }, { legalName: b.legal_name, nameLine: b.name_line });
    if (blocks(findings))
      throw refused(
        'This page cannot be published as it is; it can be saved paused meanwhile.',
        findings
          .filter((f) => f.severity === 'block')
          .map((f) => ({ field: f.field, message: `${f.message} ${f.fix}` })),
      );
  }

  private async get(businessId: string, id: string): Promise<OptInPage> {
    const [shown] = await this.show(this.p.db, [await this.faces.known(this.p.db, businessId, id)]);
    return shown as OptInPage;
  }

  private async show(r: Reader, pages: readonly OptinPageModel[]): Promise<OptInPage[]> {
    const last = store.weekOf(this.p.clock.now());
    const first = last - WEEKS + 1;
    const ids = pages.map((x) => x.id);
    const weeks = await store.weeksOf(r, ids, first);
    const versions = await store.versionCountsOf(r, ids);
    const visits = await store.visitsTo(r, ids);
    const seenIn = (of: readonly { seen: number; begun: number }[]) => ({
      seen: of.reduce((n, x) => n + x.seen, 0),
      begun: of.reduce((n, x) => n + x.begun, 0),
    });
    return pages.map((page) => {
      const {
        pictureId,
        pictureName,
        pictureSha256,
        businessId: _,
        createdAt: __,
        ...rest
      } = page.get({ plain: true });
      const { id, pageVersion, optIns, version } = page;
      const visited = visits.filter((x) => x.pageId === id);
      const counted = versions.filter((x) => x.pageId === id);
      return {
        ...rest,
        purposes: page.purposes,
        asks: page.asks,
        onSite: page.onSite,
        address: this.p.mailer.link(`/join/${page.slug}`),
        pageVersion,
        optIns,
        version,
        picture: pictureId ? { name: pictureName, sha256: pictureSha256 } : null,
        weeks: Array.from({ length: WEEKS }, (___, i) => {
          const of = weeks.find((x) => x.pageId === id && x.week === first + i);
          return {
            from: store.mondayOf(first + i),
            ...seenIn(visited.filter((x) => x.week === first + i)),
            agreed: of?.agreed ?? 0,
            confirmed: of?.confirmed ?? 0,
          };
        }),
        versions: [...new Set([...visited, ...counted].map((x) => x.pageVersion))]
          .sort((a, b) => b - a)
          .map((no) => {
            const of = counted.find((x) => x.pageVersion === no);
            return {
              pageVersion: no,
              ...seenIn(visited.filter((x) => x.pageVersion === no)),
              agreed: of?.agreed ?? 0,
              confirmed: of?.confirmed ?? 0,
            };
          }),
      };
    });
  }

  /** @throws Problem 422 for anything but a PNG or JPEG of at most 300 kB. */
  async keepPicture(actor: Actor, businessId: string, id: string, name: string, bytes: Buffer): Promise<OptInPage> {
    if (bytes.length > PICTURE_BYTES)
      throw refused(
        `“${name}” has ${Math.ceil(bytes.length / 1000)} kB; at most ${PICTURE_BYTES / 1000} kB are taken, so that the page opens at once on a telephone. Save it smaller.`,
        [{ field: 'file', message: 'At most 300 kB.' }],
      );
    if (bytes.subarray(0, 5).toString('latin1') === '%PDF-')
      throw refused(`“${name}” is a PDF; a page shows a PNG or JPEG.`, [{ field: 'file', message: 'PNG or JPEG.' }]);
    await this.p.db.write(async (w) => {
      const page = await this.faces.known(w, businessId, id);
      const owner = { businessId, objectKind: 'page', objectId: id };
      const kept = await this.documents.keep(w, owner, { what: 'picture', name, bytes, by: actor.name });
      const change = { pictureId: kept.id, pictureName: kept.name, pictureSha256: kept.sha256 };
      await this.changePicture(w, actor, page, change, 'picture put on an opt-in page');
    });
    return this.get(businessId, id);
  }

  async dropPicture(actor: Actor, businessId: string, id: string): Promise<OptInPage> {
    await this.p.db.write(async (w) => {
      const page = await this.faces.known(w, businessId, id);
      if (!page.pictureId) return;
      await this.documents.drop(w, { businessId, objectKind: 'page', objectId: id }, page.pictureId);
      const change = { pictureId: null, pictureName: '', pictureSha256: '', pictureWords: '' };
      await this.changePicture(w, actor, page, change, 'picture taken off an opt-in page');
    });
    return this.get(businessId, id);
  }

  private async changePicture(
    w: Writer,
    actor: Actor,
    page: OptinPageModel,
    change: Partial<CreationAttributes<OptinPageModel>>,
    action: string,
  ): Promise<void> {
    const { id, businessId } = page;
    const before = { sha256: page.pictureSha256 };
    await store.savePage(page, change, false);
    await this.faces.keepShown(w, businessId, id);
    const after = { sha256: change.pictureSha256 };
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'page', objectId: id, before, after });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }

  /** Where people reach a page, as it is told to them. @throws Problem 404 */
  async address(businessId: string, id: string): Promise<{ slug: string; address: string }> {
    const { slug } = await this.faces.known(this.p.db, businessId, id);
    return { slug, address: this.p.mailer.link(`/join/${slug}`) };
  }

  /** The page as a form for paper. @throws Problem 404 */
  async paper(businessId: string, id: string, sheets: number): Promise<{ name: string; bytes: Buffer }> {
    const row = await this.faces.known(this.p.db, businessId, id);
    const page = await this.faces.publicById(this.p.db, businessId, id);
    const bytes = await paperForm(page, row.pageVersion, sheets, this.p.clock.now());
    return { name: `${row.slug}-paper-form.pdf`, bytes };
  }
}
