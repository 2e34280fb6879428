import { obstacleTo } from './obstacle';

const business = { accountState: 'open' as const, balance: 20_000_000 };
const all = { business, cost: 15_000_000, blocking: 0, brand: 'registered' };

describe('what keeps a filing from being submitted', () => {
  it('is nothing where all is there', () => {
    expect(obstacleTo(all)).toBe('');
    expect(obstacleTo({ ...all, brand: undefined })).toBe('');
  });

  it('is said before it is pressed: what is to mend, the account, the brand, the money', () => {
    expect(obstacleTo({ ...all, blocking: 2 })).toBe('2 to mend');
    expect(obstacleTo({ ...all, business: { ...business, accountState: 'provisional' } })).toBe(
      'open the account first',
    );
    for (const brand of ['draft', 'in review', 'declined'])
      expect(obstacleTo({ ...all, brand }))
        .withContext(brand)
        .toBe('register the brand first');
    expect(obstacleTo({ ...all, emailMissing: true })).toBe('confirm the brand’s e-mail first');
    expect(obstacleTo({ ...all, cost: 46_000_000 })).toBe('top up 26.00 first');
    expect(obstacleTo({ ...all, cost: 20_000_000 }))
      .withContext('to the last cent')
      .toBe('');
  });
});
