import type { OptInPage } from '@long-gate/contracts';

type Offered = OptInPage['purposes'][number];
const KINDS = ['informational', 'promotional'] as const satisfies readonly Offered['purpose'][];

/** The lines of a form in which kinds of text are offered: of each what is sent, empty where it is not offered, and how often. */
export interface KindLines {
  informational: string;
  informationalOften: string;
  promotional: string;
  promotionalOften: string;
}
export const NO_KINDS: KindLines = {
  informational: '',
  informationalOften: '',
  promotional: '',
  promotionalOften: '',
};
export const KIND_FIELDS = [
  { key: 'informational', label: 'Notices: what is sent', hint: 'empty: not offered', lines: 2 },
  { key: 'informationalOften', label: 'Notices: how often', hint: 'as they happen', lines: 1 },
  { key: 'promotional', label: 'Offers: what is sent', hint: 'empty: not offered', lines: 2 },
  { key: 'promotionalOften', label: 'Offers: how often', hint: 'about four a month', lines: 1 },
] as const satisfies readonly { key: keyof KindLines; label: string; hint: string; lines: number }[];

/** What is offered, as the lines of a form. */
export function linesOfKinds(purposes: readonly Offered[]): KindLines {
  const of = (kind: Offered['purpose']) => purposes.find((x) => x.purpose === kind);
  return {
    informational: of('informational')?.label ?? '',
    informationalOften: of('informational')?.frequency ?? '',
    promotional: of('promotional')?.label ?? '',
    promotionalOften: of('promotional')?.frequency ?? '',
  };
}

const offeredIn = (w: KindLines) => KINDS.filter((k) => w[k].trim() !== '');

/** What the lines of a form offer. */
export function kindsIn(w: KindLines): Offered[] {
  return offeredIn(w).map((purpose) => ({ purpose, label: w[purpose], frequency: w[`${purpose}Often`] }));
}

/** The line at which a fault of what is offered stands; null for a fault of anything else. @param path of the contract. */
export function lineOfFault(path: string, w: KindLines): keyof KindLines | null {
  if (!path.startsWith('purposes')) return null;
  const [, no, what] = /^purposes(?:\.(\d)\.(\w+))?$/.exec(path) ?? [];
  const kind = offeredIn(w)[Number(no ?? 0)] ?? 'informational';
  return what === 'frequency' ? `${kind}Often` : kind;
}
