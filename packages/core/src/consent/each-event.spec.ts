import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { CONFIRM_WITHIN_MS, PURPOSES, type ConsentEvent, type ConsentEventKind, type ConsentState } from './events.js';
import { foldConsent, purposesBeforeLastStop } from './fold.js';
import { canonicalEvent, GENESIS, LedgerVerifier, linkEvent, verifyLedger, type LedgerEvent } from './ledger.js';

const T = 1_000_000_000;
let n = 0;
type Step = [kind: ConsentEventKind | 'asked', at?: number];

/** One after another, a second apart where no moment is said. */
function events(steps: readonly Step[], purposes: ConsentEvent['purposes'] = ['promotional']): ConsentEvent[] {
  return steps.map(([kind, at], i) => ({
    id: `e${String(++n).padStart(6, '0')}`,
    businessId: 'biz_one',
    seq: i + 1,
    e164: '+12125550123',
    purposes,
    kind: kind === 'asked' ? 'granted' : kind,
    awaitsConfirmation: kind === 'asked',
    happenedAt: T + (at ?? i * 1000),
    recordedAt: T,
    how: 'web page',
    disclosure: '',
    disclosureVersion: '',
    evidence: {},
    recordedBy: 'contact',
  }));
}
const after = (steps: readonly Step[], asOf = T + 60_000) => foldConsent(events(steps), asOf).promotional;

describe('what each event makes of each state', () => {
  /** How one gets there. */
  const WAYS: [ConsentState, Step[]][] = [
    ['none', []],
    ['unproven', [['claimed']]],
    ['awaiting', [['asked']]],
    ['granted', [['granted']]],
    ['declined', [['asked'], ['declined']]],
    ['lapsed', [['asked'], ['expired']]],
    ['expired', [['granted'], ['expired']]],
    ['voided', [['granted'], ['voided']]],
    ['disputed', [['granted'], ['disputed']]],
    ['revoked', [['granted'], ['revoked']]],
  ];
  const ALL = WAYS.map(([s]) => s);
  const every = (to: ConsentState, except: Partial<Record<ConsentState, ConsentState>> = {}) =>
    Object.fromEntries(ALL.map((s) => [s, except[s] ?? to])) as Record<ConsentState, ConsentState>;
  const stays = (changes: Partial<Record<ConsentState, ConsentState>>) =>
    Object.fromEntries(ALL.map((s) => [s, changes[s] ?? s])) as Record<ConsentState, ConsentState>;

  const BECOMES: Record<ConsentEventKind | 'asked', Record<ConsentState, ConsentState>> = {
    claimed: stays({ none: 'unproven' }),
    withdrawn: stays({ unproven: 'none' }),
    granted: every('granted'),
    asked: every('awaiting', { granted: 'granted', revoked: 'revoked', disputed: 'disputed', voided: 'voided' }),
    // A YES with nothing asked changes nothing.
    confirmed: stays({ awaiting: 'granted' }),
    declined: stays({ awaiting: 'declined' }),
    expired: stays({ awaiting: 'lapsed', granted: 'expired' }),
    voided: every('voided', { none: 'none' }),
    disputed: every('disputed', { revoked: 'revoked' }),
    revoked: every('revoked'),
  };
  for (const [kind, becomes] of Object.entries(BECOMES))
    it(kind, () => {
      for (const [state, way] of WAYS) {
        expect(after(way).state).withContext(`the way to ${state}`).toBe(state);
        expect(after([...way, [kind as Step[0], 30_000]]).state)
          .withContext(`from ${state}`)
          .toBe(becomes[state]);
      }
    });

  it('names the event that decided, and when', () => {
    const list = events([['granted'], ['claimed'], ['revoked']]);
    const s = foldConsent(list, T + 60_000).promotional;
    expect([s.since, s.eventId]).toEqual([T + 2000, list[2]?.id ?? '']);
    const granted = foldConsent(list, T + 1500).promotional;
    expect([granted.state, granted.since, granted.eventId])
      .withContext('what is still to come counts for nothing')
      .toEqual(['granted', T, list[0]?.id ?? '']);
    expect(foldConsent([], T).promotional).toEqual({ state: 'none', since: null, eventId: null, askedAt: null });
  });

  it('does not depend on the order in which events arrive', () => {
    const list = events([['granted'], ['revoked'], ['granted'], ['disputed']]);
    expect(foldConsent([...list].reverse(), T + 60_000)).toEqual(foldConsent(list, T + 60_000));
    // At one moment, of one kind: the id decides, whoever comes first.
    const [a, b] = events([
      ['granted', 0],
      ['granted', 0],
    ]);
    if (!a || !b) throw new Error('two events');
    expect(foldConsent([b, a], T + 1).promotional.eventId).toBe(b.id);
    expect(foldConsent([a, b], T + 1).promotional.eventId).toBe(b.id);
  });
});

