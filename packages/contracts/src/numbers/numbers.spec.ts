import { CallHandlingShape } from './calls.js';
import { INVENTORY_FACETS } from './inventory-filters.js';
import { searchNumbers, type NumberView } from './numbers.js';
import { PortFactsShape, signLetter, uploadPortDocument } from './porting.js';

const problems = (result: {
  success: boolean;
  error?: { issues: { path: PropertyKey[]; message: string }[] };
}): string[] => (result.success ? [] : (result.error?.issues ?? []).map((i) => `${i.path.join('.')}: ${i.message}`));

describe('the contracts of numbers', () => {
  it('wants something to look for, and an area code that can be one', () => {
    const ask = (q: object): string[] => problems(searchNumbers.query.safeParse(q));
    expect(ask({})).toEqual(['where: Name an area code such as 551, a town, a state, or digits.']);
    expect(ask({ where: '12' })).toEqual(['where: An area code has three digits and begins with 2 to 9.']);
    expect(ask({ where: 'New Jersey' })).toEqual([]);
    expect(ask({ digits: 'BOAT' })).toEqual([]);
    expect(ask({ kind: 'short code' })).toEqual([]);
    expect(ask({ where: '551', count: '0' }).length).toBe(1);
  });

  it('takes days that exist, and no others', () => {
    const facts = (oldServiceEnds: string): string[] => problems(PortFactsShape.safeParse({ oldServiceEnds }));
    expect(facts('')).toEqual([]);
    expect(facts('2028-02-29')).toEqual([]);
    expect(facts('2027-02-29').length).toBe(1);
    expect(facts('12.3.2027').length).toBe(1);
    expect(
      problems(uploadPortDocument.body.safeParse({ what: 'bill', name: 'b.pdf', base64: 'x', dated: 'soon' })).length,
    ).toBe(1);
  });

  it('says how each kind of number is registered, for its facet', () => {
    const of = (n: Partial<NumberView>): unknown =>
      INVENTORY_FACETS.registration.of({ kind: 'local', state: 'active', campaignName: 'News', ...n } as NumberView);
    expect(of({ campaignState: 'registered', tieState: 'attached' })).toBe('confirmed');
    expect(of({ campaignState: 'registered', tieState: 'attaching' })).toBe('networks confirming');
    for (const campaignState of ['declined', 'suspended', 'expired'])
      expect(of({ campaignState, tieState: 'attached' })).toBe(`campaign ${campaignState}`);
    const free = (clearance: string): unknown => of({ kind: 'toll-free', campaignName: null, clearance });
    expect(['cleared', 'registration-pending', 'registration-declined', 'number-not-verified'].map(free)).toEqual([
      'verified',
      'being verified',
      'verification declined',
      'not verified',
    ]);
  });

  it('signs only with a name and the word that one may', () => {
    const sign = (b: object): string[] => problems(signLetter.body.safeParse(b));
    expect(sign({ name: 'Bram Oakenshaw', agreed: true })).toEqual([]);
    expect(sign({ name: '', agreed: false })).toEqual([
      'name: Write your full name.',
      'agreed: Tick that you may decide about this account.',
    ]);
    expect(sign({ name: 'Bram', agreed: true, drawn: 'data:text/html;base64,AA' })).toEqual([
      'drawn: The drawing could not be read.',
    ]);
  });

  it('lets a greeting invite only when it says press 1, and into a list that is named', () => {
    const greet = (greeting: string, list = 'Callers'): string[] =>
      problems(CallHandlingShape.safeParse({ way: 'greet', greeting, invites: true, list }));
    expect(greet('To get order texts press 1. Reply STOP at any time to end.')).toEqual([]);
    expect(greet('Welcome to the bakery, we open at seven.')).toEqual([
      'greeting: An invitation has to say “press 1” and what for.',
    ]);
    expect(greet('To get order texts press 1. Reply STOP to end.', '')).toEqual(['list: Name the list they join.']);
    expect(problems(CallHandlingShape.safeParse({ way: 'forward' }))).toEqual(['forwardTo: Say where calls go.']);
  });
});
