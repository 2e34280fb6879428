import fc from 'fast-check';
import { Office } from '../../../testing/office.js';
import type { NewEvent } from '../ledger/ledger.js';
import { CLAIM_COUNTS, claimLots } from './claim-store.js';

const FORM =
  'Text me offers and news, about four a month. I agree that Heron Lane Bakery LLC may send me automated promotional texts at this number. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end. Privacy and terms: heron.example.';
const phone = (i: number): string => `+1212555${String(100 + i).padStart(4, '0')}`;

describe('claims of consent without proof', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(async () => {
    expect(await CLAIM_COUNTS.differing(o.app.platform.db))
      .withContext('counted anew')
      .toBe(0);
    await o.close();
  });

  /** Brings in so many people with a claim for all of them, from one number on. */
  const bringIn = async (
    fileName: string,
    from: number,
    n: number,
    claim = 'Signed at the counter.',
  ): Promise<string> => {
    const { id } = await o.app.intakes.begin(o.admin, o.business, {
      fileName,
      total: n,
      listName: fileName,
      consentClaim: claim,
      attestation: 'The counter kept them.',
    });
    const rows = Array.from({ length: n }, (_, i) => ({
      row: i + 1,
      phone: phone(from + i),
      firstName: 'Ada',
      lastName: `Number ${from + i}`,
      email: '',
      stateCode: '',
      keep: true,
    }));
    await o.app.intakes.take(o.business, id, rows);
    await o.app.intakes.store(o.admin, o.business, id);
    await o.settle();
    return id;
  };
  const read = () => o.app.claims.read(o.business);
  const counts = async (id: string) => {
    const lot = (await read()).items.find((x) => x.id === id);
    if (!lot) return undefined;
    const { people: open, informational, promotional } = lot.open;
    return { people: lot.people, open, informational, promotional, agreed: lot.agreed };
  };
  const file = (claimedBy: string, purposes: ('informational' | 'promotional')[], key: string) =>
    o.app.forms.file(
      o.admin,
      o.business,
      {
        whom: { listId: null, filter: null, e164s: null, behind: null, claimedBy },
        purposes,
        signedOn: '2030-03-01',
        disclosure: FORM,
        name: 'forms.pdf',
        bytes: Buffer.from('%PDF-1.4 forms of the counter'),
      },
      key,
    );

  it('stand by the lot that brought them, beside what their forms would open', async () => {
    const [spring, autumn] = [
      await bringIn('spring.csv', 0, 4),
      await bringIn('autumn.csv', 10, 2, 'Said so by phone.'),
    ];
    expect(await counts(spring)).toEqual({ people: 4, open: 4, informational: 4, promotional: 4, agreed: 0 });
    const { items, open } = await read();
    expect(items.map((x) => [x.fileName, x.claim, x.attestation, x.broughtBy])).toEqual([
      ['spring.csv', 'Signed at the counter.', 'The counter kept them.', o.admin.name],
      ['autumn.csv', 'Said so by phone.', 'The counter kept them.', o.admin.name],
    ]);
    expect(open).toEqual({ people: 6, informational: 6, promotional: 6 });
    expect((await counts(autumn))?.open).toBe(2);
  });

  it('become proof by a form for a whole lot, of the kinds it is for, and of nobody who left meanwhile', async () => {
    const [spring, autumn] = [await bringIn('spring.csv', 0, 4), await bringIn('autumn.csv', 10, 2)];
    await o.text(phone(1), 'STOP');
    expect(await counts(spring)).toEqual({ people: 4, open: 3, informational: 3, promotional: 3, agreed: 0 });
    await file(spring, ['promotional'], 'forms-of-spring');
    await o.settle();
    expect(await counts(spring)).toEqual({ people: 4, open: 3, informational: 3, promotional: 0, agreed: 0 });
    expect((await counts(autumn))?.promotional)
      .withContext('another lot is not touched')
      .toBe(2);
    expect(await o.app.ledger.statesOf(o.app.platform.db, o.business, phone(1)).then((s) => s.promotional.state)).toBe(
      'revoked',
    );
    await file(spring, ['informational'], 'forms-of-spring-too');
    await o.settle();
    expect(await counts(spring)).toEqual({ people: 4, open: 0, informational: 0, promotional: 0, agreed: 3 });
    await expectAsync(file(spring, ['promotional'], 'once-more')).toBeRejectedWithError(/Nobody is left/);
  });

  it('open to their people, page by page, as they were brought in, with what was said of each', async () => {
    const spring = await bringIn('spring.csv', 0, 5);
    await bringIn('autumn.csv', 10, 2);
    const seen: string[] = [];
    let cursor: string | undefined;
    do {
      const page = await o.app.claims.people(o.business, spring, cursor, 2);
      expect(page.total).toBe(5);
      for (const x of page.items) expect(x.unproven).toEqual(['informational', 'promotional']);
      seen.push(...page.items.map((x) => `${x.e164} ${x.name}`));
      cursor = page.next ?? undefined;
    } while (cursor);
    expect(seen).toEqual([0, 1, 2, 3, 4].map((i) => `${phone(i)} Ada Number ${i}`));
    await expectAsync(o.app.claims.people(o.business, 'int_nobody', undefined, 2)).toBeRejectedWith(
      jasmine.objectContaining({ status: 404 }),
    );
  });

  it('are counted as they stand, whatever else is recorded of their numbers and whoever folds it anew', async () => {
    const kinds = ['claimed', 'withdrawn', 'granted', 'confirmed', 'revoked', 'voided', 'disputed', 'expired'] as const;
    const happening = fc.record({
      who: fc.nat(3),
      // Claims are what is counted: a third and more of what happens.
      kind: fc.constantFrom(...kinds, 'claimed', 'claimed', 'claimed'),
      purposes: fc.constantFrom<('informational' | 'promotional')[]>(['promotional'], ['informational', 'promotional']),
      intake: fc.constantFrom('int_a', 'int_b'),
      ago: fc.nat(20),
      awaitsConfirmation: fc.boolean(),
    });
    const { ledger, platform } = o.app;
    await fc.assert(
      fc.asyncProperty(fc.array(happening, { minLength: 1, maxLength: 6 }), fc.boolean(), async (lot, anew) => {
        await platform.db.write(async (w) => {
          await ledger.append(
            w,
            o.business,
            lot.map((x): NewEvent => ({
              e164: phone(x.who),
              purposes: x.purposes,
              kind: x.kind,
              how: 'imported record',
              evidence: x.kind === 'claimed' ? { intake: x.intake } : {},
              happenedAt: platform.clock.now() - x.ago * 86_400_000,
              awaitsConfirmation: x.kind === 'granted' && x.awaitsConfirmation,
            })),
          );
          if (anew) await ledger.project(w, o.business, [0, 1, 2, 3].map(phone));
        });
        expect(await CLAIM_COUNTS.differing(platform.db))
          .withContext(JSON.stringify(lot))
          .toBe(0);
      }),
      { numRuns: 60 },
    );
    const lots = await claimLots(platform.db, o.business);
    expect(lots.find((x) => x.intakeId === 'int_a')?.people).toBeGreaterThan(5);
  });

  it('are gone with an intake that is taken back, and stay where another lot claims the same', async () => {
    const spring = await bringIn('spring.csv', 0, 3);
    const again = await bringIn('again.csv', 0, 1);
    expect((await counts(again))?.open)
      .withContext('of one person two lots say it')
      .toBe(1);
    expect((await read()).open.people)
      .withContext('who counts once')
      .toBe(3);
    await o.app.intakes.undo(o.admin, o.business, again);
    await o.settle();
    expect((await read()).items.map((x) => x.id)).toEqual([spring]);
    expect((await counts(spring))?.open).toBe(3);
  });
});
