import { SHARED_SHORT_LINK_HOSTS } from '../registration/terms.data.js';
import { filteredLink, findLinks } from './links.js';

const links = (text: string): string[] => findLinks(text).map((l) => l.text);

describe('links in a text', () => {
  it('are found with and without a scheme, with a path and alone', () => {
    expect(links('See https://saltmarsh.example/a?b=1, or saltmarsh.example/b.')).toEqual([
      'https://saltmarsh.example/a?b=1',
      'saltmarsh.example/b',
    ]);
    expect(links('Visit www.saltmarsh.travel or northbank.museum today')).toEqual([
      'www.saltmarsh.travel',
      'northbank.museum',
    ]);
    expect(links('Karte: fähre.example/köln')).toEqual(['fähre.example/köln']);
    expect(links('HTTP://SALTMARSH.EXAMPLE/X')).toEqual(['HTTP://SALTMARSH.EXAMPLE/X']);
  });
  it('are found as bare addresses', () => {
    expect(findLinks('Go to 192.0.2.7/x or http://198.51.100.4').map((l) => l.bareAddress)).toEqual([true, true]);
  });
  it('are no sentence that goes on without a space, no e-mail, no price, no time', () => {
    for (const text of [
      'The boat is late.It leaves at nine.',
      'See you soon.Me too',
      'We are ready.it is open',
      'Done.so come in',
      'Come at 9.No problem.',
      'Write to office@saltmarsh.example',
      'It costs $19.99 from 9.30 to 18.00',
      'Call 201.555.0142',
      'e.g. the 9:10, i.e. the early one',
      'The file menu.pdf is attached',
    ])
      expect(links(text)).withContext(text).toEqual([]);
  });
  it('point at the very characters', () => {
    const text = 'Fares: saltmarsh.example/f4 Reply STOP';
    const [l] = findLinks(text);
    expect(text.slice(l?.start, l?.end)).toBe('saltmarsh.example/f4');
  });
});

describe('links that networks filter', () => {
  for (const host of SHARED_SHORT_LINK_HOSTS)
    it(`include ${host}, however it is written`, () => {
      for (const written of [
        `https://${host}/3xY`,
        `http://www.${host}/a`,
        `${host}/3xY`,
        host,
        host.toUpperCase(),
        `go.${host}/x`,
      ])
        expect(filteredLink(`Last places: ${written} Reply STOP to end.`)?.host)
          .withContext(written)
          .toMatch(new RegExp(`(^|\\.)${host.replace('.', '\\.')}$`));
    });
  it('include bare addresses, and not a host of one’s own', () => {
    expect(filteredLink('Look at 203.0.113.9/fares')?.bareAddress).toBe(true);
    expect(filteredLink('Look at saltmarsh.example/fares')).toBeNull();
    // A host that merely ends in the same letters is another host.
    expect(filteredLink('Look at rabbit.ly.example/fares')).toBeNull();
  });
});
