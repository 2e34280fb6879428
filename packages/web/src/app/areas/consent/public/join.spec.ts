import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { Join } from './join';

const PAGE = {
  slug: 'heron',
  business: 'Heron Lane',
  title: 'Bread by text',
  intro: 'What comes out of the oven.',
  words: 'first',
  privacyUrl: 'https://heron.example/privacy',
  termsUrl: 'https://heron.example/terms',
  purposes: [
    { purpose: 'informational', label: 'Orders', frequency: 'per order', disclosure: 'Order texts from Heron Lane.' },
    { purpose: 'promotional', label: 'Offers', frequency: 'weekly', disclosure: 'Offers. https://heron.example/terms' },
  ],
};

describe('the page on which a contact joins', () => {
  let page: OpenPage;
  let refuse: ApiProblem | null;
  let words: string;
  beforeEach(async () => {
    refuse = null;
    words = 'first';
    page = await openPage(
      Join,
      {
        'public.page': () => ({ ...PAGE, words }),
        'public.optIn': () => refuse ?? { shown: '+1 212-555-0123', from: '+1 551-555-0160' },
        'public.optOut': () => refuse ?? { shown: '+1 212-555-0123' },
      },
      { path: 'join/:slug', at: '/join/heron' },
    );
  });
  afterEach(() => closePage(page));

  const kind = (n: number): Promise<MatCheckboxHarness> =>
    page.loader.getAllHarnesses(MatCheckboxHarness).then((all) => all[n] as MatCheckboxHarness);
  const join = (): Promise<void> => page.press('Send me the confirming text');

  it('says at each field what is missing, and sends nothing', async () => {
    await page.fill('phone', '911');
    await join();
    expect(page.text()).toContain('Choose at least one kind of text.');
    expect(page.host.querySelector('#phone-wrong')?.textContent).toContain('Too few digits');
    expect(document.activeElement?.id).toBe('phone');
    expect(page.api.of('public.optIn')).toEqual([]);
  });

  it('sends what was chosen, with the words that were before the person’s eyes', async () => {
    await page.fill('phone', '212-555-0123');
    await (await kind(1)).check();
    await join();
    expect(page.api.of('public.optIn')[0]?.body).toEqual({
      phone: '212-555-0123',
      firstName: '',
      purposes: ['promotional'],
      words: 'first',
    });
    expect(page.text()).toContain('Look at your phone');
  });

  it('shows words that have changed, has them chosen anew and keeps the number', async () => {
    await page.fill('phone', '212-555-0123');
    await (await kind(1)).check();
    words = 'second';
    refuse = new ApiProblem(409, 'words-changed', 'The words have changed.', [
      { field: 'purposes', message: 'These words are new; choose again.' },
    ]);
    await join();
    expect(page.text()).toContain('These words are new; choose again.');
    expect(await (await kind(1)).isChecked()).toBeFalse();
    expect(page.host.querySelector<HTMLInputElement>('#phone')?.value).toBe('212-555-0123');
    refuse = null;
    await (await kind(0)).check();
    await join();
    expect(page.api.of('public.optIn')[1]?.body).toEqual(
      jasmine.objectContaining({ purposes: ['informational'], words: 'second' }),
    );
  });

  it('lets a number leave without anything else, and says why where it cannot', async () => {
    await page.press('Or: no more texts to this number');
    expect(page.api.of('public.optOut')).toEqual([]);
    expect(page.text()).not.toContain('Choose at least one');
    await page.fill('phone', '212-555-0123');
    refuse = new ApiProblem(429, 'too-many', 'Try again tomorrow.', []);
    await page.press('Or: no more texts to this number');
    expect(page.text()).toContain('Try again tomorrow.');
    refuse = null;
    await page.press('Or: no more texts to this number');
    expect(page.api.of('public.optOut')[1]?.body).toEqual({ phone: '212-555-0123' });
    expect(page.text()).toContain('sends no more texts');
  });
});
