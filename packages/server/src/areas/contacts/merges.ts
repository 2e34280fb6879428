import type { ContactDetail, DuplicateShape, MergePreview } from '@long-gate/contracts';
import { formatPhone, mergeContacts, type MergedFacts } from '@long-gate/core';
import type { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { contactDetail } from './contact-detail.js';
import { contactById, numbersOf } from './contact-store.js';
import { listNames, joinList } from './list-store.js';
import type { ContactModel, ContactNumberModel, MergeSnapshot } from './model.js';
import { prefer } from './number-store.js';
import { fieldsOf } from './own-field-store.js';
import { wordsOfOwn } from './own-fields.js';
import { refusedBits, spreadRefusals } from './refusals-store.js';
import { sortName } from './sort-name.js';
import * as store from './merge-store.js';

const FACTS = ['firstName', 'lastName', 'email', 'stateCode', 'language', 'street', 'city', 'postalCode'] as const;
const WORDS: Record<(typeof FACTS)[number], string> = {
  firstName: 'First name',
  lastName: 'Last name',
  email: 'E-mail',
  stateCode: 'State',
  language: 'Language',
  street: 'Street',
  city: 'City',
  postalCode: 'ZIP code',
};
const factsOf = (c: ContactModel): MergedFacts => ({
  ...(Object.fromEntries(FACTS.map((f) => [f, c[f]])) as Omit<MergedFacts, 'own'>),
  own: c.own,
});
const nameOf = (c: Pick<ContactModel, 'firstName' | 'lastName'>): string =>
  `${c.firstName} ${c.lastName}`.trim() || 'no name';

/** Contacts that are one person become one, with all their numbers; a merge can be taken back while nothing came after. */
export class Merges {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {}

  /** Contacts that share an e-mail, a page at a time. */
  async duplicates(
    businessId: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: z.output<typeof DuplicateShape>[]; next: string | null }> {
    const emails = (await store.sharedEmails(this.p.db, businessId, cursor ?? '', limit + 1)).map((x) => x.email);
    const page = emails.slice(0, limit);
    const contacts = await store.contactsOfEmails(this.p.db, businessId, page);
    return {
      items: page.map((email) => ({
        email,
        contacts: contacts
          .filter((c) => c.email === email)
          .map(({ id, name, e164, createdAt }) => ({ id, name, e164, createdAt })),
      })),
      next: emails.length > limit ? (page.at(-1) ?? null) : null,
    };
  }

  /** @throws Problem 404 where one of them is no more, 422 where they are one already. */
  async preview(r: Reader, businessId: string, keptId: string, goneId: string): Promise<MergePreview> {
    const { kept, gone, keptNumbers, goneNumbers } = await this.both(r, businessId, keptId, goneId);
    const then = mergeContacts(factsOf(kept), factsOf(gone));
    const lists = await listNames(r, [keptId, goneId]);
    const fields = await fieldsOf(r, businessId);
    const row = (what: string, a: string, b: string, c: string) => ({ what, kept: a, gone: b, then: c });
    return {
      keptId,
      goneId,
      keptVersion: kept.version,
      goneVersion: gone.version,
      facts: [
        ...FACTS.map((f) => row(WORDS[f], kept[f], gone[f], then[f])),
        ...fields.map((f) => row(f.name, kept.own[f.id] ?? '', gone.own[f.id] ?? '', then.own[f.id] ?? '')),
      ].filter((f) => f.kept !== '' || f.gone !== ''),
      numbers: [
        ...keptNumbers.map((n) => ({ e164: n.e164, preferred: n.preferred, from: 'kept' as const })),
        ...goneNumbers.map((n) => ({ e164: n.e164, preferred: false, from: 'gone' as const })),
      ],
      lists: [...new Set([...(lists.get(keptId) ?? []), ...(lists.get(goneId) ?? [])])].sort(),
      bars: [...bars(keptNumbers, goneNumbers), ...bars(goneNumbers, keptNumbers)],
    };
  }

  /**
   * Merges one contact into another: its numbers come along, none of them preferred; what one of them refused bars the
   * others (rules.md: the stricter consent wins). The ledger says what it said: it goes by number.
   * @throws Problem 409 where either changed since the preview.
   */
  async merge(
    actor: Actor,
    businessId: string,
    keptId: string,
    wish: { with: string; keptVersion: number; goneVersion: number },
  ): Promise<ContactDetail> {
    await this.p.db.write(async (w) => {
      const { kept, gone, keptNumbers, goneNumbers } = await this.both(w, businessId, keptId, wish.with);
      if (kept.version !== wish.keptVersion || gone.version !== wish.goneVersion)
        throw conflict('One of them was changed meanwhile. Look at the preview again.');
      const then = mergeContacts(factsOf(kept), factsOf(gone));
      const lists = await store.membershipsOf(w, gone.id);
      const own = new Set(await store.membershipsOf(w, kept.id));
      const joined = lists.filter((id) => !own.has(id));
      const snapshot: MergeSnapshot = {
        gone: gone.get({ plain: true }),
        kept: { ...factsOf(kept) },
        version: kept.version + 1,
        numbers: goneNumbers.map(({ id, preferred }) => ({ id, preferred })),
        keptPreferred: keptNumbers.find((n) => n.preferred)?.id ?? 0,
        lists,
        joined,
        refused: [...keptNumbers, ...goneNumbers].map((n) => ({
          id: n.id,
          refusedElsewhere: n.refusedElsewhere,
          revoked: revokedOn(n),
        })),
      };
      await kept.update({
        ...then,
        ownWords: wordsOfOwn(then.own),
        sortName: sortName(then.firstName, then.lastName, keptNumbers[0]?.e164 ?? ''),
        version: kept.version + 1,
      });
      await store.moveNumbers(w, gone.id, kept);
      for (const id of joined) await joinList(w, id, kept.id);
      await store.leaveLists(w, gone.id, lists);
      await store.dropContact(w, gone.id);
      await spreadRefusals(w, kept.id);
      await store.addMerge(w, {
        id: newId('mrg'),
        businessId,
        keptId: kept.id,
        goneId: gone.id,
        snapshot,
        mergedBy: actor.name,
        mergedAt: this.p.clock.now(),
      });
      await this.tell(w, actor, businessId, 'contacts merged', kept.id, {
        merged: nameOf(gone),
        numbers: goneNumbers.map((n) => n.e164),
      });
      w.tell('consent.changed', { businessId, e164s: [...keptNumbers, ...goneNumbers].map((n) => n.e164) });
    });
    return contactDetail(this.p, this.businesses, this.p.db, businessId, keptId);
  }

  /**
   * Takes a merge back: both are as they were. What either said meanwhile stands in the ledger, number by number.
   * @throws Problem 409 where it was taken back already, another came after it, or its numbers were changed since.
   */
  async undo(actor: Actor, businessId: string, id: string): Promise<{ keptId: string; goneId: string }> {
    return this.p.db.write(async (w) => {
      const merge = await store.mergeById(w, businessId, id);
      if (!merge) throw notFound('merge');
      const { keptId, goneId, snapshot } = merge;
      if (merge.undoneAt !== null) throw conflict('This merge was taken back already.');
      if ((await store.openMerge(w, businessId, keptId))?.id !== id)
        throw conflict('Another contact was merged into it since. Take that back first.');
      const kept = await contactById(w, businessId, keptId);
      if (!kept) throw conflict('The contact is no more.');
      const now = await numbersOf(w, keptId);
      const here = new Set(now.map((n) => n.id));
      if (snapshot.numbers.some((n) => !here.has(n.id)) || !here.has(snapshot.keptPreferred))
        throw conflict('A number of the merged contact was taken off it since: put it back first.');
      const restored = snapshot.gone as unknown as Parameters<typeof store.restoreContact>[1];
      await store.restoreContact(w, { ...restored, version: Number(restored.version) + 1 });
      await store.moveBack(w, snapshot.numbers, { id: goneId, sortName: restored.sortName });
      await prefer(w, keptId, snapshot.keptPreferred);
      // What was edited after the merge stays; what the merge filled in goes.
      const before = snapshot.kept as unknown as MergedFacts;
      const untouched = kept.version === snapshot.version;
      const facts = untouched ? before : factsOf(kept);
      const first = now.find((n) => n.id === snapshot.keptPreferred)?.e164 ?? '';
      await kept.update({
        ...facts,
        ownWords: wordsOfOwn({ ...facts.own }),
        sortName: sortName(facts.firstName, facts.lastName, first),
        version: kept.version + 1,
      });
      await store.leaveLists(w, keptId, snapshot.joined);
      for (const list of snapshot.lists) await joinList(w, list, goneId);
      await store.setRefused(w, partedRefusals(snapshot, now));
      await merge.update({ undoneAt: this.p.clock.now() });
      await this.tell(w, actor, businessId, 'merge taken back', keptId, { parted: nameOf(kept) });
      w.tell('consent.changed', { businessId, e164s: now.map((n) => n.e164) });
      return { keptId, goneId };
    });
  }

  private async both(r: Reader, businessId: string, keptId: string, goneId: string) {
    if (keptId === goneId) throw refused('This is the same contact.', [{ field: 'with', message: 'Choose another.' }]);
    const [kept, gone] = [await contactById(r, businessId, keptId), await contactById(r, businessId, goneId)];
    if (!kept || !gone) throw notFound('contact');
    return { kept, gone, keptNumbers: await numbersOf(r, keptId), goneNumbers: await numbersOf(r, goneId) };
  }

  private async tell(
    w: Writer,
    actor: Actor,
    businessId: string,
    action: string,
    objectId: string,
    after: unknown,
  ): Promise<void> {
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'contact', objectId, after });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id: objectId }));
  }
}

