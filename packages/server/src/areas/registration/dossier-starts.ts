import { BusinessDraft, EMPTY_BRAND, type BrandView, type Started } from '@long-gate/contracts';
import { INDUSTRIES, LEGAL_FORMS, RELATIONS } from '@long-gate/core';
import { parse } from 'csv-parse/sync';
import { record, type Actor } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import { mask } from '../../platform/mask.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Businesses, People } from '../settings/index.js';
import { addBrand } from './registration-store.js';

/** What a column is called, in any case and with or without spaces and dashes. */
const COLUMNS = {
  legalName: ['legal name', 'name', 'business'],
  nameLine: ['name line', 'short name'],
  form: ['legal form', 'form', 'kind'],
  taxNumber: ['tax number', 'ein'],
  tradingName: ['trading name', 'dba'],
  relation: ['relation'],
  industry: ['industry'],
  street: ['street', 'address'],
  city: ['city', 'town'],
  state: ['state'],
  postalCode: ['zip', 'postal code', 'zip code'],
  website: ['website', 'site'],
  email: ['e-mail', 'email', 'contact e-mail'],
  mobile: ['mobile', 'owner’s mobile'],
  contactName: ['contact', 'representative', 'contact name'],
  contactTitle: ['title'],
  contactPhone: ['telephone', 'phone'],
  statusEmail: ['status e-mail', 'status mail'],
} as const;
type Column = keyof typeof COLUMNS;
type Row = Record<Column, string>;
/** As many as one can look through. */
const MOST = 500;

const plain = (words: string): string => words.toLowerCase().replace(/[^a-z]/g, '');
const named = Object.entries(COLUMNS).flatMap(([column, names]) =>
  names.map((name) => [plain(name), column as Column] as const),
);
const columnOf = (head: string): Column | undefined => named.find(([name]) => name === plain(head))?.[1];

/** Begins the dossiers of many businesses from one CSV, each a business of its own with its brand in draft. */
export class DossierStarts {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly people: People,
  ) {}

  /**
   * What becomes of each line; with `sure` what is new is made, line by line, each whole or not at all. A line whose
   * legal name the person already has is left out, so that the same file can be handed in again.
   * @throws Problem 422 where it is no CSV with a legal name and form.
   */
  async take(actor: Actor & { id: string }, csv: string, sure: boolean): Promise<Started[]> {
    const lines = read(csv);
    const have = new Set((await this.businesses.of(actor.id)).map((b) => plain(b.legal_name)));
    const out: Started[] = [];
    for (const { line, row } of lines) {
      const started = judge(line, row, have);
      if (started.result === 'new') {
        have.add(plain(row.legalName));
        if (sure) await this.begin(actor, row);
      }
      out.push(started);
    }
    return out;
  }

  private async begin(actor: Actor, row: Row): Promise<void> {
    const form = formOf(row.form) ?? 'private company';
    const { legalName, street, city, state, postalCode, website, email, mobile, tradingName, statusEmail } = row;
    const body: BrandView['body'] = {
      ...EMPTY_BRAND,
      form,
      legalName,
      street,
      city,
      state,
      postalCode,
      website,
      email,
      mobile,
      tradingName,
      statusEmail,
      relation: choose(RELATIONS, row.relation) ?? 'client',
      industry: choose(INDUSTRIES, row.industry) ?? '',
      regions: state.length === 2 ? [state.toUpperCase()] : [],
      representatives:
        row.contactName === ''
          ? []
          : [{ name: row.contactName, title: row.contactTitle, phone: row.contactPhone, email }],
    };
    await this.p.db.write(async (w) => {
      const nameLine = nameLineOf(row);
      const id = await this.businesses.add(w, actor, {
        legalName,
        nameLine,
        form,
        street,
        city,
        state,
        postalCode,
        website,
        contactName: row.contactName,
        contactEmail: email,
      });
      await this.people.give(w, actor, actor.id, id, 'administrator');
      const brandId = idFrom('brd', id);
      await addBrand(w, {
        id: brandId,
        businessId: id,
        body,
        taxNumber: row.taxNumber === '' ? '' : this.p.vault.seal(row.taxNumber),
        // Written in: it follows the business's own facts no longer.
        version: 2,
      });
      await record(w, this.p.clock, {
        businessId: id,
        actor,
        action: 'brand begun from a list',
        objectKind: 'brand',
        objectId: brandId,
        after: { ...body, ...(row.taxNumber === '' ? {} : { taxNumber: mask(row.taxNumber) }) },
      });
    });
  }
}

