import { csvPart } from '../../platform/csv.js';
import type { Reader } from '../../platform/db.js';
import { serveText } from '../../platform/thread.js';
import { besideOf, rowsByNumber } from './contact-store.js';
import { listNames } from './list-store.js';
import { fieldsOf } from './own-field-store.js';
import type { ContactFilter } from './filter-store.js';
import { pageOfNumbers, type FoundNumber, type Place } from './page-store.js';

const COLUMNS = [
  'phone',
  'first name',
  'last name',
  'email',
  'state',
  'line type',
  'carrier',
  'textable',
  'informational',
  'promotional',
  'other numbers',
  'street',
  'city',
  'zip code',
  'language',
  'lists',
];
const CHUNK = 1000;

export interface ExportWish {
  businessId: string;
  filter: ContactFilter;
  now: number;
}
/**
 * Contacts as CSV with a heading row, in the order of the list. E.164 begins with a plus sign, which is also a
 * formula's beginning: such a cell is escaped, and read back at intake.
 */
async function* contactsCsv(r: Reader, { businessId, filter, now }: ExportWish): AsyncGenerator<string> {
  const fields = await fieldsOf(r, businessId);
  yield csvPart([[...COLUMNS, ...fields.map((f) => f.name)]], true);
  for (let after: Place | null = null; ;) {
    const page: FoundNumber[] = await pageOfNumbers(r, businessId, filter, after, CHUNK, now);
    const [rows, beside, lists] = await Promise.all([
      rowsByNumber(
        r,
        page.map((x) => x.id),
        now,
      ),
      besideOf(
        r,
        page.map((x) => x.contactId),
      ),
      listNames(
        r,
        page.map((x) => x.contactId),
      ),
    ]);
    const last = page.at(-1);
    if (!last) return;
    yield csvPart(
      rows.map((x) => {
        const b = beside.get(x.contact_id);
        const own = b ? (JSON.parse(b.own) as Record<string, string>) : {};
        return [
          x.e164,
          x.first_name,
          x.last_name,
          x.email,
          x.state_code,
          x.line_type,
          x.carrier,
          x.textable,
          x.consent_informational,
          x.consent_promotional,
          b?.further ?? '',
          b?.street ?? '',
          b?.city ?? '',
          b?.postal_code ?? '',
          b?.language ?? '',
          (lists.get(x.contact_id) ?? []).join('; '),
          ...fields.map((f) => own[f.id] ?? ''),
        ];
      }),
    );
    after = last.place;
  }
}

serveText(import.meta.url, contactsCsv);
