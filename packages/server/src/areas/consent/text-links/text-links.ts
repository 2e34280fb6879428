import { HANDSET_LINK_MS, LINK_KEY_LENGTH, ownPageLink, readLinkDomain } from '@long-gate/core';
import type { TextLinkPolicyView, TextLinksOfDispatch, TextLinksRead } from '@long-gate/contracts';
import { z } from 'zod';
import { record, type Actor } from '../../../platform/audit.js';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, refused } from '../../../platform/problem.js';
import { textById, type LinkedText, type LinkKey, type OwnPageLinks } from '../../dispatch/index.js';
import type { Ledger } from '../ledger/ledger.js';
import { hashOf, LINK_GOOD_MS } from '../letters/letters.js';
import { pageById, pagesOf } from '../pages/page-store.js';
import type { PersonLink } from '../personal-page/person-link.js';
import type { TextLinkModel } from './model.js';
import * as store from './text-link-store.js';

/** Texts that the network has taken: whoever opens their link has the handset they went to. */
const ARRIVED: ReadonlySet<string> = new Set(['sent', 'delivered']);

/** Links in texts, each to the page of the number it went to: made as the text leaves, its key known to nobody else. */
export class TextLinks implements OwnPageLinks {
  constructor(
    private readonly p: Platform,
    private readonly ledger: Ledger,
  ) {
    p.db.facts.on('contact.erased', (w, { businessId, people }) =>
      store.dropLinksOf(
        w,
        businessId,
        people.map(([e164]) => e164),
      ),
    );
    p.db.facts.on('consent.changed', (w, { businessId, e164s }) => this.saidYes(w, businessId, e164s));
  }

  // -- where they stand and lead ---------------------------------------------------------------------------------

  private async policy(r: Reader, businessId: string): Promise<TextLinkPolicyView & { version: number }> {
    const row = await store.policyRow(r, businessId);
    return row
      ? { domain: row.domain, pageId: row.pageId, version: row.version }
      : { domain: '', pageId: '', version: 0 };
  }

  async read(businessId: string): Promise<TextLinksRead> {
    const r = this.p.db;
    const pages = await pagesOf(r, businessId);
    const policy = await this.policy(r, businessId);
    return {
      ...policy,
      pages: pages
        .filter((x) => x.published || x.id === policy.pageId)
        .map(({ id, title, published }) => ({ id, title, live: published })),
    };
  }

