import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type OpenPage } from '../../../../../testing/open-page';
import { ApiProblem } from '../../../../api/api';
import { SignPage } from './sign';

const letter = {
  business: 'Northbank Seeds',
  holderName: 'Northbank Seed Library',
  authorisedName: 'Bram Oakenshaw',
  losingCarrier: 'Harth Telephone',
  address: '18 Millrace Lane',
  numbers: ['+16095550110'],
  paragraphs: ['I authorise the change of these numbers.'],
  signed: false,
  signedBy: '',
  today: '2027-03-12',
};

describe('the page of a letter to sign', () => {
  let p: OpenPage;
  const open = async (over: object = {}): Promise<void> => {
    p = await openPage(
      SignPage,
      { 'public.letter': letter, 'public.sign': { done: true }, ...over },
      { path: 'sign/:token', at: '/sign/abc' },
    );
  };
  afterEach(() => closePage(p));

  it('shows what is signed, to the word', async () => {
    await open();
    for (const words of ['Northbank Seed Library', 'Harth Telephone', '+1 609-555-0110', letter.paragraphs[0] ?? ''])
      expect(p.text()).toContain(words);
  });

  it('says everything that is missing at once, and signs nothing', async () => {
    await open();
    await p.press('Sign the letter');
    expect(document.getElementById('name-wrong')?.textContent?.trim()).toBe('Write your full name.');
    expect(p.text()).toContain('Tick that you may decide about this account.');
    expect(p.text()).toContain('2 fields are to be mended.');
    expect(document.activeElement?.id).toBe('name');
    expect(p.api.of('public.sign')).toEqual([]);
  });

  it('is signed by a typed name alone', async () => {
    await open();
    await p.fill('name', 'Bram Oakenshaw');
    await (await p.loader.getHarness(MatCheckboxHarness)).check();
    await p.press('Sign the letter');
    expect(p.api.of('public.sign').map((a) => [a.params['token'], a.body])).toEqual([
      ['abc', { name: 'Bram Oakenshaw', agreed: true, drawn: '' }],
    ]);
    expect(p.text()).toContain('Thank you, it is signed');
  });

  it('says what to do where the link is good for nothing', async () => {
    await open({
      'public.letter': new ApiProblem(410, 'link-expired', 'It is over. Ask Heron Lane for a new one.', []),
    });
    expect(p.text()).toContain('This link is not good any more');
    expect(p.text()).toContain('Ask Heron Lane for a new one.');
  });
});
