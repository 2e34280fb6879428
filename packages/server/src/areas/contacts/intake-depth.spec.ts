import { DateTime } from 'luxon';
import type { IntakeMore, IntakeRow, IntakeView } from '@long-gate/contracts';
import fc from 'fast-check';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const phone = (i: number): string => `+1212555${String(100 + i).padStart(4, '0')}`;
const PNG = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex').toString('base64');
const row = (n: number, i: number, over: Partial<IntakeRow> = {}): IntakeRow => ({
  row: n,
  phone: phone(i),
  firstName: '',
  lastName: '',
  email: '',
  stateCode: '',
  keep: true,
  ...over,
});
type Begin = Partial<Parameters<Office['app']['intakes']['begin']>[2]>;

describe('an intake in depth', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const hand = async (rows: IntakeRow[], over: Begin = {}): Promise<IntakeView> => {
    const i = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'list.csv',
      total: rows.length,
      listName: '',
      consentClaim: '',
      attestation: 'Counter list, says Cora.',
      ...over,
    });
    await o.app.intakes.take(o.business, i.id, rows);
    return i;
  };
  const bring = async (rows: IntakeRow[], over: Begin = {}): Promise<IntakeView> => {
    const i = await hand(rows, over);
    await o.app.intakes.store(o.admin, o.business, i.id);
    await o.settle();
    return o.app.intakes.get(o.business, i.id);
  };
  const listed = async (query = ''): Promise<Record<string, unknown>[]> =>
    (await v.ask('GET', `/businesses/${o.business}/contacts?limit=100&${query}`)).body['items'] as Record<
      string,
      unknown
    >[];
  const detail = async (i: number): Promise<Record<string, unknown>> => {
    const c = await o.app.contacts.byAddress(o.app.platform.db, o.business, phone(i));
    return (await v.ask('GET', `/businesses/${o.business}/contacts/${c?.contactId}`)).body;
  };
  const says = (over: Partial<NonNullable<IntakeMore['consent']>>): { more: IntakeMore } => ({
    more: { consent: { says: 'yes', date: '', source: '', disclosure: '', ...over } },
  });
  const undo = (id: string) => v.ask('POST', `/businesses/${o.business}/intakes/${id}/undo`);

  it('shows nothing of what it brings before all of it is there, and then all at once', async () => {
    await o.contact(phone(99), ['informational'], { firstName: 'Before' });
    const i = await hand(
      Array.from({ length: 260 }, (_, k) => row(k + 1, Math.floor(k / 3), { firstName: `N${k}` })),
      { listName: 'Regulars' },
    );
    await o.app.intakes.store(o.admin, o.business, i.id);
    const seen = new Set<number>();
    let busy = true;
    const worked = o.settle().finally(() => (busy = false));
    while (busy) {
      const [page, facets] = await Promise.all([
        o.app.contacts.page(o.business, {}, undefined, 200),
        o.app.contacts.facets(o.business, {}),
      ]);
      const audience = await o.app.preview.preview(o.business, await o.draft({ text: 'The loaf is back.' }));
      for (const n of [page.items.length, facets.total, audience.counts.audience]) seen.add(n);
    }
    await worked;
    expect([...seen].filter((n) => n !== 1 && n !== 88)).toEqual([]);
    expect((await listed()).length).toBe(88);
    expect(
      (await o.app.platform.db.one<{ n: number }>('SELECT count(*) AS n FROM contact_number WHERE staged_no > 0'))?.n,
    ).toBe(0);
  });

  it('keeps address, language, a further number, tags and own fields, each checked', async () => {
    const field = await o.app.fields.add(o.admin, o.business, {
      name: 'Berth',
      kind: 'number',
      choices: [],
      outcome: false,
    });
    await bring(
      [
        row(1, 1, {
          firstName: 'Ada',
          stateCode: 'FL',
          more: {
            further: phone(2),
            language: 'es',
            street: '1 Quay',
            city: 'Quill',
            postalCode: '07001',
            own: { [field.id]: '1,200', gone: 'x' },
            tags: ['season'],
          },
        }),
        row(2, 3, { more: { own: { [field.id]: 'a dozen' }, further: phone(1) } }),
      ],
      { tags: ['2027'] },
    );
    const ada = await detail(1);
    expect([ada['language'], ada['city'], ada['own'], ada['lists']]).toEqual([
      'es',
      'Quill',
      { [field.id]: '1200' },
      ['2027', 'season'],
    ]);
    expect(
      (ada['numbers'] as { e164: string; preferred: boolean; states: string }[]).map((n) => [
        n.e164,
        n.preferred,
        n.states,
      ]),
    ).toEqual([
      [phone(1), true, 'FL'],
      [phone(2), false, 'FL'],
    ]);
    const other = await detail(3);
    expect([other['own'], (other['numbers'] as object[]).length]).toEqual([{}, 1]);
  });

  it('fills blanks of those who are known, overwrites or leaves, field by field', async () => {
    await bring([row(1, 1, { firstName: 'Ada', email: 'old@mail.example' }), row(2, 2)]);
    const second = await bring(
      [
        row(1, 1, {
          firstName: 'Adah',
          lastName: 'Fenwick',
          email: 'new@mail.example',
          more: { language: 'es', city: 'Quill' },
        }),
        row(2, 2, { firstName: 'Brandt' }),
      ],
      { known: { email: 'overwrite', language: 'leave' } },
    );
    expect([second.result?.stored, second.result?.changed, second.result?.known]).toEqual([0, 2, 0]);
    const ada = await detail(1);
    expect([ada['firstName'], ada['lastName'], ada['email'], ada['language'], ada['city']]).toEqual([
      'Ada',
      '',
      'new@mail.example',
      '',
      'Quill',
    ]);
    expect((await detail(2))['firstName']).toBe('Brandt');
    const third = await bring([row(1, 1, { firstName: 'Adah', email: '' })]);
    expect([third.result?.changed, third.result?.known]).withContext('a row never empties anything').toEqual([0, 1]);
  });

  it('honours a no whatever becomes of its row, and never brings back whom only their own word can', async () => {
    await o.contact(phone(1), ['informational', 'promotional'], { firstName: 'Ada' });
    const i = await bring(
      [
        row(1, 1, { keep: false, ...says({ says: 'no' }) }),
        row(2, 2, says({ says: 'no' })),
        row(3, 2, says({ date: '2027-01-02', source: 'counter', disclosure: 'Text me.' })),
      ],
      { proof: { name: 'forms.png', base64: PNG, purposes: ['promotional'] } },
    );
    expect([i.result?.revoked, i.result?.proven]).toEqual([2, 0]);
    expect((await o.state(phone(1))).promotional).toBe('revoked');
    expect((await o.state(phone(2))).promotional).toBe('revoked');
    const again = await bring([row(1, 2, says({ date: '2027-02-02', source: 'counter', disclosure: 'Text me.' }))], {
      proof: { name: 'forms.png', base64: PNG, purposes: ['promotional'] },
    });
    expect(again.result?.proven).toBe(0);
    expect((await o.state(phone(2))).promotional).toBe('revoked');
  });

  it('files consent where date, source, words and a document prove it, and a claim where one of them lacks', async () => {
    const whole = { date: '2027-01-02', source: 'counter form', disclosure: 'Text me about my orders.' };
    const i = await bring(
      [
        row(1, 1, says(whole)),
        row(2, 2, says({ ...whole, date: '' })),
        row(3, 3, says({ ...whole, source: '' })),
        row(4, 4, says({ ...whole, disclosure: '' })),
        row(5, 5),
      ],
      { proof: { name: 'forms.png', base64: PNG, purposes: ['informational'] } },
    );
    expect(i.result?.proven).toBe(1);
    const states = await Promise.all([1, 2, 3, 4, 5].map(async (k) => (await o.state(phone(k))).informational));
    expect(states).toEqual(['granted', 'unproven', 'unproven', 'unproven', 'none']);
    expect((await o.state(phone(1))).promotional)
      .withContext('one never implies another')
      .toBe('none');
    const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, phone(1));
    expect([event?.disclosure, event?.evidence['source'], event?.evidence['sha256']?.length]).toEqual([
      whole.disclosure,
      'counter form',
      64,
    ]);
    const without = await bring([row(1, 6, says(whole))]);
    expect(without.result?.proven).withContext('no document').toBe(0);
    expect((await o.state(phone(6))).informational).toBe('unproven');
  });

  it('takes consent of today as given before whatever is done today, and of a day that is none or still to come as a claim', async () => {
    // Five in the morning where the business is.
    await o.later(17 * 3_600_000);
    const whole = { source: 'counter form', disclosure: 'Text me about my orders.' };
    const i = await bring(
      [
        row(1, 1, says({ ...whole, date: '2030-03-13' })),
        row(2, 2, says({ ...whole, date: '2030-03-14' })),
        row(3, 3, says({ ...whole, date: '2030-02-30' })),
      ],
      { proof: { name: 'forms.png', base64: PNG, purposes: ['informational'] } },
    );
    expect([i.state, i.result?.proven]).toEqual(['stored', 1]);
    expect(await Promise.all([1, 2, 3].map(async (k) => (await o.state(phone(k))).informational))).toEqual([
      'granted',
      'unproven',
      'unproven',
    ]);
    const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, phone(1));
    expect(event?.happenedAt)
      .withContext('the hour is not known: the day, where the business is')
      .toBe(DateTime.fromISO('2030-03-13', { zone: 'America/New_York' }).toMillis());
  });

  it('lets only an administrator prove consent, and wants to know where the list came from', async () => {
    const coordinator = await door.visitor((await o.person('Cora', 'coordinator')).id);
    const body = { fileName: 'x', total: 1, listName: '', consentClaim: '', attestation: 'The counter, says Cora.' };
    const to = `/businesses/${o.business}/intakes`;
    expect((await coordinator.ask('POST', to, body)).status).toBe(200);
    expect(
      (
        await coordinator.ask('POST', to, {
          ...body,
          proof: { name: 'f.png', base64: PNG, purposes: ['informational'] },
        })
      ).status,
    ).toBe(403);
    const { attestation: _, ...without } = body;
    expect((await coordinator.ask('POST', to, without)).status).toBe(422);
    expect(
      (await v.ask('POST', to, { ...body, proof: { name: 'f.txt', base64: 'aGVsbG8=', purposes: ['informational'] } }))
        .body.detail,
    ).toContain('is no PDF, PNG or JPEG');
  });

  const everything = async (): Promise<unknown> => {
    const { db } = o.app.platform;
    return {
      contacts: await db.all(
        'SELECT id, first_name, last_name, email, state_code, language, own, own_words, sort_name FROM contact ORDER BY id',
      ),
      numbers: await db.all(
        'SELECT contact_id, e164, preferred, zones, states, sort_name, staged_no, consent_informational, consent_promotional FROM contact_number ORDER BY e164',
      ),
      onFile: await db.all(
        `SELECT e164, informational, promotional FROM consent_state WHERE informational <> 'none' OR promotional <> 'none' ORDER BY e164`,
      ),
      lists: await db.all('SELECT m.list_id, m.contact_id FROM list_member m ORDER BY 1, 2'),
      counts: await db.all(
        'SELECT textable, informational, promotional, preferred, staged_no, sum(n) AS n FROM contact_count WHERE n > 0 GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5',
      ),
    };
  };

  it('is taken back to exactly what was, whatever it brought; what it revoked stays', async () => {
    await bring([row(1, 1, { firstName: 'Ada' }), row(2, 2, { email: 'b@mail.example' })], { listName: 'Regulars' });
    const before = await everything();
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            i: fc.integer({ min: 1, max: 8 }),
            firstName: fc.constantFrom('', 'Cora', 'Dun'),
            email: fc.constantFrom('', 'x@mail.example'),
            tag: fc.constantFrom('', 'season'),
            claims: fc.boolean(),
          }),
          { minLength: 1, maxLength: 12 },
        ),
        fc.constantFrom('fill', 'overwrite', 'leave'),
        async (rows, rule) => {
          await o.app.platform.db.write((w) => o.app.lists.ensure(w, o.admin, o.business, 'season', 'tag'));
          const i = await bring(
            rows.map(({ i: k, tag, claims, ...facts }, n) =>
              row(n + 1, k, {
                ...facts,
                more: { ...(tag === '' ? {} : { tags: [tag] }), ...(claims ? says({ says: 'yes' }).more : {}) },
              }),
            ),
            { listName: 'Regulars', known: { name: rule, email: rule } },
          );
          expect((await undo(i.id)).status).toBe(200);
          await o.settle();
          expect((await o.app.intakes.get(o.business, i.id)).state).toBe('undone');
          expect(await everything()).toEqual(before);
        },
      ),
      { numRuns: 6 },
    );
    const no = await bring([row(1, 1, says({ says: 'no' }))]);
    await undo(no.id);
    await o.settle();
    expect((await o.state(phone(1))).promotional).toBe('revoked');
  });

  it('withdraws what it claimed, and leaves what another list claims, or what the person said since', async () => {
    const yes = says({ says: 'yes' });
    await bring([row(1, 1, yes)]);
    const i = await bring([row(1, 1, yes), row(2, 2, yes), row(3, 3, yes)]);
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: phone(3), purposes: ['informational'], kind: 'granted', how: 'web page', disclosure: 'Text me.' },
      ]),
    );
    await undo(i.id);
    await o.settle();
    const states = await Promise.all([1, 2, 3].map(async (k) => (await o.state(phone(k))).informational));
    expect(states).toEqual(['unproven', 'none', 'granted']);
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
  });

  it('takes back what it proved, and nothing that stood before', async () => {
    await o.contact(phone(1), ['informational'], { firstName: 'Ada' });
    const whole = says({ date: '2027-01-02', source: 'counter form', disclosure: 'Text me.' });
    const i = await bring([row(1, 1, whole), row(2, 2, whole)], {
      proof: { name: 'forms.png', base64: PNG, purposes: ['promotional'] },
    });
    expect(i.result?.proven).toBe(2);
    await undo(i.id);
    await o.settle();
    expect(await o.state(phone(1))).toEqual(
      jasmine.objectContaining({ informational: 'granted', promotional: 'voided' }),
    );
    expect((await o.state(phone(2))).promotional).toBe('voided');
  });

  it('is not taken back once somebody it brought was touched, and says by what', async () => {
    const i = await bring([row(1, 1, { firstName: 'Ada' })]);
    await o.text(phone(1), 'Is there rye?');
    const refused = await undo(i.id);
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      jasmine.stringContaining('texted, wrote or called since'),
    ]);
    const j = await bring([row(1, 2)]);
    const c = await detail(2);
    await v.ask(
      'PUT',
      `/businesses/${o.business}/contacts/${String(c['id'])}`,
      { firstName: 'Brandt', lastName: '', email: '', stateCode: '' },
      { 'if-match': '"1"' },
    );
    expect((await undo(j.id)).body.detail).toContain('edited or merged since');
    expect((await listed()).length).toBe(2);
  });

  it('leaves nothing where it is cancelled while it is being stored', async () => {
    const before = await everything();
    const i = await hand(Array.from({ length: 80 }, (_, k) => row(k + 1, k)));
    await o.app.intakes.store(o.admin, o.business, i.id);
    await o.app.intakes.cancel(o.admin, o.business, i.id);
    await o.settle();
    expect((await o.app.intakes.get(o.business, i.id)).state).toBe('cancelled');
    expect(await everything()).toEqual(before);
  });

  it('comes to the same in whatever order its rows stand', async () => {
    const rows = [
      row(1, 1, { firstName: 'Ada', more: { tags: ['a'] } }),
      row(2, 2, says({ says: 'no' })),
      row(3, 3, { email: 'c@mail.example' }),
      row(4, 4, { phone: 'rubbish' }),
    ];
    const outcome = async (order: IntakeRow[]): Promise<unknown> => {
      const i = await bring(order.map((r, n) => ({ ...r, row: n + 1 })));
      const at = await Promise.all(
        [1, 2, 3].map(async (k) => [
          (await detail(k))['firstName'],
          (await detail(k))['lists'],
          (await o.state(phone(k))).promotional,
        ]),
      );
      await undo(i.id);
      await o.settle();
      return [i.result, at];
    };
    const straight = await outcome(rows);
    expect(await outcome([...rows].reverse())).toEqual(straight);
  });

  it('bars a further number by what its owner refused on the other before they came', async () => {
    await o.contact(phone(1), ['informational'], { firstName: 'Ada' });
    await o.text(phone(1), 'STOP');
    const c = await o.app.contacts.byAddress(o.app.platform.db, o.business, phone(1));
    await v.ask(
      'POST',
      `/businesses/${o.business}/contacts/delete`,
      { ids: [c?.contactId], seen: 1 },
      { 'idempotency-key': 'delete-ada-once' },
    );
    await o.settle();
    await bring([row(1, 1, { more: { further: phone(2) } })]);
    const numbers = (await detail(1))['numbers'] as { e164: string; refusedElsewhere: string[] }[];
    expect(numbers.find((n) => n.e164 === phone(2))?.refusedElsewhere).toEqual(['informational', 'promotional']);
  });

  it('gives somebody who is known a further number, barred by what they refused, and takes it away when taken back', async () => {
    await o.contact(phone(1), ['informational', 'promotional'], { firstName: 'Ada' });
    await o.contact(phone(5), ['informational'], { firstName: 'Brandt' });
    await o.text(phone(1), 'STOP');
    const before = await everything();
    const rows = [
      row(1, 1, { more: { further: phone(2) } }),
      // Somebody's number stays theirs, and a row that leaves what is known gives nothing.
      row(2, 5, { more: { further: phone(1) } }),
    ];
    const left = await bring(rows, { known: { further: 'leave' } });
    expect([left.result?.changed, left.result?.known]).toEqual([0, 2]);
    const i = await bring(rows);
    expect([i.result?.changed, i.result?.known]).toEqual([1, 1]);
    const numbers = (await detail(1))['numbers'] as { e164: string; preferred: boolean; refusedElsewhere: string[] }[];
    expect(numbers.map((n) => [n.e164, n.preferred])).toEqual([
      [phone(1), true],
      [phone(2), false],
    ]);
    expect(numbers[1]?.refusedElsewhere).toEqual(['informational', 'promotional']);
    expect(((await detail(5))['numbers'] as unknown[]).length).toBe(1);
    const again = await bring(rows);
    expect(again.result?.changed).withContext('once').toBe(0);
    await undo(again.id);
    await o.settle();
    expect(((await detail(1))['numbers'] as unknown[]).length)
      .withContext('what another list gave')
      .toBe(2);
    await undo(i.id);
    await o.settle();
    expect(await everything()).toEqual(before);
  });

  it('takes a row whose number came with an earlier one as a repeat, and is taken back all the same', async () => {
    const rows = Array.from({ length: 420 }, (_, k) => row(k + 1, k + 10));
    const i = await bring([
      row(1, 1, { more: { further: phone(2) } }),
      ...rows.map((r) => ({ ...r, row: r.row + 1 })),
      row(422, 2, { firstName: 'Late' }),
    ]);
    expect([i.result?.stored, i.result?.changed, i.result?.repeats]).toEqual([421, 0, 1]);
    expect((await undo(i.id)).status).toBe(200);
  });

  it('says which numbers are here already', async () => {
    await bring([row(1, 1)]);
    expect(
      (await v.ask('POST', `/businesses/${o.business}/contacts/known`, { e164s: [phone(1), phone(2)] })).body['known'],
    ).toEqual([phone(1)]);
  });
});
