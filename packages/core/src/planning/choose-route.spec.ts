import fc from 'fast-check';
import { chooseRoute, type RouteQuestion } from './choose-route.js';

const Q: RouteQuestion = {
  kind: 'landline',
  carrier: 'Harth Telephone',
  portable: true,
  whyNotPortable: '',
  enabledElsewhere: '',
  voiceStays: false,
  wellKnown: true,
  neededWithin: 'weeks',
};

describe('the route chooser', () => {
  const first = (q: Partial<RouteQuestion>): string => chooseRoute({ ...Q, ...q })[0]?.way ?? '';

  it('has four different answers', () => {
    expect(first({})).toBe('port in');
    expect(first({ voiceStays: true })).toBe('text-enable');
    expect(first({ kind: 'wireless', voiceStays: true })).toBe('forward only');
    expect(first({ kind: 'wireless', voiceStays: true, wellKnown: false })).toBe('new number');
  });

  it('does not wait for a slow port where texts are needed in days', () => {
    expect(first({ neededWithin: 'days' })).toBe('text-enable');
    expect(first({ neededWithin: 'days', enabledElsewhere: 'Somebody' })).toBe('forward only');
    expect(first({ kind: 'wireless', neededWithin: 'days' }))
      .withContext('a simple port takes a day or so')
      .toBe('port in');
  });

  it('says why a way is closed', () => {
    const all = chooseRoute({ ...Q, kind: 'wireless', portable: false, whyNotPortable: 'No rate centre.' });
    expect(all.find((r) => r.way === 'port in')?.why).toBe('No rate centre.');
    expect(all.find((r) => r.way === 'text-enable')?.why).toContain('mobile in use');
  });

  it('lays all four side by side, the first one possible, whatever is asked', () => {
    fc.assert(
      fc.property(
        fc.record({
          kind: fc.constantFrom('wireless', 'landline', 'toll-free'),
          portable: fc.boolean(),
          enabledElsewhere: fc.constantFrom('', 'Somebody'),
          voiceStays: fc.boolean(),
          wellKnown: fc.boolean(),
          neededWithin: fc.constantFrom('days', 'weeks', 'months'),
        }),
        (q) => {
          const all = chooseRoute({ ...Q, ...q });
          expect(new Set(all.map((r) => r.way)).size).toBe(4);
          expect(all[0]?.possible).toBeTrue();
        },
      ),
    );
  });
});
