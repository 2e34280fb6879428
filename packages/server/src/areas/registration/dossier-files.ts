import { DossierFile, faultWords, type DossierFileValue, type ImportAnswer } from '@long-gate/contracts';
import { dayIn, mayHave, useCase } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { dossierPdf } from './dossier-pdf.js';
import { changed } from './filings.js';
import type { Registration } from './registration.js';
import { addCampaign, brandOf, campaignById, saveBrand, saveTollFree, tollFreeById } from './registration-store.js';

/** A whole dossier in a file: as JSON, which comes in again as drafts, and as PDF. */
export class DossierFiles {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly registration: Registration,
  ) {}

  async file(businessId: string): Promise<DossierFileValue> {
    const d = await this.registration.dossier(businessId);
    return DossierFile.parse({
      format: 'long-gate dossier',
      version: 1,
      writtenAt: this.p.clock.now(),
      nameLine: d.nameLine,
      brand: d.brand,
      campaigns: await Promise.all(
        d.campaigns.map(async (c) => ({
          ...c,
          numbers: c.numbers.map((n) => n.e164),
          tries: await this.registration.campaigns.tries(businessId, c.id),
        })),
      ),
      tollFree: d.tollFree,
    });
  }

  async pdf(businessId: string): Promise<Buffer> {
    const { time_zone } = await this.businesses.row(this.p.db, businessId);
    return dossierPdf(await this.file(businessId), (at) => dayIn(at, time_zone));
  }

  /**
   * Reads a file in as drafts: the brand's words where the brand can still be written, each campaign as a new one,
   * verifications of toll-free numbers that are here. Nothing that was filed is changed. The same wish twice makes
   * nothing twice.
   * @throws Problem 422 where the file is no dossier, saying where it is not.
   */
  async take(actor: Actor, businessId: string, key: string, text: string, sure: boolean): Promise<ImportAnswer> {
    const file = read(text);
    await this.registration.brands.ensure(businessId);
    return this.p.db.write(async (w) => {
      const items = [
        await this.takeBrand(w, businessId, file, sure),
        ...(await this.takeCampaigns(w, businessId, key, file, sure)),
        ...(await this.takeTollFree(w, businessId, file, sure)),
      ];
      if (sure) {
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'dossier read in from a file',
          objectKind: 'business',
          objectId: businessId,
          after: { taken: items.filter((i) => i.taken).map((i) => i.what) },
        });
        changed(this.p, w, businessId);
      }
      return { items };
    });
  }

  private async takeBrand(w: Writer, businessId: string, { brand }: DossierFileValue, sure: boolean) {
    const what = `the brand of ${brand.body.legalName || 'nobody'}`;
    const row = await brandOf(w, businessId);
    if (row?.state !== 'draft' && row?.state !== 'declined')
      return { what, taken: false, words: `It stays: the brand here is ${row?.state ?? 'not begun'}.` };
    // Names are the business's own; a file of another business fills in all the rest.
    const { legalName, form } = row.body;
    if (sure) await saveBrand(row, { body: { ...brand.body, legalName, form } });
    return {
      what,
      taken: true,
      words: 'Fills in the brand here, but for its legal name, form and tax number, which stay as they are.',
    };
  }

  private async takeCampaigns(
    w: Writer,
    businessId: string,
    key: string,
    { campaigns }: DossierFileValue,
    sure: boolean,
  ) {
    const form = (await brandOf(w, businessId))?.body.form;
    const items: ImportAnswer['items'] = [];
    for (const [i, c] of campaigns.entries()) {
      const what = `campaign ${c.name}`;
      const use = useCase(c.body.useCase);
      if (use && form && !mayHave(use, form)) {
        items.push({ what, taken: false, words: `“${use.label}” is not for a ${form}.` });
        continue;
      }
      const id = idFrom('cmp', businessId, key, String(i));
      if (sure && !(await campaignById(w, id)))
        await addCampaign(w, {
          id,
          businessId,
          name: c.name,
          // The pages it was drafted from are another's, or other than they were.
          body: { ...c.body, agreementDrafted: '' },
          createdAt: Math.round(this.p.clock.now()) + i,
        });
      items.push({ what, taken: true, words: 'Comes in as a new draft.' });
    }
    return items;
  }

  private async takeTollFree(w: Writer, businessId: string, { tollFree }: DossierFileValue, sure: boolean) {
    const numbers = await this.registration.tollFree.numbersOf(w, businessId);
    const items: ImportAnswer['items'] = [];
    for (const v of tollFree) {
      const what = `the verification of ${v.e164}`;
      const number = numbers.find((n) => n.e164 === v.e164);
      const row = number && (await tollFreeById(w, number.id));
      if (!number) items.push({ what, taken: false, words: 'This number is not here.' });
      else if (row && row.state !== 'draft' && row.state !== 'declined')
        items.push({ what, taken: false, words: `It stays: it is ${row.state}.` });
      else {
        if (sure)
          await saveTollFree(row ?? (await this.registration.tollFree.begun(w, businessId, number.id)), {
            body: v.body,
          });
        items.push({ what, taken: true, words: 'Fills in what it is for.' });
      }
    }
    return items;
  }
}

function read(text: string): DossierFileValue {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw refused('This is no JSON. Choose a dossier that was exported here as JSON.', [
      { field: 'text', message: 'No JSON.' },
    ]);
  }
  const file = DossierFile.safeParse(json, { error: faultWords });
  if (file.success) return file.data;
  const [first] = file.error.issues;
  const where = first?.path.join('.') ?? '';
  throw refused(
    where === ''
      ? 'This JSON is of another kind than a dossier. Choose one that was exported here.'
      : `This JSON is no dossier. At “${where}”: ${first?.message ?? ''} Choose one that was exported here.`,
    [{ field: 'text', message: where || 'Another kind of file.' }],
  );
}
