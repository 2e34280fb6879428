import { INVENTORY_FACETS, isInInventory, isSearchedFor } from './inventory-filters.js';
import type { NumberView } from './numbers.js';

const number = (over: Partial<NumberView>): NumberView =>
  ({
    e164: '+12015550142',
    label: 'Quay 7, ticket counter',
    kind: 'local',
    capabilities: ['send', 'receive'],
    source: 'bought',
    state: 'active',
    ended: '',
    orderId: '',
    campaignName: 'Service notices',
    campaignState: 'registered',
    tieState: 'attached',
    deciding: null,
    ...over,
  }) as NumberView;

describe('the inventory’s filters', () => {
  it('look for digits in a row of the number, and for words with a letter in labels', () => {
    const found = (q: string, over: Partial<NumberView> = {}) => isSearchedFor(number(over), { q });
    expect([found('555-01'), found('(201) 555'), found('0142')]).toEqual([true, true, true]);
    expect(found('2142')).withContext('digits that do not stand in a row').toBeFalse();
    expect(found('7')).withContext('the 7 of the label is no digit of the number').toBeFalse();
    expect([found('quay 7'), found('service'), found('Quay 8')]).toEqual([true, true, false]);
    expect(found('q0142')).withContext('a word is no number').toBeFalse();
    expect(found('heronl', { e164: 'HERONLANE', kind: 'sender ID' })).toBeTrue();
  });

  it('know how the registration of each kind stands', () => {
    const of = (over: Partial<NumberView>) => INVENTORY_FACETS.registration.of(number(over));
    expect(of({})).toBe('confirmed');
    expect(of({ tieState: 'attaching' })).toBe('networks confirming');
    expect(of({ campaignName: null })).toBe('in no campaign');
    expect(of({ campaignState: 'declined' })).toBe('campaign declined');
    expect(of({ kind: 'short code', state: 'ordered' })).toBe('programme in review');
  });

  it('narrow by each ability, and keep what ended in a facet of its own', () => {
    expect(isInInventory(number({}), { can: 'receive~voice' })).toBeTrue();
    expect(isInInventory(number({}), { can: 'voice' })).toBeFalse();
    const gone = number({ state: 'released', ended: 'ported away' });
    expect(isInInventory(gone, { ended: 'ported away' })).toBeTrue();
    expect(isInInventory(number({}), { ended: 'ported away' })).toBeFalse();
    expect(isInInventory(gone, { may: 'not yet' }))
      .withContext('it never will')
      .toBeFalse();
  });
});
