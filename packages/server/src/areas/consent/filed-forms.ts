import type { FiledForm, FormWhom } from '@long-gate/contracts';
import { blocks, consentDayStart, dayIn, provenBy, reviewForm, type Finding } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../platform/audit.js';
import type { Reader } from '../../platform/db.js';
import type { Documents } from '../../platform/documents.js';
import { idFrom } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { PageOrOne } from '../../platform/keyset.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, Problem, refused } from '../../platform/problem.js';
import type { Contacts } from '../contacts/index.js';
import type { Drafts, PeopleBehind } from '../dispatch/index.js';
import type { Businesses } from '../settings/index.js';
import type { Claims } from './claims/claims.js';
import { addForm, countFiled, countForms, formById, formsOf } from './form-store.js';
import type { Ledger } from './ledger/ledger.js';
import type { FiledFormModel } from './model.js';

/** A form is filed for no more people than this at once. */
const MOST = 50_000;
/** So long it goes on before other jobs have their turn. */
const TURN_MS = 500;

type Words = Pick<FiledForm, 'purposes' | 'signedOn' | 'disclosure'>;

/** What a job carries: for whom the form is still to be filed. */
const Filing = z.object({ formId: z.string(), e164s: z.array(z.string()), at: z.number().int(), actor: ActorShape });
type Filing = z.infer<typeof Filing>;

/**
 * Forms that people signed, filed as the proof of what they agreed to: the document with its digest, the day, and the
 * words they were shown. Filed for many it is a job, each lot kept together with the place it has reached.
 */