describe('a request for consent', () => {
  it('is open until it is answered or 72 hours have passed, to the millisecond', () => {
    expect(after([['asked']]).askedAt).toBe(T);
    expect(after([['asked']], T + CONFIRM_WITHIN_MS - 1).state).toBe('awaiting');
    const lapsed = after([['asked']], T + CONFIRM_WITHIN_MS);
    expect([lapsed.state, lapsed.since, lapsed.askedAt]).toEqual(['lapsed', T + CONFIRM_WITHIN_MS, null]);
    const late = T + CONFIRM_WITHIN_MS + 10;
    expect(after([['asked'], ['confirmed', CONFIRM_WITHIN_MS - 1]], late).state).toBe('granted');
    expect(after([['asked'], ['confirmed', CONFIRM_WITHIN_MS]], late).state).toBe('lapsed');
  });

  it('of one who left leaves them out, and lets their own YES bring them back', () => {
    const out: Step[] = [['granted'], ['revoked'], ['asked']];
    expect([after(out).state, after(out).askedAt]).toEqual(['revoked', T + 2000]);
    expect(after([...out, ['confirmed']]).state).toBe('granted');
    const lapsed = after(out, T + 2000 + CONFIRM_WITHIN_MS);
    expect([lapsed.state, lapsed.askedAt]).toEqual(['revoked', null]);
  });

  it('is closed by whatever is decided, not by a claim, nor by a YES that answers nothing', () => {
    const askedAfter = (...more: Step[]) => after([['revoked'], ['asked'], ...more]).askedAt;
    expect(askedAfter(['claimed'])).toBe(T + 1000);
    for (const kind of ['granted', 'confirmed', 'declined', 'revoked', 'expired', 'voided', 'disputed'] as const)
      expect(askedAfter([kind]))
        .withContext(kind)
        .toBeNull();
    expect(after([['granted'], ['asked']]).askedAt)
      .withContext('nothing to ask')
      .toBeNull();
    expect(after([['granted'], ['confirmed']]).askedAt).toBeNull();
  });
});

describe('what START brings back', () => {
  const join = (purposes: ConsentEvent['purposes'], at: number) => events([['granted', at]], purposes);
  const leave = (at: number) => events([['revoked', at]], [...PURPOSES]);

  it('is what was in force just before the last leaving that ended something', () => {
    expect(purposesBeforeLastStop([])).toEqual([]);
    expect(purposesBeforeLastStop(join(['promotional'], 0))).toEqual([]);
    expect(purposesBeforeLastStop([...join(['promotional'], 0), ...leave(10)])).toEqual(['promotional']);
    const twice = [
      ...join(['promotional'], 0),
      ...leave(10),
      ...join(['informational'], 20),
      ...leave(30),
      ...leave(40),
    ];
    expect(purposesBeforeLastStop(twice)).toEqual(['informational']);
    expect(purposesBeforeLastStop([...twice].reverse())).toEqual(['informational']);
    const since = [
      ...join(['promotional'], 0),
      ...leave(10),
      ...join(['informational'], 20),
      ...join(['promotional'], 30),
    ];
    expect(purposesBeforeLastStop(since)).withContext('joining is no leaving').toEqual(['promotional']);
    expect(purposesBeforeLastStop([...join(['promotional'], 10), ...leave(10)]))
      .withContext('joined in the same moment')
      .toEqual([]);
  });
});

