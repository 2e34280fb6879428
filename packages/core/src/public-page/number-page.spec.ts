import { PHONE_REFUSALS } from '../phone/parse-phone.js';
import { escaped } from './escaped.js';
import { withoutPerson } from './form-parts.js';
import { afterNumberPage, numberPage, type NumberPage } from './number-page.js';
import { PAGE_LANGUAGES, PAGE_WORDS } from './words.js';

const page = (over: Partial<NumberPage> = {}): NumberPage => ({
  language: 'en',
  business: 'Heron Lane Bakery LLC',
  firstName: 'Ada',
  number: '••• 23',
  confirmed: false,
  purposes: [{ purpose: 'informational', disclosure: 'Notices. Terms: https://heron.example/t' }],
  privacyUrl: 'https://heron.example/p',
  termsUrl: 'https://heron.example/t',
  ground: '#f6f4ee',
  accent: '#0f5c63',
  ...over,
});
const SHOWN = { as: 'live' as const, action: '/better-number/x', words: 'w', nonce: 'n' };

describe('the page for a better number', () => {
  it('is kept as it was seen, of nobody by name or number, and does nothing', () => {
    const html = numberPage(withoutPerson(page()), { as: 'kept' });
    expect(html).not.toContain(page().firstName);
    expect(html).not.toContain(page().number);
    for (const x of page().purposes) expect(html).toContain(escaped(x.disclosure));
    expect((html.match(/<(?:input|button)[^>]*>/g) ?? []).filter((tag) => !tag.includes(' disabled'))).toEqual([]);
    expect(html).not.toMatch(/nonce|method="post"|name="words"/);
  });

  it('names the person and the number texts do not reach, and ticks nothing by itself', () => {
    const html = numberPage(page(), SHOWN);
    expect(html).toContain('<h1>Ada, your mobile number</h1>');
    expect(html).toContain('do not reach the number ••• 23.');
    expect(html).toContain('<form method="post" action="/better-number/x"');
    expect(html).not.toContain('checked');
    expect(numberPage(page({ firstName: '' }), SHOWN)).toContain('<h1>Your mobile number</h1>');
  });

  it('asks one who gave a number already only whether it has changed', () => {
    const html = numberPage(page({ confirmed: true }), SHOWN);
    expect(html).toContain('it is confirmed');
    expect(html).not.toContain('do not reach');
  });

  it('keeps what was filled in beside what is wrong with it, and takes no name for markup', () => {
    const faults = [{ field: 'phone', message: 'Too <few> digits.' }];
    const filled = { values: { phone: '"12' }, purposes: ['informational'], faults, problem: '' };
    const html = numberPage(page({ firstName: '<b>' }), { ...SHOWN, filled });
    expect(html).toContain('value="&quot;12" aria-invalid="true" aria-describedby="phone-fault"');
    expect(html).toContain('<span class="fault" id="phone-fault">Too &lt;few&gt; digits.</span>');
    expect(html).toContain('value="informational" checked');
    expect(html).toContain('&lt;b&gt;, your mobile number');
  });

  it('speaks the language of the page to its end', () => {
    const es = page({ language: 'es' });
    expect(numberPage(es, SHOWN)).toContain('Nuestros mensajes no llegan al número ••• 23.');
    const after = afterNumberPage(es, { shown: '+1 212-555-0102', from: '+1 212-555-0100' }, 'n');
    expect(after).toContain('<html lang="es">');
    expect(after).toContain('Va en camino un mensaje a +1 212-555-0102 desde +1 212-555-0100.');
  });

  it('has words of its own in each language for everything that can be wrong with a number', () => {
    const reasons = Object.keys(PHONE_REFUSALS) as (keyof typeof PHONE_REFUSALS)[];
    for (const language of PAGE_LANGUAGES.filter((x) => x !== 'en'))
      for (const reason of reasons)
        expect(PAGE_WORDS[language].phoneFaults[reason])
          .withContext(`${language} ${reason}`)
          .not.toBe(PHONE_REFUSALS[reason]);
  });
});
