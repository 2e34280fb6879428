import fc from 'fast-check';
import { createHash } from 'node:crypto';
import { CONSENT_EVENT_KINDS, CONFIRM_WITHIN_MS, PURPOSES, type ConsentEvent } from './events.js';
import { foldConsent, purposesBeforeLastStop } from './fold.js';
import { GENESIS, linkEvent, verifyLedger, type LedgerEvent } from './ledger.js';

const sha = (t: string): string => createHash('sha256').update(t).digest('hex');
let n = 0;
function event(over: Partial<ConsentEvent>): ConsentEvent {
  n++;
  return {
    id: `e${n}`,
    businessId: 'b',
    seq: n,
    e164: '+12015550142',
    purposes: ['promotional'],
    kind: 'granted',
    awaitsConfirmation: false,
    happenedAt: n * 1000,
    recordedAt: n * 1000,
    how: 'web page',
    disclosure: 'I agree to “offers”',
    disclosureVersion: '1',
    evidence: { ip: '192.0.2.1', agent: 'test' },
    recordedBy: 'contact',
    ...over,
  };
}

describe('foldConsent', () => {
  it('keeps purposes apart', () => {
    const s = foldConsent([event({ purposes: ['informational'], happenedAt: 1 })], 10);
    expect(s.informational.state).toBe('granted');
    expect(s.promotional.state).toBe('none');
  });
  it('waits for the YES of a double opt-in, and lets it lapse after 72 hours', () => {
    const asked = event({ awaitsConfirmation: true, happenedAt: 0 });
    expect(foldConsent([asked], 1000).promotional.state).toBe('awaiting');
    expect(foldConsent([asked], CONFIRM_WITHIN_MS).promotional.state).toBe('lapsed');
    expect(foldConsent([asked, event({ kind: 'confirmed', happenedAt: 5000 })], 6000).promotional.state).toBe(
      'granted',
    );
    expect(
      foldConsent([asked, event({ kind: 'confirmed', happenedAt: CONFIRM_WITHIN_MS + 1 })], CONFIRM_WITHIN_MS + 2)
        .promotional.state,
    ).toBe('lapsed');
  });
  it('lets nobody else change what the owner of a number has said: out stays out until their own YES', () => {
    const out = event({ kind: 'revoked', purposes: [...PURPOSES], happenedAt: 1000 });
    const joined = event({ purposes: ['promotional'], happenedAt: 500 });
    const filledIn = event({ awaitsConfirmation: true, happenedAt: 2000 });
    const asked = foldConsent([joined, out, filledIn], 3000).promotional;
    expect([asked.state, asked.askedAt]).toEqual(['revoked', 2000]);
    const yes = event({ kind: 'confirmed', how: 'reply', happenedAt: 2500 });
    expect(foldConsent([joined, out, filledIn, yes], 3000).promotional.state).toBe('granted');
    // A lapse leaves them out, and able to come back with START to what they had.
    const late = 2000 + CONFIRM_WITHIN_MS;
    const lapsed = foldConsent([joined, out, filledIn], late).promotional;
    expect([lapsed.state, lapsed.askedAt]).toEqual(['revoked', null]);
    expect(purposesBeforeLastStop([joined, out, filledIn])).toEqual(['promotional']);
    const tooLate = event({ kind: 'confirmed', how: 'reply', happenedAt: late });
    expect(foldConsent([joined, out, filledIn, tooLate], late).promotional.state).toBe('revoked');
    // A YES without anything asked confirms nothing.
    expect(foldConsent([joined, out, yes], 3000).promotional.state).toBe('revoked');
  });
  it('lets the stricter win at equal times', () => {
    const at = 5000;
    expect(
      foldConsent([event({ kind: 'revoked', happenedAt: at }), event({ kind: 'granted', happenedAt: at })], at)
        .promotional.state,
    ).toBe('revoked');
  });
  it('never opens on a claim without proof', () => {
    expect(foldConsent([event({ kind: 'claimed', happenedAt: 1 })], 10).promotional.state).toBe('unproven');
    expect(
      foldConsent([event({ kind: 'revoked', happenedAt: 1 }), event({ kind: 'claimed', happenedAt: 2 })], 10)
        .promotional.state,
    ).toBe('revoked');
  });
  it('forgets a claim that was withdrawn, and nothing else', () => {
    const claimed = event({ kind: 'claimed', happenedAt: 1 });
    const withdrawn = event({ kind: 'withdrawn', happenedAt: 5 });
    expect(foldConsent([claimed, withdrawn], 10).promotional).toEqual({
      state: 'none',
      since: null,
      eventId: null,
      askedAt: null,
    });
    expect(foldConsent([claimed, withdrawn], 3).promotional.state)
      .withContext('as of before')
      .toBe('unproven');
    expect(foldConsent([claimed, withdrawn, event({ kind: 'claimed', happenedAt: 7 })], 10).promotional.state).toBe(
      'unproven',
    );
    for (const kind of ['granted', 'revoked', 'disputed', 'voided'] as const)
      expect(foldConsent([claimed, event({ kind, happenedAt: 3 }), withdrawn], 10).promotional.state).toBe(
        kind === 'granted' ? 'granted' : kind,
      );
    const asked = event({ kind: 'granted', awaitsConfirmation: true, happenedAt: 2 });
    expect(foldConsent([claimed, asked, withdrawn], 10).promotional.askedAt)
      .withContext('a YES still answers')
      .toBe(2);
  });
  it('does not depend on the order of arrival', () => {
    const one = fc.record({
      kind: fc.constantFrom(...CONSENT_EVENT_KINDS),
      at: fc.integer({ min: 0, max: 50 }),
      purposes: fc.subarray([...PURPOSES], { minLength: 1 }),
      waits: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 12 }), fc.infiniteStream(fc.nat()), (list, noise) => {
        const events = list.map((l, i) => ({
          id: `x${String(i).padStart(3, '0')}`,
          kind: l.kind,
          purposes: l.purposes,
          awaitsConfirmation: l.waits,
          happenedAt: l.at,
        }));
        const shuffled = [...events]
          .map((e) => ({ e, k: noise.next().value as number }))
          .sort((a, b) => a.k - b.k)
          .map((x) => x.e);
        expect(foldConsent(shuffled, 100)).toEqual(foldConsent(events, 100));
      }),
    );
  });
  it('remembers what was in force when the person left', () => {
    const list = [
      event({ purposes: ['informational'], happenedAt: 1 }),
      event({ kind: 'revoked', purposes: [...PURPOSES], happenedAt: 2 }),
      event({ kind: 'revoked', purposes: [...PURPOSES], happenedAt: 3 }),
    ];
    expect(purposesBeforeLastStop(list)).toEqual(['informational']);
  });
});

