import { LinkifyIt } from 'linkify-it';
import { parse } from 'tldts';
import { SHARED_SHORT_LINK_HOSTS } from '../registration/terms.data.js';

/** A link in a text, as UTF-16 offsets, end exclusive. */
export interface Link {
  start: number;
  end: number;
  text: string;
  /** Lower case, without `www.`. */
  host: string;
  bareAddress: boolean;
}

// Every word may stand after a dot here; whether it is a top-level domain is asked of tldts (the public suffix list).
const linkify = new LinkifyIt({ fuzzyIP: true, fuzzyEmail: true, fuzzyLink: true }).tlds(['[a-z]{2,24}']);
/** RFC 2606: never delegated, and what our own made-up names end in. */
const RESERVED = new Set(['example', 'test', 'invalid']);
/** Top-level domains that are also words with which a sentence may begin or go on. */
const WORD_TLDS = new Set(
  'am as at be by call do here how in is it la live me men my new next no now ok one open see so the to today us win you'.split(
    ' ',
  ),
);
const POINTS_TO_LINK = /(?:\b(?:visit|see|at|on|to|via|site|page|web|online|from|go)|[:>(])\s*$/i;

/**
 * The links of a text: with a scheme, without one, and as bare IP addresses. A sentence that goes on without a space
 * after its full stop is no link, nor is an e-mail address. Found by linkify-it; top-level domains by tldts.
 */
export function findLinks(text: string): Link[] {
  // The package matches from left to right and knows nothing of case in host names.
  return (linkify.match(text) ?? []).flatMap((m) => {
    if (m.schema === 'mailto:') return [];
    const raw = text.slice(m.index, m.lastIndex);
    const found = parse(m.url);
    const host = (found.hostname ?? '').replace(/^www\./, '');
    if (host === '') return [];
    const link = { start: m.index, end: m.lastIndex, text: raw, host, bareAddress: found.isIp === true };
    if (found.isIp || m.schema !== '' || isSharedHost(host)) return [link];
    const tld = host.slice(host.lastIndexOf('.') + 1);
    if (!RESERVED.has(tld) && !(found.isIcann && found.domain !== null)) return [];
    return isSentence(text, raw, m.index, m.lastIndex, tld) ? [] : [link];
  });
}

/** "The boat is late.It leaves at nine": two sentences, not the site of an Italian named late. */
function isSentence(text: string, raw: string, start: number, end: number, tld: string): boolean {
  if (/^www\./i.test(raw) || /[/?#:]/.test(raw)) return false;
  const last = raw.slice(raw.lastIndexOf('.') + 1);
  const before = raw.slice(0, raw.lastIndexOf('.'));
  if (/^\p{Lu}\p{Ll}+$/u.test(last) && !/\p{Lu}/u.test(before)) return true;
  if (/^\p{Lu}$/u.test(last.slice(0, 1)) && /\p{Ll}$/u.test(before)) return true;
  if (!WORD_TLDS.has(tld)) return false;
  return !POINTS_TO_LINK.test(text.slice(0, start)) && /^\s+\p{L}/u.test(text.slice(end));
}

/** True for a host whose short links many senders share (rule data). */
export function isSharedHost(host: string): boolean {
  return SHARED_SHORT_LINK_HOSTS.some((h) => host === h || host.endsWith(`.${h}`));
}

/** The first link that networks filter whoever sends it: on a host many senders share, or a bare IP address. */
export function filteredLink(text: string): Link | null {
  return findLinks(text).find((l) => l.bareAddress || isSharedHost(l.host)) ?? null;
}