describe('the proof chain', () => {
  const sha = (t: string): string => createHash('sha256').update(t).digest('hex');
  function chain(count = 5): LedgerEvent[] {
    let prev = GENESIS;
    return events(Array.from({ length: count }, (): Step => ['granted'])).map((e) => {
      const linked = linkEvent(e, prev, sha);
      prev = linked.hash;
      return linked;
    });
  }
  const verdict = (list: LedgerEvent[], heads: { count: number; head: string }[] = []) =>
    verifyLedger(list, sha, heads);
  const fault = (list: LedgerEvent[], heads: { count: number; head: string }[] = []) => {
    const v = verdict(list, heads);
    return v.ok ? 'none' : `${v.reason} at ${v.brokenAt}`;
  };

  it('is whole, and says how long it is and where it ends', () => {
    const list = chain();
    expect(verdict(list)).toEqual({ ok: true, count: 5, head: list[4]?.hash ?? '' });
    expect(verdict([])).toEqual({ ok: true, count: 0, head: GENESIS });
    expect(fault(list, [{ count: 3, head: list[2]?.hash ?? '' }])).toBe('none');
  });

  it('names each fault where it stands', () => {
    const list = chain();
    expect(fault(list.filter((e) => e.seq !== 3))).toBe('sequence at 3');
    expect(fault(list.map((e) => (e.seq === 3 ? { ...e, disclosure: 'changed' } : e)))).toBe('content at 3');
    expect(fault(list.map((e) => (e.seq === 3 ? { ...e, businessId: 'biz_two' } : e)))).toBe('business at 3');
    // Changed and hashed again: it is whole in itself, but the next does not follow it.
    const rehashed = list.map((e) => (e.seq === 3 ? linkEvent({ ...e, disclosure: 'changed' }, e.prevHash, sha) : e));
    expect(fault(rehashed)).toBe('link at 4');
    // Two events that change places, renumbered and hashed again, do not follow what stands before them.
    const elsewhere = linkEvent({ ...(list[3] as LedgerEvent), seq: 3 }, list[0]?.hash ?? '', sha);
    expect(fault([list[0], list[1], elsewhere] as LedgerEvent[])).toBe('link at 3');
    // Written anew from the third on: only the signed head shows it.
    let prev = list[1]?.hash ?? '';
    const anew = list.map((e) => {
      if (e.seq < 3) return e;
      const linked = linkEvent({ ...e, disclosure: 'anew' }, prev, sha);
      prev = linked.hash;
      return linked;
    });
    expect(fault(anew)).toBe('none');
    expect(fault(anew, [{ count: 4, head: list[3]?.hash ?? '' }])).toBe('head at 4');
    expect(fault(list.slice(0, 3), [{ count: 5, head: list[4]?.hash ?? '' }])).toBe('tail at 4');
  });

  it('says of an event that cannot be read which one it is', () => {
    const verifier = new LedgerVerifier(sha, [], 'biz_one');
    expect(verifier.take(chain()[0] as LedgerEvent)).toBeNull();
    expect(verifier.unreadable('no JSON')).toEqual({
      ok: false,
      brokenAt: 2,
      eventId: '',
      reason: 'unreadable',
      message: 'Event 2 cannot be read: no JSON',
    });
    const other = new LedgerVerifier(sha, [], 'biz_two').take(chain()[0] as LedgerEvent);
    expect(other && !other.ok && other.reason).toBe('business');
  });

  it('does not depend on the order in which evidence was written down', () => {
    const [e] = events([['granted']]);
    if (!e) throw new Error('an event');
    const one = canonicalEvent({ ...e, evidence: { ip: '192.0.2.1', agent: 'x', page: 'p' } });
    expect(canonicalEvent({ ...e, evidence: { page: 'p', ip: '192.0.2.1', agent: 'x' } })).toBe(one);
    expect(one).toContain('"evidence":{"agent":"x","ip":"192.0.2.1","page":"p"}');
  });

  it('is the JSON of the event to the letter, whatever its words are made of', () => {
    const [e] = events([['granted']], ['informational', 'promotional']);
    if (!e) throw new Error('an event');
    const odd = ['', 'plain', 'a "b" \\ c', 'línea\nnueva', '\u0000\u001f\u007f', '\u2028', '🛟', '\ud83d', ' !#[]~'];
    const all = fc.oneof(fc.constantFrom(...odd), fc.string(), fc.string({ unit: 'binary' }));
    fc.assert(
      fc.property(all, all, all, all, (disclosure, disclosureVersion, recordedBy, value) => {
        const event = { ...e, disclosure, disclosureVersion, evidence: { agent: value }, recordedBy };
        expect(canonicalEvent(event)).toBe(JSON.stringify(event));
      }),
      { numRuns: 300 },
    );
    for (const words of odd)
      expect(canonicalEvent({ ...e, disclosure: words })).toBe(JSON.stringify({ ...e, disclosure: words }));
  });
});
