import fc from 'fast-check';
import { contrast, inkOn } from './colours.js';
import { escaped } from './escaped.js';
import { afterOptInPage, optInPage, type PageSeen, type PageShown } from './opt-in-page.js';
import { PAGE_WORDS } from './words.js';

const page = (over: Partial<PageSeen> = {}): PageSeen => ({
  slug: 'heron',
  business: 'Heron Lane Bakery LLC',
  title: 'Texts from Heron Lane',
  intro: 'Choose.\nLeave at any time.',
  language: 'en',
  ground: '#f6f4ee',
  accent: '#0f5c63',
  button: '',
  thanks: '',
  thanksCode: '',
  asks: { firstName: 'asked', lastName: 'no', email: 'needed' },
  picture: null,
  purposes: [
    { purpose: 'informational', disclosure: 'Notices. Privacy: https://heron.example/p' },
    { purpose: 'promotional', disclosure: 'Offers.' },
  ],
  privacyUrl: 'https://heron.example/p',
  termsUrl: 'https://heron.example/t',
  paused: false,
  ...over,
});
const LIVE: PageShown = { as: 'live', action: '/join/heron', words: 'w', nonce: 'n', script: '/s.js', framed: false };
const boxes = (html: string): string[] => html.match(/<input type="checkbox"[^>]*>/g) ?? [];

describe('an opt-in page as a document', () => {
  it('has a box of its own for each kind, unticked, and asks what it is to ask', () => {
    const html = optInPage(page(), LIVE);
    expect(boxes(html).length).toBe(2);
    expect(boxes(html).some((b) => b.includes('checked'))).toBeFalse();
    expect(html).toContain('id="email"');
    expect(html).not.toContain('id="lastName"');
    expect(html).toContain('First name <small>if you like</small>');
    expect(html).not.toContain('E-mail <small>');
    expect(html).toContain(
      '<form method="post" action="/join/heron" novalidate><input type="hidden" name="words" value="w">',
    );
  });

  it('keeps what was filled in, and says at each field what is wrong', () => {
    const faults = [{ field: 'phone', message: 'Too <short>.' }];
    const filled = { values: { phone: '12"3' }, purposes: ['promotional'], faults, problem: '' };
    const html = optInPage(page(), { ...LIVE, filled });
    expect(html).toContain('value="12&quot;3" aria-invalid="true" aria-describedby="phone-fault"');
    expect(html).toContain('<span class="fault" id="phone-fault">Too &lt;short&gt;.</span>');
    expect(html).toContain('<a href="#phone">Too &lt;short&gt;.</a>');
    expect(boxes(html).map((b) => b.includes('checked'))).toEqual([false, true]);
  });

  it('lets people leave while nobody can join', () => {
    const html = optInPage(page({ paused: true }), LIVE);
    expect(html).toContain(PAGE_WORDS.en.paused);
    expect(boxes(html)).toEqual([]);
    expect(html).toContain('name="wish" value="leave"');
    expect(html).not.toContain('value="join"');
  });

  it('does nothing and needs nothing where it is kept, and is the same bytes again', () => {
    const html = optInPage(page({ picture: { src: 'data:image/png;base64,AA', words: 'A loaf' } }), { as: 'kept' });
    expect(html).toBe(
      optInPage(page({ picture: { src: 'data:image/png;base64,AA', words: 'A loaf' } }), { as: 'kept' }),
    );
    expect(html).toContain(`content="default-src 'none'; img-src data:; style-src 'unsafe-inline'"`);
    expect(html).not.toContain('<script');
    expect(html).not.toContain('action=');
    for (const [control] of html.matchAll(/<(?:input|button)[^>]*>/g)) expect(control).toContain('disabled');
    expect(html).toContain('Kept as it was shown at /join/heron.');
  });

  it('speaks the language of the page', () => {
    const html = optInPage(page({ language: 'es' }), LIVE);
    expect(html).toContain('<html lang="es">');
    expect(html).toContain('Su número de móvil');
    for (const [key, words] of Object.entries(PAGE_WORDS.en))
      if (words.length > 12) expect(html).withContext(key).not.toContain(words);
  });

  it('shows the code and the thanks to who has asked, and to nobody who left', () => {
    const p = page({ thanks: 'A roll is on us.', thanksCode: 'ROLL-7' });
    const asked = afterOptInPage(p, { what: 'asked', shown: '(212) 555-0123', from: '(212) 555-0100' }, LIVE);
    expect(asked).toContain('<p class="code">ROLL-7</p>');
    expect(asked).toContain('A roll is on us.');
    expect(asked).toContain('on its way to (212) 555-0123 from (212) 555-0100');
    expect(afterOptInPage(p, { what: 'left', shown: '(212) 555-0123' }, LIVE)).not.toContain('ROLL-7');
  });

  it('lets nothing that somebody wrote become a part of the page', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('<', '>', '"', "'", '&', 'a', ' ', '\n', '/', '=') }), (wild) => {
        const tags = (html: string): string =>
          (html.match(/<\/?[a-z][^>]*>/g) ?? []).map((t) => t.split(/[ >]/)[0]).join('');
        const of = (text: string): string =>
          tags(
            optInPage(
              page({
                title: text,
                business: text,
                button: text,
                purposes: [{ purpose: 'promotional', disclosure: text }],
              }),
              LIVE,
            ),
          );
        return of(wild) === of('plain') && !/[<>"]/.test(escaped(wild));
      }),
    );
  });
});

describe('colours', () => {
  it('have the contrast that WCAG reckons', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    expect(contrast('#ffffff', '#ffffff')).toBe(1);
    // Worked out by hand from the definition: #777777 on white is the well-known near miss.
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.478, 3);
    expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.542, 3);
  });
  it('get the ink that is read better', () => {
    expect(inkOn('#ffffff')).toBe('#1d2a2f');
    expect(inkOn('#0f5c63')).toBe('#ffffff');
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
        const colour = `#${n.toString(16).padStart(6, '0')}`;
        return contrast(inkOn(colour), colour) >= Math.max(contrast('#1d2a2f', colour), contrast('#ffffff', colour));
      }),
    );
  });
});
