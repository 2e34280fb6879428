import { reviewPage, type PageDraft } from './review-page.js';

const NAMES = { legalName: 'Heron Lane Bakery LLC', nameLine: 'Heron Lane' };
const page = (over: Partial<PageDraft> = {}): PageDraft => ({
  title: 'Texts from Heron Lane',
  intro: 'Choose what you want.',
  purposes: [{ purpose: 'promotional', label: 'Text me offers of bread', frequency: 'about four a month' }],
  privacyUrl: 'https://heron.example/privacy',
  termsUrl: 'https://heron.example/terms',
  language: 'en',
  ground: '#f6f4ee',
  accent: '#0f5c63',
  thanks: '',
  picture: null,
  ...over,
});
const found = (over: Partial<PageDraft>): string[] =>
  reviewPage(page(over), NAMES).map((f) => `${f.code} at ${f.field}`);

describe('reviewPage', () => {
  it('finds nothing in a page that says all it has to', () => {
    expect(found({})).toEqual([]);
    expect(
      found({
        language: 'es',
        title: 'Mensajes de la panadería',
        purposes: [{ purpose: 'promotional', label: 'Envíenme ofertas de pan', frequency: 'unos cuatro al mes' }],
      }),
    ).toEqual([]);
  });

  it('wants to be told how often, of each kind', () => {
    for (const vague of ['sometimes', 'now', 'a lot'])
      expect(found({ purposes: [{ purpose: 'promotional', label: 'Text me offers of bread', frequency: vague }] }))
        .withContext(vague)
        .toEqual(['disclosure-no-frequency at promotionalOften']);
    for (const clear of [
      'daily',
      'before each class',
      'as they happen',
      'varies',
      'as it is ready',
      'twice a month',
      'whenever we bake',
    ])
      expect(found({ purposes: [{ purpose: 'informational', label: 'Text me of my orders', frequency: clear }] }))
        .withContext(clear)
        .toEqual([]);
    const spanish = (frequency: string): string[] =>
      found({ language: 'es', purposes: [{ purpose: 'informational', label: 'Avisos de pedidos', frequency }] });
    expect(spanish('about four a month')).toEqual(['disclosure-no-frequency at informationalOften']);
    expect(spanish('según haya cambios')).toEqual([]);
  });

  it('lets no offer pass under notices', () => {
    const purposes = [{ purpose: 'informational' as const, label: 'Text me 20% off bread', frequency: 'daily' }];
    const [offer] = reviewPage(page({ purposes }), NAMES);
    expect([offer?.code, offer?.field, offer?.severity]).toEqual(['page-kind-promotional', 'informational', 'block']);
    expect(purposes[0]?.label.slice(offer?.span?.start, offer?.span?.end)).toContain('20% off');
  });

  it('lets agreeing be no condition, wherever it is said', () => {
    expect(found({ intro: 'You must agree to book a class.' })).toEqual(['page-conditional at intro']);
    expect(found({ thanks: 'Required to order bread.' })).toEqual(['page-conditional at thanks']);
    expect(found({ intro: 'You need to bring a cup. Join and the first roll is free.' })).toEqual([]);
  });

  it('wants pages that can be opened', () => {
    expect(found({ privacyUrl: 'heron.example/privacy' })).toEqual(['page-no-link at privacyUrl']);
    expect(found({ termsUrl: 'http://heron.example/terms' })).toEqual(['page-no-link at termsUrl']);
    expect(found({ termsUrl: 'https://heron' })).toEqual(['page-no-link at termsUrl']);
  });

  it('wants colours that can be read, and a button that can be told from its ground', () => {
    expect(found({ ground: '#808080', accent: '#0b2a2f' })).toEqual(['page-low-contrast at ground']);
    expect(found({ accent: '#e0e0d0' })).toEqual(['page-low-contrast at accent']);
    const [low] = reviewPage(page({ accent: '#e0e0d0' }), NAMES);
    expect(low?.message).toBe('The button against the ground has a contrast of 1.2 : 1; 3 : 1 is the least.');
  });

  it('wants a picture to be said', () => {
    expect(found({ picture: { words: ' ' } })).toEqual(['page-picture-unsaid at pictureWords']);
    expect(found({ picture: { words: 'A loaf' } })).toEqual([]);
  });
});
