import { composeText, reviewText } from './compose.js';
import { findLinks, filteredLink } from './links.js';
import { fieldsUsed, ownPageSpan, reviewMerge } from './merge.js';
import { holdsOwnPageLink, LINK_KEY_LENGTH, ownPageLink, readLinkDomain, withLinkKey } from './own-page-link.js';
import { segmentText } from './segments.js';

const LINK = ownPageLink('texts.ferries.example');
const KEY = 'aZ3'.padEnd(LINK_KEY_LENGTH, '9');

describe('the link to a contact’s own page', () => {
  const kept = composeText(
    'Change what we text you: [ownPage]',
    { nameLine: 'Saltmarsh Ferries', stopLine: true, ownPage: LINK },
    {},
  );

  it('is kept without its key, and leaves with it, as long as it was counted', () => {
    expect(kept).toContain('https://texts.ferries.example/t/****************');
    expect(holdsOwnPageLink(kept)).toBeTrue();
    const leaves = withLinkKey(kept, ['texts.ferries.example'], KEY);
    expect(leaves).toContain(`https://texts.ferries.example/t/${KEY} Reply STOP`);
    expect(leaves.length).toBe(kept.length);
    expect(segmentText(leaves).parts.length).toBe(segmentText(kept).parts.length);
    expect(segmentText(kept).encoding).withContext('stars are in GSM-7').toBe('GSM-7');
    expect(holdsOwnPageLink(leaves)).toBeFalse();
  });

  it('gets its key on a domain of the business alone, so that nobody has keys sent to a site of their own', () => {
    const theirs = `Look: ${ownPageLink('prying.example')}`;
    expect(withLinkKey(theirs, ['texts.ferries.example', 'ferries.example'], KEY)).toBe(theirs);
    expect(withLinkKey(kept, ['ferries.example'], KEY))
      .withContext('a part of the domain is another')
      .toBe(kept);
    expect(withLinkKey(kept, ['ferries.example', 'texts.ferries.example'], KEY)).toContain(KEY);
  });

  it('is a link like any other for whoever looks for links, and none that is filtered', () => {
    expect(findLinks(kept).map((l) => l.host)).toEqual(['texts.ferries.example']);
    expect(filteredLink(kept)).toBeNull();
  });

  it('needs no fallback, since everybody has a page, and is no value that could be empty', () => {
    const text = 'Hi [firstName|friend], [ownPage]';
    expect(reviewMerge(text)).toEqual([]);
    expect(fieldsUsed(text).map((f) => f.name)).toEqual(['firstName']);
    expect(ownPageSpan(text)).toEqual({ start: 23, end: 32 });
    expect(ownPageSpan('Hi [firstName|friend]')).toBeNull();
  });

  it('counts in the length of a text', () => {
    const said = (ownPage: string): string[] =>
      reviewText(
        `${'x'.repeat(230)} [ownPage]`,
        { purpose: 'informational', transactional: false, override: '', registered: null },
        { nameLine: 'Saltmarsh Ferries', stopLine: true, ownPage },
      ).map((f) => f.code);
    expect(said('')).toEqual([]);
    expect(said(LINK)).toEqual(['many-segments']);
  });
});

describe('the domain of links in texts', () => {
  const read = (raw: string): string => {
    const found = readLinkDomain(raw);
    return found.ok ? found.domain : found.why;
  };

  it('is taken as people write it', () => {
    expect(read(' https://Texts.Ferries.example/ ')).toBe('texts.ferries.example');
    expect(read('ferries.example')).toBe('ferries.example');
  });

  it('is one of the business, which networks let through', () => {
    expect(read('')).toContain('a domain of your own');
    expect(read('127.0.0.1')).toContain('bare IP');
    expect(read('ferries.example/texts')).toContain('without a path');
    expect(read('ferries.example:8080')).toContain('without a path or port');
    expect(read('ferries')).toContain('no domain');
    expect(read('fer ries.example')).toContain('without a path');
    expect(read('-.example')).toContain('no domain');
    expect(read('lnk.example')).toContain('many senders share');
    expect(read(`${'a'.repeat(55)}.example`)).toContain('shorter');
  });
});
