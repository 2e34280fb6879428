import {
  afterPersonalPage,
  personalPage,
  unsubscribePage,
  type PersonalOutcome,
  type PersonalPage,
} from './personal-page.js';
import { PERSONAL_WORDS } from './words.js';
import { escaped } from './escaped.js';
import { withoutPerson } from './form-parts.js';

const page = (over: Partial<PersonalPage> = {}): PersonalPage => ({
  language: 'en',
  business: 'Heron Lane Bakery LLC',
  firstName: 'Ada',
  number: '••• 23',
  purposes: [
    { purpose: 'informational', disclosure: 'Notices of orders.', standing: 'in' },
    { purpose: 'promotional', disclosure: 'Offers of bread.', standing: 'out' },
  ],
  another: true,
  privacyUrl: 'https://heron.example/p',
  termsUrl: 'https://heron.example/t',
  ground: '#f6f4ee',
  accent: '#0f5c63',
  ...over,
});
const SHOWN = { as: 'live' as const, action: '/my-texts/x', words: 'w', nonce: 'n' };
const ticked = (html: string): string[] => [...html.matchAll(/value="(\w+)" checked/g)].map((m) => m[1] ?? '');
const outcome = (over: Partial<PersonalOutcome>): PersonalOutcome => ({
  wish: 'choose',
  ended: [],
  joined: [],
  asked: [],
  tooOften: [],
  closed: [],
  kept: [],
  shown: '••• 23',
  from: '+1 212-555-0100',
  ...over,
});
const said = (o: Partial<PersonalOutcome>): string => afterPersonalPage(page(), outcome(o), SHOWN);

describe('the page of one person', () => {
  it('is kept as it was seen, the same of all who stand alike, and does nothing', () => {
    const kept = (over: Partial<PersonalPage> = {}): string => personalPage(withoutPerson(page(over)), { as: 'kept' });
    const html = kept();
    expect(kept({ firstName: 'Bram', number: '••• 99' })).toBe(html);
    expect(html).not.toContain(page().number);
    for (const x of page().purposes) expect(html).toContain(escaped(x.disclosure));
    expect((html.match(/<(?:input|button)[^>]*>/g) ?? []).filter((tag) => !tag.includes(' disabled'))).toEqual([]);
    expect(html).not.toMatch(/nonce|method="post"|name="words"/);
    expect(html).toContain("default-src 'none'");
    const purposes = page().purposes.map((x) => ({ ...x, standing: 'in' as const }));
    expect(kept({ purposes })).not.toBe(html);
  });

  it('shows what stands, each kind by itself, and nothing ticked that is not', () => {
    const html = personalPage(page(), SHOWN);
    expect(ticked(html)).toEqual(['informational']);
    expect(html).toContain('<em>You get these.</em>');
    expect(html).toContain('<em>You do not get these.</em>');
    expect(html).toContain('the number ••• 23');
    for (const wish of ['choose', 'number', 'answers', 'leave']) expect(html).toContain(`name="wish" value="${wish}"`);
  });

  it('says what is awaited, and leaves it ticked, so that sending the page again ends nothing', () => {
    const purposes = [{ purpose: 'promotional' as const, disclosure: 'Offers.', standing: 'awaited' as const }];
    expect(ticked(personalPage(page({ purposes }), SHOWN))).toEqual(['promotional']);
  });

  it('asks for no other number of somebody whose own number the link came to', () => {
    const html = personalPage(page({ another: false }), SHOWN);
    expect(html).not.toContain('name="phone"');
    expect(html).not.toContain('value="number"');
    for (const wish of ['choose', 'answers', 'leave']) expect(html).toContain(`name="wish" value="${wish}"`);
  });

  it('keeps what was filled in, with what is wrong about it', () => {
    const faults = [{ field: 'phone', message: 'Too short.' }];
    const filled = { values: { phone: '12' }, purposes: ['promotional'], faults, problem: '' };
    const html = personalPage(page(), { ...SHOWN, filled });
    expect(ticked(html)).toEqual(['promotional']);
    expect(html).toContain('value="12" aria-invalid="true" aria-describedby="phone-fault"');
  });

  it('says afterwards what ended, what is asked and what goes on, and nothing else', () => {
    expect(said({ ended: ['informational'], asked: ['promotional'] })).toContain('You get no more notices.');
    expect(said({ asked: ['promotional'] })).toContain('For offers one text is on its way to ••• 23');
    expect(said({ joined: ['promotional'] })).toContain('From now on you get offers. A text to ••• 23 says so.');
    expect(said({ kept: ['informational', 'promotional'] })).toContain('You go on getting notices and offers.');
    expect(said({ wish: 'leave', ended: ['informational'] })).not.toContain('You get no more notices.');
    expect(said({ wish: 'leave' })).toContain('You get no more texts from us.');
    expect(said({})).toContain('Nothing was changed.');
  });

  it('ends letters by a button, and says so once it is done', () => {
    const of = (done: boolean): string => unsubscribePage(page(), { action: '/my-texts/x/letters', nonce: 'n', done });
    expect(of(false)).toContain('<form method="post" action="/my-texts/x/letters">');
    expect(of(true)).not.toContain('<form');
  });

  it('has every sentence in both languages, with the same gaps', () => {
    const gaps = (words: unknown): string[] => (JSON.stringify(words).match(/\{\w+\}/g) ?? []).sort();
    for (const key of Object.keys(PERSONAL_WORDS.en) as (keyof typeof PERSONAL_WORDS.en)[])
      expect(gaps(PERSONAL_WORDS.es[key])).withContext(key).toEqual(gaps(PERSONAL_WORDS.en[key]));
  });
});
