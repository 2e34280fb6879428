import fc from 'fast-check';
import { CONSENT_EVENT_KINDS, PURPOSES, type ConsentEvent } from './events.js';
import { foldConsent } from './fold.js';
import { lastConsentAt } from './reassigned.js';

type Said = Pick<ConsentEvent, 'id' | 'kind' | 'purposes' | 'awaitsConfirmation' | 'happenedAt'>;
let n = 0;
const said = (kind: Said['kind'], happenedAt: number, more: Partial<Said> = {}): Said => ({
  id: `e${String(n++).padStart(4, '0')}`,
  kind,
  purposes: ['promotional'],
  awaitsConfirmation: false,
  happenedAt,
  ...more,
});
const last = (events: readonly Said[], asOf = 1000): number | null =>
  lastConsentAt(events, foldConsent(events, asOf), asOf);

describe('the date by which the reassigned numbers database is asked', () => {
  it('is that of the newest word by which somebody agreed to what is in force', () => {
    expect(last([said('granted', 10), said('granted', 50)])).toBe(50);
    expect(last([said('granted', 10, { awaitsConfirmation: true }), said('confirmed', 30)])).toBe(30);
    expect(last([said('granted', 10, { purposes: ['informational'] }), said('granted', 40)])).toBe(40);
  });

  it('is none where nothing is in force: never agreed, left, awaited, only claimed, for answers alone', () => {
    expect(last([])).toBeNull();
    expect(last([said('granted', 10), said('revoked', 20, { purposes: [...PURPOSES] })])).toBeNull();
    expect(last([said('granted', 10, { awaitsConfirmation: true })])).toBeNull();
    expect(last([said('claimed', 10)])).toBeNull();
    expect(last([said('granted', 10, { purposes: ['conversational'] })])).toBeNull();
  });

  it('is never moved on by a word that did not agree to what is in force', () => {
    // What they agreed to later is out of force again; what stands is the older word.
    expect(
      last([
        said('granted', 10, { purposes: ['informational'] }),
        said('granted', 40),
        said('revoked', 50, { purposes: ['promotional'] }),
      ]),
    ).toBe(10);
    expect(last([said('granted', 10), said('claimed', 60)])).toBe(10);
    expect(last([said('granted', 10), said('granted', 60, { awaitsConfirmation: true })])).toBe(10);
    expect(last([said('granted', 10), said('granted', 2000)]))
      .withContext('dated after the moment of asking')
      .toBe(10);
  });

  it('is a moment at which somebody agreed, at or after the one that decides, whatever else there is', () => {
    const one = fc.record({
      kind: fc.constantFrom(...CONSENT_EVENT_KINDS),
      at: fc.integer({ min: 0, max: 60 }),
      purposes: fc.subarray([...PURPOSES], { minLength: 1 }),
      waits: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 10 }), (list) => {
        const events = list.map((l) => said(l.kind, l.at, { purposes: l.purposes, awaitsConfirmation: l.waits }));
        const states = foldConsent(events, 50);
        const at = lastConsentAt(events, states, 50);
        const inForce = (['informational', 'promotional'] as const).filter((p) => states[p].state === 'granted');
        expect(at === null).toBe(inForce.length === 0);
        if (at === null) return;
        for (const p of inForce) expect(at).toBeGreaterThanOrEqual(states[p].since ?? 0);
        expect(
          events.some(
            (e) =>
              e.happenedAt === at &&
              (e.kind === 'granted' || e.kind === 'confirmed') &&
              inForce.some((p) => e.purposes.includes(p)),
          ),
        ).toBeTrue();
      }),
    );
  });
});
