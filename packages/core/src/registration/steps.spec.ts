import { registrationSteps, STEPS, type StepFacts } from './steps.js';

const DONE: StepFacts = {
  account: 'open',
  brand: { state: 'registered', form: 'private company', score: 62, submittedAt: 1, decidedAt: 2 },
  campaigns: [{ state: 'registered', submittedAt: 3, decidedAt: 4 }],
  numbers: [{ kind: 'local', tie: 'attached', cleared: true }],
  senderIds: [],
};
/** Each step in short: its weight, its words, on whom it waits. */
const of = (over: Partial<StepFacts>): Record<string, string> =>
  Object.fromEntries(
    registrationSteps({ ...DONE, ...over }).map((s) => [
      s.step,
      [s.weight, s.words, s.waitsOn].filter(Boolean).join(', '),
    ]),
  );

describe('the steps of a registration', () => {
  it('are one answer each, in their order, and wait on nobody where all is done', () => {
    expect(registrationSteps(DONE).map((s) => s.step)).toEqual([...STEPS]);
    expect(of({})).toEqual({
      account: 'pass, open',
      identity: 'pass, verified',
      brand: 'pass, verified',
      vetting: 'pass, score 62',
      campaigns: 'pass, 1 registered',
      numbers: 'pass, 1 cleared',
      'toll-free': 'none, none',
      'sender IDs': 'none, none',
    });
  });

  it('wait on you, the provider, the registrar or the networks', () => {
    expect(of({ account: 'provisional' })['account']).toBe('stop, provisional, you');
    expect(of({ account: 'in review' })['account']).toBe('hold, looked at, the provider');
    expect(of({ account: 'suspended' })['account']).toBe('stop, suspended, the provider');
    const brand = (state: 'draft' | 'in review' | 'declined') => of({ brand: { ...DONE.brand, state } });
    expect(brand('draft')).toEqual(
      jasmine.objectContaining({ brand: 'note, draft, you', vetting: 'none, after the brand' }),
    );
    expect(of({ brand: { ...DONE.brand, state: 'draft', toMend: 3 } })['identity']).toBe('stop, 3 to mend, you');
    expect(brand('draft')['identity']).toBe('pass, complete');
    expect(brand('in review')['brand']).toBe('hold, in review, the registrar');
    expect(brand('declined')['brand']).toBe('stop, declined, you');
    expect(of({ brand: { ...DONE.brand, state: 'in review', confirmationLapsed: true } })['brand']).toBe(
      'stop, owner did not answer, you',
    );
    const tied = (...ties: ('none' | 'attaching' | 'attached')[]) =>
      of({ numbers: ties.map((tie) => ({ kind: 'local', tie, cleared: tie === 'attached' })) })['numbers'];
    expect(tied('attached', 'none')).toBe('stop, 1 of 2 not tied, you');
    expect(tied('attached', 'attaching')).toBe('hold, 1 of 2 being tied, the networks');
    expect(tied()).toBe('note, none yet, you');
  });

  it('say the worst of campaigns, and since when', () => {
    const c = (state: 'draft' | 'in review' | 'registered' | 'declined', at: number) => ({
      state,
      submittedAt: at,
      decidedAt: at + 1,
    });
    const step = (...campaigns: StepFacts['campaigns'][number][]) => {
      const s = registrationSteps({ ...DONE, campaigns }).find((x) => x.step === 'campaigns');
      return [s?.weight, s?.words, s?.since];
    };
    expect(step(c('registered', 1), c('declined', 30), c('declined', 20), c('in review', 5))).toEqual([
      'stop',
      '2 of 4 declined',
      21,
    ]);
    expect(step(c('registered', 1), c('in review', 9), c('in review', 5))).toEqual(['hold', '2 of 3 in review', 5]);
    expect(step(c('declined', 1), { ...c('registered', 1), state: 'suspended', haltedAt: 44 })).toEqual([
      'stop',
      '1 of 2 suspended',
      44,
    ]);
    expect(step({ ...c('registered', 1), state: 'expired', haltedAt: 50 })).toEqual(['stop', '1 of 1 expired', 50]);
    expect(step(c('draft', 1), c('registered', 1))).toEqual(['note', '1 draft', null]);
    expect(step()).toEqual(['note', 'none yet', null]);
    expect(of({ brand: { ...DONE.brand, state: 'draft' }, campaigns: [] })['campaigns']).toBe('none, after the brand');
  });

  it('ask no vetting of a sole proprietor, and tell toll-free numbers and sender IDs apart', () => {
    expect(of({ brand: { ...DONE.brand, form: 'sole proprietor', score: null } })['vetting']).toBe(
      'none, not for this form',
    );
    expect(of({ brand: { ...DONE.brand, score: null } })['vetting']).toBe('note, not vetted, you');
    expect(of({ brand: { ...DONE.brand, vettingSince: 7 } })['vetting']).toBe('hold, being vetted, the registrar');
    const free = (state: 'draft' | 'in review' | 'registered' | 'declined') =>
      of({ tollFree: [{ state, submittedAt: 1, decidedAt: 2 }] });
    expect(free('draft')).toEqual(
      jasmine.objectContaining({ numbers: 'pass, 1 cleared', 'toll-free': 'stop, not verified, you' }),
    );
    expect(free('in review')['toll-free']).toBe('hold, being verified, the registrar');
    expect(free('registered')['toll-free']).toBe('pass, 1 verified');
    const ids = (...states: string[]) => of({ senderIds: states.map((state) => ({ state })) })['sender IDs'];
    expect(ids('free')).toBe('pass, in one country');
    expect(ids('free', 'registered', 'not asked')).toBe('pass, in 2 countries');
    expect(ids('free', 'in review')).toBe('hold, in review in 1, the registrar');
    expect(ids('refused', 'in review')).toBe('stop, refused in 1, you');
    expect(free('declined')['toll-free']).toBe('stop, declined, you');
    expect(ids('not asked')).toBe('note, asked for nowhere, you');
  });
});