/** What a list is separated by: whatever its first line has most of. */
function separatorOf(csv: string): string {
  const head = csv.split(/\r?\n/, 1)[0] ?? '';
  const count = (sign: string): number => head.split(sign).length;
  return [',', ';', '\t'].reduce((most, sign) => (count(sign) > count(most) ? sign : most));
}

function read(csv: string): { line: number; row: Row }[] {
  let records: string[][];
  try {
    records = parse(csv, {
      bom: true,
      trim: true,
      delimiter: separatorOf(csv),
      skip_empty_lines: false,
      relax_column_count: true,
    });
  } catch (error) {
    throw refused(`This cannot be read as CSV: ${(error as Error).message}. Save it as CSV and try again.`, [
      { field: 'csv', message: 'No CSV.' },
    ]);
  }
  const [head = [], ...rest] = records;
  const columns = head.map(columnOf);
  for (const [needed, words] of [
    ['legalName', 'Legal name'],
    ['form', 'Legal form'],
  ] as const)
    if (!columns.includes(needed))
      throw refused(`The first line has no column “${words}”. Name the columns in it.`, [
        { field: 'csv', message: `“${words}” is missing.` },
      ]);
  const filled = rest.map((cells, i) => ({ line: i + 2, cells })).filter(({ cells }) => cells.some((c) => c !== ''));
  if (filled.length > MOST)
    throw refused(`There are ${filled.length} lines; at most ${MOST} are taken at once. Divide the file.`, [
      { field: 'csv', message: `At most ${MOST} lines.` },
    ]);
  return filled.map(({ line, cells }) => {
    const row = Object.fromEntries(Object.keys(COLUMNS).map((c) => [c, ''])) as Row;
    columns.forEach((column, i) => {
      if (column) row[column] = cells[i] ?? '';
    });
    return { line, row };
  });
}

function choose<T extends string>(values: readonly T[], said: string): T | undefined {
  return values.find((v) => plain(v) === plain(said));
}
/** A legal form as lists name it. */
function formOf(said: string) {
  const other: Record<string, (typeof LEGAL_FORMS)[number]> = {
    company: 'private company',
    llc: 'private company',
    nonprofit: 'non-profit',
    soleproprietorship: 'sole proprietor',
    government: 'public body',
    publiccompany: 'listed company',
  };
  return choose(LEGAL_FORMS, said) ?? other[plain(said)];
}

/** What opens its texts: as it is said, or its legal name without the kind of company. */
function nameLineOf({ nameLine, legalName }: Row): string {
  return nameLine || legalName.replace(/,?\s+(?:LLC|L\.L\.C\.|Inc\.?|Corp\.?|Ltd\.?|Co\.?)$/i, '').slice(0, 40);
}

function judge(line: number, row: Row, have: ReadonlySet<string>): Started {
  const form = formOf(row.form) ?? '';
  const say = (result: Started['result'], words: string): Started => ({
    line,
    legalName: row.legalName,
    form,
    result,
    words,
  });
  if (row.legalName === '') return say('wrong', 'The legal name is missing.');
  if (form === '') return say('wrong', `“${row.form}” is no legal form. Write one of: ${LEGAL_FORMS.join(', ')}.`);
  const draft = BusinessDraft.safeParse({ legalName: row.legalName, nameLine: nameLineOf(row), form });
  if (!draft.success) return say('wrong', draft.error.issues.map((issue) => issue.message).join(' '));
  if (have.has(plain(row.legalName))) return say('there', 'You have this business already; it stays as it is.');
  const unknown = [
    row.industry !== '' && !choose(INDUSTRIES, row.industry) ? 'industry' : '',
    row.relation !== '' && !choose(RELATIONS, row.relation) ? 'relation' : '',
  ].filter(Boolean);
  return say(
    'new',
    unknown.length === 0 ? 'Is begun.' : `Is begun; its ${unknown.join(' and ')} is not known here and stays open.`,
  );
}