describe('the ledger', () => {
  function chain(count: number): LedgerEvent[] {
    const out: LedgerEvent[] = [];
    let prev = GENESIS;
    for (let i = 1; i <= count; i++) {
      const e = linkEvent(event({ id: `c${i}`, seq: i }), prev, sha);
      out.push(e);
      prev = e.hash;
    }
    return out;
  }
  it('verifies when whole', () => {
    const c = chain(20);
    expect(verifyLedger(c, sha)).toEqual({ ok: true, count: 20, head: c[19]?.hash ?? '' });
  });
  it('names the first broken link whatever is changed', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 9 }),
        fc.constantFrom('disclosure', 'happenedAt', 'purposes', 'evidence', 'remove', 'swap'),
        (i, what) => {
          const c = chain(10);
          const victim = c[i] as LedgerEvent;
          if (what === 'disclosure') c[i] = { ...victim, disclosure: 'something else' };
          if (what === 'happenedAt') c[i] = { ...victim, happenedAt: victim.happenedAt + 1 };
          if (what === 'purposes') c[i] = { ...victim, purposes: ['informational'] };
          if (what === 'evidence') c[i] = { ...victim, evidence: { ...victim.evidence, ip: '192.0.2.2' } };
          if (what === 'remove') c.splice(i, 1);
          if (what === 'swap') c.splice(i, 2, ...c.slice(i, i + 2).reverse());
          const v = verifyLedger(c, sha);
          const last = i === 9 && (what === 'remove' || what === 'swap');
          if (last) expect(v.ok).toBe(true);
          else expect(v).toEqual(jasmine.objectContaining({ ok: false, brokenAt: i + 1 }));
        },
      ),
    );
  });

  describe('beside its signed heads', () => {
    const forged = (whole: readonly LedgerEvent[], from: number): LedgerEvent[] => {
      // Somebody who knows how it is made changes one event and all hashes after it.
      const out: LedgerEvent[] = [];
      let prev = GENESIS;
      for (const e of whole) {
        const next = linkEvent(e.seq === from ? { ...e, disclosure: 'something else' } : e, prev, sha);
        out.push(next);
        prev = next.hash;
      }
      return out;
    };
    const headOf = (c: readonly LedgerEvent[], count: number): { count: number; head: string } => ({
      count,
      head: c[count - 1]?.hash ?? '',
    });
    it('shows a chain that was written anew with all its hashes', () => {
      const whole = chain(10);
      const heads = [headOf(whole, 4), headOf(whole, 8)];
      expect(verifyLedger(whole, sha, heads).ok).toBe(true);
      expect(verifyLedger(forged(whole, 6), sha).ok)
        .withContext('the chain by itself')
        .toBe(true);
      expect(verifyLedger(forged(whole, 6), sha, heads)).toEqual(
        jasmine.objectContaining({ ok: false, brokenAt: 8, reason: 'head' }),
      );
      expect(verifyLedger(forged(whole, 2), sha, heads)).toEqual(
        jasmine.objectContaining({ ok: false, brokenAt: 4, reason: 'head' }),
      );
    });
    it('shows an end that was cut off, wherever', () => {
      const whole = chain(10);
      for (let cut = 0; cut < 8; cut++)
        expect(verifyLedger(whole.slice(0, cut), sha, [headOf(whole, 8)]))
          .withContext(`cut to ${cut}`)
          .toEqual(jasmine.objectContaining({ ok: false, brokenAt: cut + 1, reason: 'tail' }));
      expect(verifyLedger(whole.slice(0, 8), sha, [headOf(whole, 8)]).ok).toBe(true);
    });
    it('knows an event of another business in the chain', () => {
      const whole = chain(3);
      const strange = linkEvent(event({ id: 'c4', seq: 4, businessId: 'other' }), whole[2]?.hash ?? '', sha);
      expect(verifyLedger([...whole, strange], sha)).toEqual(
        jasmine.objectContaining({ ok: false, brokenAt: 4, reason: 'business' }),
      );
    });
  });
});
