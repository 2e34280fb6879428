import type { EventBasis } from '@long-gate/contracts';
import { record, type Actor } from '../../../platform/audit.js';
import type { Documents, KeptDocument } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import { textById } from '../../dispatch/index.js';
import { letterBehind } from '../letters/letters-sent.js';
import type { LedgerPages } from './ledger-pages.js';

/** What an event of the ledger rests on, beside what stands in it: the texts, the document, and what it came by. */
export class EventBases {
  constructor(
    private readonly p: Platform,
    private readonly documents: Documents,
    private readonly pages: LedgerPages,
  ) {}

  /** @throws Problem 404 */
  async read(businessId: string, id: string): Promise<EventBasis> {
    const r = this.p.db;
    const event = await this.pages.one(businessId, id);
    const { evidence, recordedBy } = event;
    // What an event answers came before what it was answered by.
    const ids = [...new Set([evidence['answers'], evidence['message']].filter((x) => x !== undefined && x !== ''))];
    const texts = await Promise.all(ids.map((x) => textById(r, businessId, x ?? '')));
    const programme = { kind: 'keyword', id: evidence['programme'] ?? '' };
    const form = { kind: 'form', id: evidence['form'] ?? '' };
    const optOuts = { kind: 'opt-out list', id: evidence['optOutList'] ?? '' };
    const intake = { kind: 'intake', id: evidence['intake'] ?? '' };
    const person = { kind: 'person', id: recordedBy };
    const nameOf = await this.p.objects.names(r, businessId, [programme, form, optOuts, intake, person]);
    const called = ({ kind, id: of }: { kind: string; id: string }): { id: string; title: string } | null => {
      const title = nameOf({ kind, id: of });
      return title === '' ? null : { id: of, title };
    };
    const document = await this.documentOf(businessId, evidence);
    const letter = await letterBehind(r, businessId, evidence);
    return {
      event,
      texts: texts.flatMap((x) =>
        x ? [{ id: x.id, direction: x.direction, text: x.text, at: x.sent_at ?? x.created_at }] : [],
      ),
      document: document && { name: document.name, size: document.bytes.length },
      letter: letter && {
        to: letter.to,
        at: letter.at,
        by: letter.by,
        ...(letter.letter ?? { subject: '', text: '' }),
      },
      programme: called(programme),
      form: called(form),
      optOutList: called(optOuts),
      intake: called(intake),
      recordedBy: nameOf(person) || recordedBy,
    };
  }

  /** The document an event names; each look is audited. @throws Problem 404 where it names none, or none kept here. */
  async document(actor: Actor, businessId: string, id: string): Promise<KeptDocument> {
    const found = await this.documentOf(businessId, (await this.pages.one(businessId, id)).evidence);
    if (!found) throw notFound('document');
    await this.p.db.write((w) =>
      record(w, this.p.clock, {
        businessId,
        actor,
        action: 'document of a consent event looked at',
        objectKind: 'consent event',
        objectId: id,
        after: { document: found.name, sha256: found.sha256 },
      }),
    );
    return found;
  }

  private async documentOf(businessId: string, evidence: Record<string, string>): Promise<KeptDocument | null> {
    const digest = evidence['sha256'] ?? '';
    if (digest === '') return null;
    return (await this.documents.byDigest(this.p.db, businessId, [digest]))[0] ?? null;
  }
}
