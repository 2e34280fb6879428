import type { IntakeRow, IntakeView } from '@long-gate/contracts';
import fc from 'fast-check';
import { Office } from '../../testing/office.js';

const row = (n: number, phone: string, over: Partial<IntakeRow> = {}): IntakeRow => ({
  row: n,
  phone,
  firstName: 'Ada',
  lastName: 'Eide',
  email: '',
  stateCode: '',
  keep: true,
  ...over,
});

type Result = NonNullable<IntakeView['result']>;
const result = (over: Partial<Result>): Result => ({
  stored: 0,
  known: 0,
  changed: 0,
  repeats: 0,
  refused: 0,
  dropped: 0,
  revoked: 0,
  proven: 0,
  ...over,
});

describe('an intake', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
  });
  afterEach(() => o.close());

  async function bring(rows: IntakeRow[], claim = ''): Promise<Result> {
    const i = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'list.csv',
      total: rows.length,
      listName: 'List',
      consentClaim: claim,
    });
    for (let at = 0; at < rows.length; at += 7) await o.app.intakes.take(o.business, i.id, rows.slice(at, at + 7));
    await o.app.intakes.store(o.admin, o.business, i.id);
    await o.settle();
    return (await o.app.intakes.get(o.business, i.id)).result ?? result({});
  }

  const rowsHeld = async (): Promise<number> =>
    (await o.app.platform.db.one<{ n: number }>('SELECT count(*) AS n FROM intake_row'))?.n ?? 0;

  it('adds up to the rows of the file, whatever they hold', async () => {
    const cell = fc.oneof(
      fc.integer({ min: 0, max: 30 }).map((n) => `(212) 555-${String(100 + n).padStart(4, '0')}`),
      fc.constantFrom('', 'n/a', '911', '2.01E+09', '+12125550101 ext 4', '212-555-0102; 212-555-0103'),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(cell, fc.boolean()), { minLength: 1, maxLength: 40 }), async (cells) => {
        const r = await bring(cells.map(([phone, keep], i) => row(i + 1, phone, { keep })));
        expect(r.stored + r.known + r.repeats + r.refused + r.dropped).toBe(cells.length);
      }),
      { numRuns: 15 },
    );
    const numbers = await o.app.platform.db.all<{ n: number }>(
      'SELECT count(*) AS n FROM contact_number GROUP BY business_id, e164 HAVING count(*) > 1',
    );
    expect(numbers).toEqual([]);
  });

  it('checks every row again, whatever the browser said, and takes a row handed in twice once', async () => {
    const i = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'x',
      total: 2,
      listName: '',
      consentClaim: '',
    });
    expect(await o.app.intakes.take(o.business, i.id, [row(1, 'rubbish'), row(1, '212-555-0101')])).toEqual({
      received: 1,
    });
    await expectAsync(o.app.intakes.store(o.admin, o.business, i.id))
      .withContext('a row is missing')
      .toBeRejectedWith(jasmine.objectContaining({ status: 409 }));
    await o.app.intakes.take(o.business, i.id, [row(2, '212-555-0102')]);
    await o.app.intakes.store(o.admin, o.business, i.id);
    await o.settle();
    expect((await o.app.intakes.get(o.business, i.id)).result).toEqual(result({ stored: 1, refused: 1 }));
  });

  it('files a claim of consent as unproven, which opens no gate', async () => {
    await bring([row(1, '212-555-0101')], 'counter list');
    expect(await o.state('+12125550101')).toEqual({
      conversational: 'none',
      informational: 'unproven',
      promotional: 'unproven',
    });
    const page = await o.app.contacts.page(o.business, { promotional: 'unproven' }, undefined, 10);
    expect(page.items[0]?.verdicts.informational.result).toBe('stop');
  });

  it('does not change people who are known already, and puts them on the list', async () => {
    const id = await o.contact('+12125550101', ['promotional'], { firstName: 'Original' });
    const r = await bring([row(1, '212-555-0101', { firstName: 'Changed' })]);
    expect(r).toEqual(result({ known: 1 }));
    const c = await o.app.edits.detail(o.app.platform.db, o.business, id);
    expect(c.firstName).toBe('Original');
    expect(c.lists).toContain('List');
  });

  it('forgets an intake that is cancelled before it is stored', async () => {
    const i = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'x',
      total: 1,
      listName: '',
      consentClaim: '',
    });
    await o.app.intakes.take(o.business, i.id, [row(1, '212-555-0101')]);
    await o.app.intakes.cancel(o.admin, o.business, i.id);
    expect((await o.app.contacts.page(o.business, {}, undefined, 10)).total).toBe(0);
    await expectAsync(o.app.intakes.take(o.business, i.id, [row(1, '212-555-0101')])).toBeRejected();
    expect(await rowsHeld()).toBe(1);
    await o.settle();
    expect(await rowsHeld())
      .withContext('what was handed in is gone')
      .toBe(0);
  });

  it('keeps nobody waiting for thousands of rows, neither where they are handed in nor where they are cleared away', async () => {
    const many = 2000;
    const rows = Array.from({ length: many }, (_, i) => row(i + 1, `212-555-0${100 + (i % 100)}`));
    const i = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'list.csv',
      total: many,
      listName: '',
      consentClaim: '',
    });
    let busy = true;
    const seen = new Set<number>();
    const handed = o.app.intakes.take(o.business, i.id, rows).finally(() => (busy = false));
    while (busy) seen.add(await o.app.platform.db.write(() => rowsHeld()));
    expect((await handed).received).toBe(many);
    expect([...seen].some((n) => n > 0 && n < many))
      .withContext('others wrote between')
      .toBeTrue();
    await o.app.intakes.store(o.admin, o.business, i.id);
    seen.clear();
    busy = true;
    const worked = o.settle().finally(() => (busy = false));
    while (busy) seen.add(await o.app.platform.db.write(() => rowsHeld()));
    await worked;
    expect([...seen].some((n) => n > 0 && n < many))
      .withContext('and while it was cleared away')
      .toBeTrue();
    expect(await rowsHeld()).toBe(0);
    expect((await o.app.intakes.get(o.business, i.id)).result).toEqual(result({ stored: 100, repeats: many - 100 }));
  });

  it('pages through contacts by name without losing or repeating one, and filters on the server', async () => {
    await bring(
      Array.from({ length: 57 }, (_, i) =>
        row(i + 1, `212-555-${String(100 + i).padStart(4, '0')}`, {
          firstName: i % 3 === 0 ? '' : `N${i % 5}`,
          lastName: i % 3 === 0 ? '' : `L${i % 4}`,
        }),
      ),
    );
    const seen: string[] = [];
    let cursor: string | undefined;
    do {
      const page = await o.app.contacts.page(o.business, {}, cursor, 10);
      seen.push(...page.items.map((c) => c.number.e164));
      expect(page.total).toBe(57);
      cursor = page.next ?? undefined;
    } while (cursor);
    expect(new Set(seen).size).toBe(57);
    expect((await o.app.contacts.page(o.business, { q: '555-0103' }, undefined, 10)).total).toBe(1);
    expect(
      (await o.app.contacts.page(o.business, { q: 'n1 l1' }, undefined, 100)).items.every(
        (c) => c.firstName === 'N1' && c.lastName === 'L1',
      ),
    ).toBe(true);
    const facets = await o.app.contacts.facets(o.business, {});
    expect(Object.values(facets.textable).reduce((a, b) => a + b, 0)).toBe(57);
  });

  it('that was cut off is known by its file, stands on Today, and goes on or is thrown away', async () => {
    const digest = 'ab'.repeat(32);
    const row = (n: number) => ({
      row: n,
      phone: `212555${String(1000 + n)}`,
      firstName: '',
      lastName: '',
      email: '',
      stateCode: '',
      keep: true,
    });
    const begin = (fileName: string) =>
      o.app.intakes.begin(o.admin, o.business, { fileName, total: 4, listName: 'Cut', consentClaim: '', digest });
    const cut = await begin('cut.csv');
    await o.app.intakes.take(o.business, cut.id, [row(1), row(2)]);
    const titles = async (): Promise<string[]> =>
      (await o.app.today.get(o.business)).matters.map((m) => m.title).filter((t) => t.includes('brought in whole'));
    expect(await titles())
      .withContext('somebody may be at it')
      .toEqual([]);
    await o.later(11 * 60_000);
    expect(await titles()).toEqual(['“cut.csv” was not brought in whole']);
    const [known] = await o.app.intakes.list(o.business);
    expect([known?.digest, known?.received, known?.state]).toEqual([digest, 2, 'reading']);
    // The rows of a lot that came in half are handed in again with the rest.
    await o.app.intakes.take(o.business, cut.id, [1, 2, 3, 4].map(row));
    await o.app.intakes.store(o.admin, o.business, cut.id);
    await o.settle();
    expect((await o.app.intakes.get(o.business, cut.id)).result?.stored).toBe(4);
    const other = await begin('other.csv');
    await o.later(11 * 60_000);
    expect(await titles()).toEqual(['“other.csv” was not brought in whole']);
    await o.app.intakes.cancel(o.admin, o.business, other.id);
    expect(await titles()).toEqual([]);
  });
});
