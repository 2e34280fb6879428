import type { Reader, Writer } from '../../platform/db.js';

/** A text that leaves with a link to the page of the number it goes to. */
export interface LinkedText {
  messageId: string;
  businessId: string;
  /** Empty for a text of no dispatch. */
  dispatchId: string;
  e164: string;
}

/** The links to contacts' own pages, as whoever keeps those pages gives them. */
export interface OwnPageLinks {
  /** The link as it stands in a text that is kept, its key hidden; empty where none is set up. */
  shown(r: Reader, businessId: string): Promise<string>;
  /** The keys of texts that leave now, by the text; one that leaves again has the key it had. */
  keys(w: Writer, texts: readonly LinkedText[]): Promise<ReadonlyMap<string, LinkKey>>;
}

/** The key of the link in one text, and the domains of the business on which such a link may stand. */
export interface LinkKey {
  key: string;
  domains: readonly string[];
}

/** Nobody keeps such pages: no text can carry a link to one. */
export const NO_OWN_PAGES: OwnPageLinks = {
  shown: () => Promise.resolve(''),
  keys: () => Promise.resolve(new Map()),
};
