import {
  EMPTY_TOLL_FREE,
  TollFreeBody,
  type TollFreeBodyValue,
  type TollFreeTry,
  type TollFreeView,
} from '@long-gate/contracts';
import { reviewTollFree, type Finding } from '@long-gate/core';
import { TollFreeFiling } from '@long-gate/gateways';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { DocumentOwner, Documents } from '../../platform/documents.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import type { Brands } from './brands.js';
import { changed, noteAnswer, requireNoBlock, requireOpen, type Answer } from './filings.js';
import type { TollFreeModel } from './model.js';
import {
  addFilingTry,
  addTollFree,
  decideFilingTry,
  filingTriesOf,
  saveTollFree,
  tollFreeById,
  tollFreeOf,
} from './registration-store.js';

/** A toll-free number that is in service. */
export interface TollFreeNumber {
  id: string;
  e164: string;
  label: string;
}
/** Which toll-free numbers of a business are in service; given by the numbers area. */
export type TollFreeNumbersOf = (r: Reader, businessId: string) => Promise<TollFreeNumber[]>;

const proofOf = (businessId: string, numberId: string): DocumentOwner => ({
  businessId,
  objectKind: 'toll-free',
  objectId: numberId,
});

/** What toll-free numbers are verified for. None sends before it is (rules.md, A2P 10DLC and its siblings). */
export class TollFree {
  /** Said by whoever has the numbers. */
  numbersOf: TollFreeNumbersOf = () => Promise.resolve([]);

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly brands: Brands,
    private readonly documents: Documents,
  ) {
    p.outbox.carry('registrar.toll-free', z.object({ filing: TollFreeFiling }), {
      deliver: (key, { filing }) => p.gateways.registrar.verifyTollFree(key, filing),
      refused: (w, key, _b, error) =>
        this.decide(w, key, {
          state: 'declined',
          reasons: [{ field: 'description', code: error.code, message: error.message }],
        }),
    });
    p.feed.on('toll-free.verified', (w, e) => this.decide(w, e.key, { state: 'registered', reasons: [] }));
    p.feed.on('toll-free.declined', (w, e) => this.decide(w, e.key, { state: 'declined', reasons: e.reasons }));
  }

  /** All toll-free numbers in service, with what each is verified for or shall be. */
  async all(r: Reader, businessId: string): Promise<TollFreeView[]> {
    const numbers = await this.numbersOf(r, businessId);
    if (numbers.length === 0) return [];
    const rows = new Map((await tollFreeOf(r, businessId)).map((row) => [row.numberId, row]));
    return Promise.all(numbers.map((n) => this.show(r, businessId, n, rows.get(n.id) ?? null)));
  }

  async save(
    actor: Actor,
    businessId: string,
    numberId: string,
    seen: number | null,
    body: TollFreeBodyValue,
  ): Promise<TollFreeView> {
    await this.p.db.write(async (w) => {
      const row = await this.begun(w, businessId, numberId);
      expectVersion('verification', row, seen);
      if (row.state === 'in review')
        throw conflict('The number is being verified; it can be edited again after the registrar’s answer.');
      if (row.state === 'registered')
        throw refused('It is verified for what stands here. What it is for cannot be changed afterwards.', [
          { field: 'useCase', message: 'Verified.' },
        ]);
      const before = row.body;
      await saveTollFree(row, { body });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'verification edited',
        objectKind: 'number',
        objectId: numberId,
        before,
        after: body,
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId, numberId);
  }

  /** Submits it; costs nothing. @throws Problem 422 with the findings that block. */
  async submit(actor: Actor, businessId: string, numberId: string, seen: number | null): Promise<TollFreeView> {
    await this.p.db.write(async (w) => {
      const number = await this.number(w, businessId, numberId);
      const row = await this.begun(w, businessId, numberId);
      const { state, body } = row;
      if (state === 'in review' || state === 'registered') return;
      expectVersion('verification', row, seen);
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      const brand = await this.brands.row(w, businessId);
      if (brand.state !== 'registered')
        throw refused(`The brand is ${brand.state}; a toll-free number is verified for a registered one.`, [
          { field: 'brand', message: 'Register the brand first.' },
        ]);
      const picture = await this.picture(w, businessId, numberId);
      requireNoBlock(await this.findings(w, businessId, body, picture !== undefined), 'The verification');
      const attempt = row.attempt + 1;
      await saveTollFree(row, {
        state: 'in review',
        attempt,
        submittedAt: Math.round(this.p.clock.now()),
        decidedAt: null,
        reasons: [],
        stages: [],
        lastSubmitted: body,
      });
      await addFilingTry(w, { filingId: numberId, attempt, body, submittedAt: Math.round(this.p.clock.now()) });
      const filing: TollFreeFiling = {
        e164: number.e164,
        nameLine: business.name_line,
        legalName: brand.body.legalName,
        website: brand.body.website,
        ...TollFreeBody.omit({ proofUrl: true }).parse(body),
        proof: body.proofUrl.trim() === '' ? (picture?.sha256 ?? '') : body.proofUrl.trim(),
      };
      await this.p.outbox.put(w, 'registrar.toll-free', `${numberId}:${attempt}`, { filing });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: attempt > 1 ? 'verification resubmitted' : 'verification submitted',
        objectKind: 'number',
        objectId: numberId,
        before: { state },
        after: { state: 'in review', ...filing },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId, numberId);
  }

  /** Keeps a picture of where people agree, in the place of the one before. */
  async uploadProof(
    actor: Actor,
    businessId: string,
    numberId: string,
    file: { name: string; bytes: Buffer },
  ): Promise<TollFreeView> {
    await this.p.db.write(async (w) => {
      const row = await this.begun(w, businessId, numberId);
      if (row.state === 'in review' || row.state === 'registered')
        throw conflict(
          `The verification is ${row.state === 'registered' ? 'done' : 'in review'}; it keeps its picture.`,
        );
      const owner = proofOf(businessId, numberId);
      const before = await this.picture(w, businessId, numberId);
      const kept = await this.documents.keep(w, owner, { what: 'proof of opt-in', ...file, by: actor.name });
      if (before) await this.documents.drop(w, owner, before.id);
      await saveTollFree(row, {});
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'proof of opt-in uploaded',
        objectKind: 'number',
        objectId: numberId,
        after: { name: kept.name, size: kept.size, sha256: kept.sha256 },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId, numberId);
  }

  /** Every version that was submitted, with what was decided of it, the first first. @throws Problem 404 */
  async tries(businessId: string, numberId: string): Promise<TollFreeTry[]> {
    await this.number(this.p.db, businessId, numberId);
    return (await filingTriesOf(this.p.db, numberId)).map(
      ({ attempt, body, submittedAt, state, decidedAt, reasons }) => ({
        attempt,
        body: TollFreeBody.parse(body),
        submittedAt,
        state,
        decidedAt,
        reasons,
      }),
    );
  }

  /** The picture of where people agree; who looks at it stands in the trail. */
  async readProof(
    actor: Actor,
    businessId: string,
    numberId: string,
  ): Promise<{ name: string; type: string; bytes: Buffer }> {
    return this.p.db.write(async (w) => {
      const known = await this.picture(w, businessId, numberId);
      if (!known) throw notFound('picture');
      const { row, bytes } = await this.documents.read(w, proofOf(businessId, numberId), known.id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'proof of opt-in read',
        objectKind: 'number',
        objectId: numberId,
        after: { name: row.name },
      });
      return { name: row.name, type: row.type, bytes };
    });
  }

  private async one(businessId: string, numberId: string): Promise<TollFreeView> {
    const r = this.p.db;
    const number = await this.number(r, businessId, numberId);
    return this.show(r, businessId, number, await tollFreeById(r, numberId));
  }

  private async number(r: Reader, businessId: string, numberId: string): Promise<TollFreeNumber> {
    const number = (await this.numbersOf(r, businessId)).find((n) => n.id === numberId);
    if (!number) throw notFound('toll-free number');
    return number;
  }

  /** What is written of a number; begun where nothing was. @throws Problem 404 */
  async begun(w: Writer, businessId: string, numberId: string): Promise<TollFreeModel> {
    await this.number(w, businessId, numberId);
    if (!(await tollFreeById(w, numberId))) await addTollFree(w, { numberId, businessId, body: EMPTY_TOLL_FREE });
    const row = await tollFreeById(w, numberId);
    if (row?.businessId !== businessId) throw notFound('toll-free number');
    return row;
  }

  private async picture(r: Reader, businessId: string, numberId: string) {
    return (await this.documents.of(r, proofOf(businessId, numberId))).at(-1);
  }

  private async decide(w: Writer, key: string, answer: Answer): Promise<void> {
    const [numberId = '', attempt = '0'] = key.split(':');
    const row = await tollFreeById(w, numberId);
    if (row?.state !== 'in review' || row.attempt !== Number(attempt)) return;
    const decidedAt = Math.round(this.p.clock.now());
    await saveTollFree(row, { ...answer, decidedAt });
    await decideFilingTry(w, numberId, row.attempt, { ...answer, decidedAt });
    await noteAnswer(this.p, w, 'toll-free number', { id: numberId, businessId: row.businessId }, answer);
  }

  private async findings(
    r: Reader,
    businessId: string,
    body: TollFreeBodyValue,
    hasPicture: boolean,
  ): Promise<Finding[]> {
    const business = await this.businesses.row(r, businessId);
    const brand = await this.brands.row(r, businessId);
    const { legalName, form, website } = brand.body;
    return reviewTollFree({ ...body, hasPicture }, { nameLine: business.name_line, legalName, form, website });
  }

  private async show(
    r: Reader,
    businessId: string,
    number: TollFreeNumber,
    row: TollFreeModel | null,
  ): Promise<TollFreeView> {
    const picture = await this.picture(r, businessId, number.id);
    const body = row?.body ?? EMPTY_TOLL_FREE;
    return {
      numberId: number.id,
      e164: number.e164,
      label: number.label,
      body,
      state: row?.state ?? 'draft',
      attempt: row?.attempt ?? 0,
      submittedAt: row?.submittedAt ?? null,
      decidedAt: row?.decidedAt ?? null,
      reasons: row?.reasons ?? [],
      stages: row?.stages ?? [],
      findings: await this.findings(r, businessId, body, picture !== undefined),
      lastSubmitted: row?.lastSubmitted ?? null,
      proof: picture ? { id: picture.id, name: picture.name, size: picture.size, sha256: picture.sha256 } : null,
      version: row?.version ?? 1,
    };
  }
}
