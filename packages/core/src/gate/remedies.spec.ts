import { REASONS, type ReasonCode } from './posts/index.js';
import { remediesOf } from './remedies.js';

describe('the remedies of a reason', () => {
  const by = (word: RegExp): ReasonCode[] =>
    (Object.keys(REASONS) as ReasonCode[]).filter((r) => word.test(REASONS[r].lift));

  it('offer a lookup wherever a new answer about the line would lift it, and nowhere else', () => {
    const offered = (Object.keys(REASONS) as ReasonCode[]).filter((r) => remediesOf(r).includes('look up'));
    expect(offered.sort()).toEqual(by(/^its lookup$|^ask again$/).sort());
  });

  it('have nobody asked who opted out, declined, or disputes what is on file', () => {
    const never: ReasonCode[] = [
      'opted-out',
      'refused-at-carrier',
      'consent-declined',
      'consent-disputed',
      'wish-in-review',
    ];
    expect(never.flatMap(remediesOf)).toEqual([]);
  });

  it('query anew wherever it is not known whether the number changed hands', () => {
    const offered = (Object.keys(REASONS) as ReasonCode[]).filter((r) => remediesOf(r).includes('query'));
    expect(offered.sort()).toEqual(by(/^the answer$|^a later query/).sort());
  });

  it('file a form where a claim has no proof', () => {
    expect(remediesOf('consent-unproven')).toContain('file a form');
    expect(REASONS['consent-unproven'].lift).toContain('file the form');
  });
});