  /** @throws Problem 412 where it was changed meanwhile, 422 for a domain that cannot be, or a page that is none. */
  async save(actor: Actor, businessId: string, seen: number | null, wish: TextLinkPolicyView): Promise<TextLinksRead> {
    const read = readLinkDomain(wish.domain);
    if (!read.ok) throw refused(read.why, [{ field: 'domain', message: read.why }]);
    await this.p.db.write(async (w) => {
      const { version, ...before } = await this.policy(w, businessId);
      expectVersion('setting', { version }, seen);
      if (!(await pageById(w, businessId, wish.pageId)))
        throw refused('Choose the page whose kinds of text are offered.', [
          { field: 'pageId', message: 'Choose a page.' },
        ]);
      const after = { domain: read.domain, pageId: wish.pageId };
      const row = await store.policyRow(w, businessId);
      const earlier = new Set([...(row ? row.earlier.split(' ') : []), before.domain]);
      earlier.delete('');
      earlier.delete(after.domain);
      if (row) await row.update({ ...after, earlier: [...earlier].join(' '), version: version + 1 });
      else await store.addPolicy(w, { businessId, ...after });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'links in texts changed',
        objectKind: 'business',
        objectId: businessId,
        before,
        after,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.read(businessId);
  }

  // -- what a text carries ---------------------------------------------------------------------------------------

  async shown(r: Reader, businessId: string): Promise<string> {
    const { domain } = await this.policy(r, businessId);
    return domain === '' ? '' : ownPageLink(domain);
  }

  async keys(w: Writer, texts: readonly LinkedText[]): Promise<ReadonlyMap<string, LinkKey>> {
    const now = this.p.clock.now();
    const policies = new Map<string, { pageId: string; domains: string[] }>();
    for (const { businessId } of texts) {
      if (policies.has(businessId)) continue;
      const row = await store.policyRow(w, businessId);
      const domains = row ? [row.domain, ...row.earlier.split(' ')].filter((x) => x !== '') : [];
      policies.set(businessId, { pageId: row?.pageId ?? '', domains });
    }
    const keys = new Map(
      texts.map(({ messageId, businessId }) => [
        messageId,
        { key: this.keyOf(messageId), domains: policies.get(businessId)?.domains ?? [] },
      ]),
    );
    const made = await store.putLinks(
      w,
      texts.map((t) => ({
        ...t,
        pageId: policies.get(t.businessId)?.pageId ?? '',
        keyHash: hashOf(this.keyOf(t.messageId)),
        sentAt: now,
        expiresAt: now + LINK_GOOD_MS,
      })),
    );
    // One that leaves again is no further link, but it is the one that left last.
    for (const { messageId, businessId, dispatchId } of texts)
      await store.countLinks(w, { businessId, dispatchId }, made.has(messageId) ? { sent: 1 } : {}, now);
    return keys;
  }

  /** The same for the same text, so that one that leaves twice has one link; and kept nowhere. */
  private keyOf(messageId: string): string {
    return lettersOf(this.p.vault.mac(`link in a text: ${messageId}`), LINK_KEY_LENGTH);
  }

  // -- what comes of them ----------------------------------------------------------------------------------------

  /** The link of a key; null where there is none such. */
  async byKey(r: Reader, key: string): Promise<PersonLink | null> {
    const link = await store.linkByHash(r, hashOf(key));
    return link && this.personLink(link);
  }

  private personLink(link: TextLinkModel): PersonLink {
    const { businessId, pageId, e164, expiresAt, messageId } = link;
    return {
      businessId,
      pageId,
      e164,
      expiresAt,
      withdrawn: link.withdrawnAt !== null && link.withdrawnAt !== undefined,
      opened: link.openedAt !== null && link.openedAt !== undefined,
      evidence: { message: messageId },
      another: null,
      speaksForHandset: async (r) => {
        const text = await textById(r, businessId, messageId);
        return (
          text !== undefined &&
          text.e164 === e164 &&
          ARRIVED.has(text.state) &&
          this.p.clock.now() - (text.sent_at ?? 0) < HANDSET_LINK_MS
        );
      },
      open: async (w) => {
        await link.update({ openedAt: this.p.clock.now() });
        await store.countLinks(w, link, { opened: 1 });
      },
      answer: (w, chose) => this.answered(w, link, chose),
    };
  }

  private async answered(w: Writer, link: TextLinkModel, chose: NonNullable<TextLinkModel['chose']>): Promise<void> {
    const before = link.chose ?? '';
    await link.update({ chose, answeredAt: this.p.clock.now() });
    await store.countLinks(w, link, store.chosen(before, -1));
    await store.countLinks(w, link, store.chosen(chose, 1));
    w.afterCommit(() => this.p.live.tell({ businessId: link.businessId, topic: 'consent' }));
  }

  /** A link that was too old to speak for the handset was followed by its YES. */
  private async saidYes(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const link of await store.linksAwaiting(w, businessId, e164s))
      if (await this.ledger.joinedSince(w, businessId, link.e164, link.answeredAt ?? 0))
        await this.answered(w, link, 'joined');
  }

  /** What came of them, by dispatch, the last first. */
  async page(
    businessId: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: TextLinksOfDispatch[]; next: string | null; total: number }> {
    const r = this.p.db;
    const place = cursor ? readCursor(z.tuple([z.number(), z.string()]), cursor) : null;
    const rows = await store.countsAfter(r, businessId, place && { lastAt: place[0], dispatchId: place[1] }, limit + 1);
    const page = rows.slice(0, limit);
    const ids = page.map((x) => x.dispatchId);
    const open = await store.openLinks(r, businessId, ids, this.p.clock.now());
    const nameOf = await this.p.objects.names(
      r,
      businessId,
      ids.map((id) => ({ kind: 'dispatch', id })),
    );
    const last = page.at(-1);
    return {
      items: page.map((x) => ({
        dispatchId: x.dispatchId,
        title: nameOf({ kind: 'dispatch', id: x.dispatchId }),
        lastAt: x.lastAt,
        sent: x.sent,
        opened: x.opened,
        kept: x.kept,
        joined: x.joined,
        awaited: x.awaited,
        ended: x.ended,
        open: open.get(x.dispatchId) ?? 0,
      })),
      next: rows.length > limit && last ? packCursor([last.lastAt, last.dispatchId]) : null,
      total: await store.countDispatches(r, businessId),
    };
  }

  /** Those of a dispatch that nobody answered lead nowhere from now on. @throws Problem 409 where there are none. */
  async withdraw(actor: Actor, businessId: string, dispatchId: string): Promise<{ withdrawn: number }> {
    return this.p.db.write(async (w) => {
      const withdrawn = await store.withdrawLinks(w, businessId, dispatchId, this.p.clock.now());
      if (withdrawn === 0) throw conflict('None of its links is open any more: all were answered or taken back.');
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'links in texts taken back',
        objectKind: 'dispatch',
        objectId: dispatchId,
        after: { links: withdrawn },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
      return { withdrawn };
    });
  }
}

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789';
/** So many letters and digits of a digest, which a phone takes as part of a link. */
function lettersOf(digest: Buffer, length: number): string {
  let n = BigInt(`0x${digest.toString('hex')}`);
  let out = '';
  while (out.length < length) {
    out += LETTERS[Number(n % 62n)] ?? '';
    n /= 62n;
  }
  return out;
}
