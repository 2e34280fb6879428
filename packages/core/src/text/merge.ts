import { finding, type Finding, type Span } from '../finding/finding.js';

/** The contact's own values a text may carry, with the words shown on their chips. */
const CONTACT_FIELDS = { firstName: 'first name', lastName: 'last name' } as const;
/** A value of the contact, which some have none of. */
export type ContactField = keyof typeof CONTACT_FIELDS;
/** Everything a text may carry: also the link to the contact's own page, which everybody has. */
export const MERGE_FIELDS = { ...CONTACT_FIELDS, ownPage: 'link to their page' } as const;
export type MergeField = keyof typeof MERGE_FIELDS;
/** Whether a field says something where a contact has no value of it. */
export const takesFallback = (name: string): boolean => name !== 'ownPage';

/** A text as written: `[firstName|traveller]` is a merge field with its fallback. */
export type TextPart =
  { kind: 'text'; text: string } | { kind: 'field'; name: string; fallback: string | null; start: number; end: number };

const FIELD = /\[([A-Za-z][A-Za-z ]{0,30})(?:\|([^\][]{0,60}))?\]/g;

/** Takes a written text apart into plain text and merge fields. */
export function parseMerge(text: string): TextPart[] {
  const parts: TextPart[] = [];
  let last = 0;
  for (const m of text.matchAll(FIELD)) {
    if (m.index > last) parts.push({ kind: 'text', text: text.slice(last, m.index) });
    parts.push({
      kind: 'field',
      name: m[1] ?? '',
      fallback: m[2] === undefined ? null : m[2],
      start: m.index,
      end: m.index + m[0].length,
    });
    last = m.index + m[0].length;
  }
  if (last < text.length) parts.push({ kind: 'text', text: text.slice(last) });
  return parts;
}

/** The values of the contact a text uses, each once. */
export function fieldsUsed(text: string): { name: ContactField; fallback: string | null }[] {
  const seen = new Map<ContactField, string | null>();
  for (const p of parseMerge(text))
    if (p.kind === 'field' && p.name in CONTACT_FIELDS) seen.set(p.name as ContactField, p.fallback || null);
  return [...seen].map(([name, fallback]) => ({ name, fallback }));
}

/** Where a text has the link to the contact's own page; null where it has none. */
export function ownPageSpan(text: string): Span | null {
  const field = parseMerge(text).find((p) => p.kind === 'field' && p.name === 'ownPage');
  return field?.kind === 'field' ? { start: field.start, end: field.end } : null;
}

/**
 * Fills a written text for one contact. A field without value and without fallback comes out empty; the gate
 * holds such recipients back, so that it is never sent.
 */
export function mergeText(text: string, values: Partial<Record<MergeField, string>>): string {
  return parseMerge(text)
    .map((p) => (p.kind === 'text' ? p.text : values[p.name as MergeField]?.trim() || p.fallback || ''))
    .join('');
}

/** What is wrong with the merge fields of a text. */
export function reviewMerge(text: string): Finding[] {
  const out: Finding[] = [];
  for (const p of parseMerge(text)) {
    if (p.kind !== 'field') continue;
    const span = { start: p.start, end: p.end };
    if (!(p.name in MERGE_FIELDS)) {
      out.push(
        finding(
          'merge-unknown-field',
          'text',
          `There is no field “${p.name}”.`,
          `Use ${Object.keys(MERGE_FIELDS).join(', ')}.`,
          span,
        ),
      );
    } else if (!p.fallback && takesFallback(p.name)) {
      const word = MERGE_FIELDS[p.name as MergeField];
      out.push(
        finding(
          'merge-no-fallback',
          'text',
          `“${word}” has no fallback for contacts without one.`,
          `Write [${p.name}|friend], for instance.`,
          span,
        ),
      );
    }
  }
  return out;
}