const revokedOn = (n: ContactNumberModel): number =>
  refusedBits((['informational', 'promotional'] as const).filter((p) => consentOf(n, p) === 'revoked'));
const consentOf = (n: ContactNumberModel, purpose: 'informational' | 'promotional'): string =>
  purpose === 'informational' ? n.consentInformational : n.consentPromotional;

/**
 * What bars each number when a merge is taken back: what barred it before, and what was refused since on a number of
 * the same person; not what came from the other. What its owner lifted meanwhile stays lifted.
 */
function partedRefusals(
  { numbers, refused }: MergeSnapshot,
  now: readonly ContactNumberModel[],
): { id: number; refusedElsewhere: number }[] {
  const gone = new Set(numbers.map((n) => n.id));
  const then = new Map(refused.map((r) => [r.id, r]));
  const newly = (n: ContactNumberModel): number => revokedOn(n) & ~(then.get(n.id)?.revoked ?? 0);
  return now.map((n) => {
    const own = now.filter((o) => o.id !== n.id && gone.has(o.id) === gone.has(n.id));
    const since = own.reduce((bits, o) => bits | newly(o), 0);
    // A number that came after the merge stays with the kept contact, with what bars it.
    const before = then.get(n.id)?.refusedElsewhere ?? n.refusedElsewhere;
    return { id: n.id, refusedElsewhere: n.refusedElsewhere & (before | since) };
  });
}

/** What refusals on some numbers bar on others that passed before, in sentences. */
function bars(refusing: readonly ContactNumberModel[], others: readonly ContactNumberModel[]): string[] {
  const out: string[] = [];
  for (const purpose of ['informational', 'promotional'] as const) {
    const refusal = refusing.find((n) => consentOf(n, purpose) === 'revoked');
    if (!refusal) continue;
    for (const n of others.filter((o) => consentOf(o, purpose) === 'granted'))
      out.push(
        `No ${purpose} texts to ${formatPhone(n.e164)} any more: they were refused on ${formatPhone(refusal.e164)}. Only the person can lift that, by START or a new agreement from the number itself.`,
      );
  }
  return out;
}
