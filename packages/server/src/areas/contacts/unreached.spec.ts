import { parse } from 'csv-parse/sync';
import type { Unreached, UnreachedSummary } from '@long-gate/contracts';
import type { Cause, LineType } from '@long-gate/core';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const ADA = '+12125550101';
const BRANDT = '+12125550102';
const CORA = '+12125550103';
const DAY = 86_400_000;

describe('numbers that cannot be reached', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
    await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
    await o.contact(BRANDT, ['informational'], { firstName: 'Brandt' });
    await o.contact(CORA, [], { firstName: 'Cora' });
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const base = (): string => `/businesses/${o.business}/unreached`;
  const summary = async (): Promise<UnreachedSummary> =>
    (await v.ask('GET', base())).body as unknown as UnreachedSummary;
  const counts = async (): Promise<Record<string, number>> =>
    Object.fromEntries((await summary()).causes.map((c) => [c.cause, c.numbers]));
  const rows = async (cause: Cause): Promise<Unreached[]> =>
    (await v.ask('GET', `${base()}/numbers?cause=${cause}`)).body['items'] as Unreached[];
  const lookup = (e164: string, lineType: LineType, reachable = true) =>
    o.app.platform.db.write((w) =>
      o.app.contacts.storeLookup(w, o.business, [
        { e164, lineType, carrier: 'Harth Telephone', carrierKind: 'A', reachable, askedAt: o.now },
      ]),
    );
  const failed = (e164: string, cause: Exclude<Cause, never>, detail = 'absent') =>
    o.app.platform.db.write((w) =>
      o.app.contacts.learnTrouble(w, o.business, [{ e164, carrier: 'Nimbrel Mobile', detail }], cause),
    );

  it('stand by cause, with who is affected and over which carrier', async () => {
    await lookup(ADA, 'landline');
    await failed(BRANDT, 'out-of-service');
    const s = await summary();
    expect(s.causes.map((c) => [c.cause, c.numbers, c.informational, c.promotional])).toEqual([
      ['not-textable', 1, 1, 1],
      ['out-of-service', 1, 1, 0],
      ['refused-by-owner', 0, 0, 0],
      ['passing-fault', 0, 0, 0],
    ]);
    expect(s.causes[1]?.carriers).toEqual([{ carrier: 'Nimbrel Mobile', source: 'receipt', n: 1 }]);
    expect(s.all).toBe(3);
    const [ada] = await rows('not-textable');
    expect([ada?.name, ada?.source, ada?.detail, ada?.carrier]).toEqual([
      'Ada',
      'lookup',
      'landline',
      'Harth Telephone',
    ]);
  });

  it('keep the first time and the last, and how often', async () => {
    const first = o.now;
    await failed(ADA, 'passing-fault');
    await o.later(DAY);
    await failed(ADA, 'passing-fault', 'memory full');
    const [ada] = await rows('passing-fault');
    expect([ada?.times, ada?.detail]).toEqual([2, 'memory full']);
    expect((ada?.firstAt ?? 0) - first).toBeLessThan(DAY / 2);
    expect(ada?.lastAt).toBeGreaterThanOrEqual(first + DAY);
  });

  it('are no longer among them once an answer says otherwise, and are again when it turns', async () => {
    await lookup(ADA, 'landline');
    await lookup(ADA, 'mobile');
    expect([await rows('not-textable'), (await counts())['not-textable']]).toEqual([[], 0]);
    await lookup(ADA, 'none');
    const [ada] = await rows('not-textable');
    expect([ada?.times, ada?.detail]).toEqual([2, 'none']);
    await failed(BRANDT, 'out-of-service');
    await o.text(BRANDT, 'I am here again');
    expect(await rows('out-of-service')).toEqual([]);
  });

  it('come page by page, the last seen first, each once', async () => {
    for (const e164 of [ADA, BRANDT, CORA]) {
      await o.later(1000);
      await failed(e164, 'out-of-service');
    }
    const seen: string[] = [];
    for (let next: string | null = ''; next !== null;) {
      const page: { items: Unreached[]; next: string | null; total: number } = (
        await v.ask('GET', `${base()}/numbers?cause=out-of-service&limit=2${next ? `&cursor=${next}` : ''}`)
      ).body as never;
      expect(page.total).toBe(3);
      seen.push(...page.items.map((x) => x.name));
      next = page.next;
    }
    expect(seen).toEqual(['Cora', 'Brandt', 'Ada']);
  });

  it('what its owner refused stays so, whatever is learnt later', async () => {
    await failed(ADA, 'refused-by-owner');
    await lookup(ADA, 'mobile');
    await failed(ADA, 'passing-fault');
    expect((await rows('refused-by-owner')).map((x) => x.name)).toEqual(['Ada']);
    expect((await counts())['refused-by-owner']).toBe(1);
  });

  it('are exported, and bookings are set against whether texts reach', async () => {
    const field = (
      await v.ask('POST', `/businesses/${o.business}/contact-fields`, {
        name: 'Last booking',
        kind: 'choice',
        choices: ['kept', 'missed'],
        outcome: true,
      })
    ).body;
    for (const [e164, value] of [
      [ADA, 'missed'],
      [BRANDT, 'kept'],
      [CORA, 'missed'],
    ] as const) {
      const c = await o.app.contacts.byAddress(o.app.platform.db, o.business, e164);
      const { body } = await v.ask('GET', `/businesses/${o.business}/contacts/${c?.contactId}`);
      const edit = { firstName: 'X', lastName: '', email: '', stateCode: '', own: { [String(field['id'])]: value } };
      const to = `/businesses/${o.business}/contacts/${c?.contactId}`;
      expect((await v.ask('PUT', to, edit, { 'if-match': `"${Number(body['version'])}"` })).status).toBe(200);
    }
    await lookup(ADA, 'landline');
    expect((await summary()).outcomes).toEqual([
      {
        field: 'Last booking',
        values: jasmine.arrayWithExactContents([
          { value: 'missed', reached: 1, unreached: 1 },
          { value: 'kept', reached: 1, unreached: 0 },
        ]),
      },
    ]);
    const csv = parse<Record<string, string>>(String((await v.ask('GET', `${base()}.csv`)).body['text']), {
      columns: true,
      bom: true,
    });
    expect(csv.map((x) => [x['cause'], x['said by'], x['times']])).toEqual([['not-textable', 'lookup', '1']]);
  });
});