export class FiledForms {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly drafts: Drafts,
    private readonly behind: PeopleBehind,
    private readonly documents: Documents,
    private readonly ledger: Ledger,
    private readonly claims: Claims,
  ) {
    p.jobs.handle('form', Filing, (filing, context) => this.turn(filing, context));
  }

  async list(businessId: string, page: PageOrOne): Promise<{ items: FiledForm[]; next: string | null; total: number }> {
    const [{ rows, next }, total] = await Promise.all([
      formsOf(this.p.db, businessId, page),
      countForms(this.p.db, businessId),
    ]);
    return { items: rows.map(shown), next, total };
  }

  /** Of how many a form would be the proof, and what keeps it from being one. */
  async review(
    businessId: string,
    whom: FormWhom,
    form: Partial<Words>,
  ): Promise<{ people: number; leftOut: number; name: string; findings: Finding[]; lastWords: string }> {
    const e164s = await this.numbers(businessId, whom);
    const purposes = form.purposes ?? [];
    let leftOut = 0;
    for (let at = 0; at < e164s.length; at += 1000) {
      const kept = await this.contacts.keptConsent(this.p.db, businessId, e164s.slice(at, at + 1000));
      leftOut += kept.filter((k) => purposes.length > 0 && provenBy(k, purposes).length === 0).length;
    }
    const [only] = e164s;
    const names = only && e164s.length === 1 ? await this.contacts.names(this.p.db, businessId, [only]) : null;
    const [last] = (await formsOf(this.p.db, businessId, { limit: 1 })).rows;
    return {
      people: e164s.length - leftOut,
      leftOut,
      name: names?.get(only ?? '')?.name ?? '',
      findings: form.disclosure
        ? await this.findings(this.p.db, businessId, {
            purposes,
            signedOn: form.signedOn ?? '',
            disclosure: form.disclosure,
          })
        : [],
      lastWords: last?.disclosure ?? '',
    };
  }

  /**
   * Files a form once for one key.
   * @throws Problem 422 `findings` where it is no proof, 422 for a document of another kind or size, or for nobody.
   */
  async file(
    actor: Actor,
    businessId: string,
    { whom, name, bytes, ...words }: Words & { whom: FormWhom; name: string; bytes: Buffer },
    key: string,
  ): Promise<FiledForm> {
    const id = idFrom('frm', businessId, key);
    const known = await formById(this.p.db, businessId, id);
    if (known) return shown(known);
    const findings = await this.findings(this.p.db, businessId, words);
    if (blocks(findings))
      throw new Problem(
        422,
        'findings',
        'This form is no proof; mend what is found, or file it for other texts.',
        findings.map((f) => ({ field: f.field, message: `${f.message} ${f.fix}` })),
      );
    const e164s = await this.numbers(businessId, whom);
    if (e164s.length === 0) throw refused('Nobody is left for whom it could be filed.');
    await this.p.db.write(async (w) => {
      if (await formById(w, businessId, id)) return;
      const owner = { businessId, objectKind: 'form', objectId: id };
      const document = await this.documents.keep(w, owner, { what: 'form', name, bytes, by: actor.name });
      await addForm(w, {
        id,
        businessId,
        ...words,
        documentId: document.id,
        name: document.name,
        size: document.size,
        sha256: document.sha256,
        filedBy: actor.name,
        filedAt: Math.round(this.p.clock.now()),
      });
      const filing: Filing = { formId: id, e164s, at: 0, actor: { id: actor.id, name: actor.name } };
      await this.p.jobs.add(w, {
        kind: 'form',
        businessId,
        payload: filing,
        title: `Filing “${document.name}” for ${e164s.length === 1 ? 'one person' : `${e164s.length.toLocaleString('en-US')} people`}`,
        total: e164s.length,
        key: `form:${id}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'form filed',
        objectKind: 'form',
        objectId: id,
        after: { name: document.name, sha256: document.sha256, people: e164s.length, signedOn: words.signedOn },
      });
    });
    return shown(await this.known(this.p.db, businessId, id));
  }

  /** The document of a form; each look is audited. */
  async document(actor: Actor, businessId: string, id: string): Promise<{ name: string; type: string; bytes: Buffer }> {
    const form = await this.known(this.p.db, businessId, id);
    const owner = { businessId, objectKind: 'form', objectId: id };
    const { row, bytes } = await this.documents.read(this.p.db, owner, form.documentId);
    await this.p.db.write((w) =>
      record(w, this.p.clock, {
        businessId,
        actor,
        action: 'form looked at',
        objectKind: 'form',
        objectId: id,
        after: { document: row.name },
      }),
    );
    return { name: row.name, type: row.type, bytes };
  }

  private async known(r: Reader, businessId: string, id: string): Promise<FiledFormModel> {
    const form = await formById(r, businessId, id);
    if (!form) throw notFound('form');
    return form;
  }

  private async findings(r: Reader, businessId: string, words: Words): Promise<Finding[]> {
    const b = await this.businesses.row(r, businessId);
    const names = { legalName: b.legal_name, nameLine: b.name_line };
    return reviewForm(words, names, dayIn(this.p.clock.now(), b.time_zone));
  }

  /** @throws Problem 422 where they are more than one filing takes. */
  private async numbers(businessId: string, { behind, claimedBy, ...whom }: FormWhom): Promise<string[]> {
    const e164s = claimedBy
      ? await this.claims.numbers(this.p.db, businessId, claimedBy, MOST + 1)
      : behind
        ? await this.behind.numbers(
            businessId,
            { ...behind, dispatch: { ...(await this.drafts.asWritten(businessId, behind.dispatchId)), when: null } },
            MOST + 1,
          )
        : await this.contacts.numbersOf(this.p.db, businessId, whom, MOST + 1);
    if (e164s.length > MOST)
      throw refused(
        `A form is filed for at most ${MOST.toLocaleString('en-US')} people at once. Narrow the list, and file it again for the others.`,
      );
    return e164s;
  }

  /** Lot by lot until its turn is over or nobody is left. */
  private async turn(filing: Filing, { job }: JobContext): Promise<JobOutcome> {
    const until = performance.now() + TURN_MS;
    const lot = new Lot(1000);
    let step: Filing | JobOutcome = filing;
    while (!('done' in step) && performance.now() < until) step = await this.step(step, job, lot);
    return 'done' in step ? step : { done: false };
  }

  private async step(filing: Filing, job: JobContext['job'], lot: Lot): Promise<Filing | JobOutcome> {
    const { businessId } = job;
    const { formId, at, actor } = filing;
    const e164s = filing.e164s.slice(at, at + lot.size);
    return lot.write<Filing | JobOutcome>(
      this.p.db,
      async (w) => {
        if (!(await this.p.jobs.isRunning(w, job.id))) return { done: false };
        const form = await this.known(w, businessId, formId);
        if (e164s.length === 0) {
          await countFiled(w, formId, 0, 0, true);
          return { done: true, result: resultOf(form) };
        }
        const kept = await this.contacts.keptConsent(w, businessId, e164s);
        const zone = (await this.businesses.row(w, businessId)).time_zone;
        // It was no day to come when it was filed, though it may be where the business was moved to since.
        const now = this.p.clock.now();
        const happenedAt = consentDayStart(form.signedOn, zone, now) ?? now;
        const events = kept.flatMap((k) => {
          const purposes = provenBy(k, form.purposes);
          return purposes.length === 0 ? [] : [{ e164: k.e164, purposes: [...purposes] }];
        });
        if (events.length > 0)
          await this.ledger.append(
            w,
            businessId,
            events.map((e) => ({
              ...e,
              kind: 'granted' as const,
              how: 'paper form' as const,
              happenedAt,
              disclosure: form.disclosure,
              disclosureVersion: `form ${formId}`,
              evidence: { form: formId, document: form.name, sha256: form.sha256 },
              recordedBy: actor.id,
            })),
          );
        const next: Filing = { ...filing, at: at + e164s.length };
        await countFiled(w, formId, events.length, e164s.length - events.length, false);
        await this.p.jobs.keep(w, job, next, next.at);
        return next;
      },
      e164s.length,
    );
  }
}

function resultOf(f: FiledFormModel): string {
  const left = f.leftOut > 0 ? `; ${f.leftOut.toLocaleString('en-US')} left as they are: only they can speak` : '';
  return `“${f.name}” is the proof of ${f.people === 1 ? 'one person' : `${f.people.toLocaleString('en-US')} people`}${left}`;
}

function shown(f: FiledFormModel): FiledForm {
  const { id, purposes, signedOn, disclosure, name, size, sha256, people, leftOut, done, filedBy, filedAt } = f;
  return { id, purposes, signedOn, disclosure, name, size, sha256, people, leftOut, done, filedBy, filedAt };
}
