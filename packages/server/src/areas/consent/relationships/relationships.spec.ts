import type { BroughtRelationships, Relationship } from '@long-gate/contracts';
import { Office } from '../../../testing/office.js';
import { registryOf } from '../../../testing/registry.js';

const ADA = '+12125550110';
const BRAM = '+12125550111';
const CLEO = '+12125550112';
const DAY = 86_400_000;

describe('purchases and inquiries on record', () => {
  let o: Office;
  let list: string;
  beforeEach(async () => {
    o = await Office.open();
    await o.contact(ADA, ['informational'], { firstName: 'Ada' });
    await o.contact(BRAM, ['informational'], { firstName: 'Bram' });
    list = await registryOf(o, ADA, BRAM, CLEO);
  });
  afterEach(() => o.close());

  const note = (phone: string, happenedOn: string, kind: Relationship['kind'] = 'purchase', reference = '') =>
    o.app.relationships.record(o.admin, o.business, { phone, kind, happenedOn, reference });
  const take = (part: number, ...lines: string[]): Promise<BroughtRelationships> =>
    o.app.relationships.take(o.admin, o.business, { file: 'file-of-sales', name: 'sales.csv', part, lines });
  /** Why offers to somebody would be kept back, as their docket shows it. */
  const why = async (e164: string): Promise<string> => {
    const id = (await o.app.contacts.names(o.app.platform.db, o.business, [e164])).get(e164)?.contactId ?? '';
    const { promotional } = (await o.app.edits.detail(o.app.platform.db, o.business, id)).verdicts;
    return promotional.why || promotional.result;
  };
  const standing = async (): Promise<[string, string][]> =>
    (await o.app.relationships.page(o.business, { limit: 50 })).items.map((x) => [x.e164, x.standing]);
  const person = async (e164: string) =>
    (await o.app.suppression.people(o.business, list, undefined, 10)).items.find((x) => x.e164 === e164);
  const LISTED = 'on a do-not-call list';
  const NO_CONSENT = 'never agreed to this kind of text';

  it('except their number from a registry, and open nothing that wants written consent', async () => {
    expect(await why(ADA)).toBe(LISTED);
    const made = await note('(212) 555-0110', '2030-01-15', 'purchase', 'ticket 4411');
    expect([made.e164, made.name, made.standing, made.reference]).toEqual([ADA, 'Ada', 'stands', 'ticket 4411']);
    expect(await why(ADA)).toBe(NO_CONSENT);
    expect(await why(BRAM)).toBe(LISTED);
    expect(await person(ADA)).toEqual(
      jasmine.objectContaining({ kept: [], exceptionEndsAt: Date.parse('2031-07-15T04:00:00Z') }),
    );
    expect((await person(ADA))?.exception).toContain('purchase of 2030-01-15');
    expect((await person(BRAM))?.kept).toEqual(['promotional']);
    // Coverage books them where the gate does.
    const kept = (await o.app.coverage.read(o.business))[0]?.promotional.kept.map((x) => [x.reason, x.count]);
    expect(kept).toEqual(
      jasmine.arrayWithExactContents([
        ['do-not-call', 1],
        ['consent-none', 1],
      ]),
    );
  });

  it('keep nothing open that a list of our own, or a carrier’s, keeps off', async () => {
    await note(ADA, '2030-03-01');
    const wish = { name: 'Our own', kind: 'own' as const, source: 'the counter', datedOn: '2030-03-10' };
    const own = await o.app.suppression.add(o.admin, o.business, wish, 'own-list');
    await o.app.suppression.take(o.business, own.id, { edition: 1, part: 0, lines: [ADA] });
    expect(await why(ADA)).toBe('on a suppression list');
  });

  it('are over by themselves when their months have gone by, an inquiry’s sooner', async () => {
    await note(ADA, '2029-12-13', 'inquiry');
    await note(BRAM, '2029-12-14', 'inquiry');
    expect(await why(ADA)).toBe(NO_CONSENT);
    // It is Tuesday the 12th; the first ends as the 13th begins.
    await o.later(DAY);
    expect([await why(ADA), await why(BRAM)]).toEqual([LISTED, NO_CONSENT]);
    expect(await standing()).toEqual(
      jasmine.arrayWithExactContents([
        [ADA, 'over'],
        [BRAM, 'stands'],
      ]),
    );
    const over = await o.app.relationships.page(o.business, { limit: 5, standing: 'over' });
    expect([over.total, over.items.map((x) => x.e164)]).toEqual([1, [ADA]]);
    // Another purchase counts from its own day.
    await note(ADA, '2030-03-13');
    expect(await why(ADA)).toBe(NO_CONSENT);
  });

  it('are broken by their person’s no: what was before it excepts them no more, also once the list alone is asked', async () => {
    await note(ADA, '2030-02-01');
    await note(BRAM, '2030-02-01');
    await o.text(ADA, 'STOP');
    await o.settle();
    expect(await why(ADA)).toBe('opted out');
    expect(await standing()).toEqual(
      jasmine.arrayWithExactContents([
        [ADA, 'broken'],
        [BRAM, 'stands'],
      ]),
    );
    expect((await person(ADA))?.kept).toEqual(['promotional']);
    // Nor does an older one that is found only now.
    expect((await note(ADA, '2030-01-05')).standing).toBe('broken');
    // The number was found to be somebody else's: what its owner before bought is nothing to them.
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: BRAM, purposes: ['informational'], kind: 'voided', how: 'carrier', happenedAt: o.now },
      ]),
    );
    expect(await why(BRAM)).toBe(LISTED);
  });

  it('are recorded once, and can be withdrawn with a reason and recorded anew', async () => {
    const made = await note(ADA, '2030-02-01');
    expect((await note(ADA, '2030-02-01')).id).toBe(made.id);
    await o.app.relationships.withdraw(o.admin, o.business, made.id, 'the ticket was returned');
    expect(await why(ADA)).toBe(LISTED);
    await expectAsync(o.app.relationships.withdraw(o.admin, o.business, made.id, 'once more')).toBeRejectedWithError(
      /already/,
    );
    const [kept] = (await o.app.relationships.page(o.business, { limit: 5 })).items;
    expect([kept?.standing, kept?.withdrawn?.why]).toEqual(['withdrawn', 'the ticket was returned']);
    expect((await note(ADA, '2030-02-01')).id).not.toBe(made.id);
    expect(await why(ADA)).toBe(NO_CONSENT);
    const trail = await o.app.platform.db.all<{ action: string }>(
      "SELECT action FROM audit WHERE object_kind = 'relationship' ORDER BY id",
    );
    expect(trail.map((x) => x.action)).toEqual(['purchase recorded', 'purchase withdrawn', 'purchase recorded']);
  });

  it('are of a day that has come, and of a number', async () => {
    await expectAsync(note(ADA, '2030-03-13')).toBeRejectedWithError(/still to come/);
    await expectAsync(note('555', '2030-03-01')).toBeRejected();
    expect(await standing()).toEqual([]);
  });

  it('come by file: each line once, in the order of its parts, and what is wrong is said with its line', async () => {
    const first = await take(
      0,
      'phone,day,what,about',
      `${ADA},2030-02-01,purchase,"ticket, return"`,
      '212-555-0111;1/19/2030;inquiry',
      `${ADA},2030-02-01,purchase,again`,
      '2125550111,2030-02-31,purchase',
      'hello 5',
    );
    expect([first.parts, first.lines, first.taken, first.known, first.refused]).toEqual([1, 6, 2, 1, 2]);
    expect(first.refusals.map((x) => x.line)).toEqual([5, 6]);
    expect([await why(ADA), await why(BRAM)]).toEqual([NO_CONSENT, NO_CONSENT]);
    // An answer that was lost: the same part once more.
    expect(await take(0, `${CLEO},2030-02-01,purchase`)).toEqual(first);
    await expectAsync(take(2, 'x')).toBeRejectedWithError(/Part 2 of the file comes first/);
    const row = (await o.app.relationships.page(o.business, { limit: 5, q: 'return' })).items[0];
    expect([row?.e164, row?.file, row?.reference]).toEqual([ADA, 'sales.csv', 'ticket, return']);
    // What was withdrawn is not brought back by the next file.
    await o.app.relationships.withdraw(o.admin, o.business, row?.id ?? '', 'was a refund');
    expect((await take(1, `${ADA},2030-02-01,purchase`)).known).toBe(2);
    expect(await why(ADA)).toBe(LISTED);
  });

  it('wait for a number that is nobody’s yet, and go with whoever is erased', async () => {
    await note(CLEO, '2030-02-01');
    await o.contact(CLEO, ['informational'], { firstName: 'Cleo' });
    expect(await why(CLEO)).toBe(NO_CONSENT);
    await o.app.platform.db.write((w) =>
      Promise.resolve(w.tell('contact.erased', { businessId: o.business, people: [[CLEO, 'digest']] })),
    );
    expect(await standing()).toEqual([]);
  });

  it('are found by part of a number, page by page, and handed out as a file', async () => {
    const lines = Array.from({ length: 25 }, (_, i) => `21255501${String(i + 10)},2030-02-01,purchase,sale ${i}`);
    await take(0, ...lines);
    const seen: string[] = [];
    for (let cursor: string | undefined; ;) {
      const page = await o.app.relationships.page(o.business, { limit: 10, cursor });
      expect(page.total).toBe(25);
      seen.push(...page.items.map((x) => x.e164));
      if (page.next === null) break;
      cursor = page.next;
    }
    expect(new Set(seen).size).toBe(25);
    expect((await o.app.relationships.page(o.business, { limit: 10, q: '550-113' })).items.map((x) => x.e164)).toEqual([
      '+12125550113',
    ]);
    let file = '';
    for await (const part of o.app.relationships.file(o.business, { kind: 'purchase' })) file += part;
    expect(file.trim().split('\n').length).toBe(26);
    expect(file).toContain('sale 24');
  });

  it('answer as of a day by what was on record then', async () => {
    const before = o.now;
    await o.later(60_000);
    const made = await note(ADA, '2030-02-01');
    await o.later(60_000);
    const during = o.now;
    await o.later(60_000);
    await o.app.relationships.withdraw(o.admin, o.business, made.id, 'was a refund');
    const asked = async (at: number) => {
      const { asked: a } = await o.app.asOf.ask(o.business, {
        e164: ADA,
        words: 'Fares from $19. Reply STOP to end.',
        purpose: 'promotional',
        at: String(at),
      });
      return [a?.then.reason, a?.then.stood.relatedUntil];
    };
    expect(await asked(before)).toEqual(['do-not-call', null]);
    expect(await asked(during)).toEqual(['consent-none', Date.parse('2031-08-01T04:00:00Z')]);
    expect(await asked(o.now)).toEqual(['do-not-call', null]);
  });
});
