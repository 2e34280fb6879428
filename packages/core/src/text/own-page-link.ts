import { parse } from 'tldts';
import { isSharedHost } from './links.js';

/** The key of a link has so many letters and digits: 95 bits, which nobody guesses. */
export const LINK_KEY_LENGTH = 16;
const HIDDEN_KEY = '*'.repeat(LINK_KEY_LENGTH);
/** How long a link that was texted to a handset speaks for it, as its YES would. */
export const HANDSET_LINK_MS = 86_400_000;

/**
 * The link to a contact's own page as it is kept and shown: as long as what leaves, but without its key, which only the
 * handset gets. Whoever reads our texts can open nobody's page with it.
 */
export const ownPageLink = (domain: string): string => `https://${domain}/t/${HIDDEN_KEY}`;

/** Whether a text as it is kept has such a link. */
export const holdsOwnPageLink = (text: string): boolean => text.includes(`/t/${HIDDEN_KEY}`);

/**
 * The text as it leaves, with the key of its owner's link where that stands on one of these domains: a link that only
 * looks like it, to somebody else's, leaves as it is written.
 */
export const withLinkKey = (text: string, domains: readonly string[], key: string): string =>
  domains.reduce((t, domain) => t.replaceAll(ownPageLink(domain), `https://${domain}/t/${key}`), text);

/**
 * A domain under which links in texts may stand, as people write one: of the business itself, since networks filter
 * addresses without a name and hosts that many senders share.
 */
export function readLinkDomain(raw: string): { ok: true; domain: string } | { ok: false; why: string } {
  const written = raw
    .trim()
    .toLowerCase()
    .replace(/^https?:\/\//, '')
    .replace(/\/$/, '');
  const no = (why: string) => ({ ok: false as const, why });
  if (written === '') return no('Write a domain of your own, such as texts.ferries.example.');
  if (/[/?#@:\s]/.test(written)) return no('Only the domain, without a path or port: such as texts.ferries.example.');
  const found = parse(written, { allowPrivateDomains: true });
  if (found.isIp) return no('Networks filter links to bare IP addresses. Write a domain of your own.');
  if (!found.hostname || !found.domain || !/^[a-z0-9-]+(\.[a-z0-9-]+)+$/.test(written))
    return no('This is no domain: it looks like texts.ferries.example.');
  if (written.length > 60) return no('Longer than 60 characters, which every text would carry. Take a shorter one.');
  if (isSharedHost(written))
    return no(`Networks filter links on ${written}, which many senders share. Write a domain of your own.`);
  return { ok: true, domain: written };
}
