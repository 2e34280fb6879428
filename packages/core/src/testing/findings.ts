import type { Finding } from '../finding/finding.js';

/**
 * Findings in short: code, field, and the words they point at (none where they point at the whole).
 * @param words the text of a field.
 */
export function inShort(findings: readonly Finding[], words: (field: string) => string): string[] {
  return findings.map((f) => {
    const at = f.span ? ` “${words(f.field).slice(f.span.start, f.span.end)}”` : '';
    return `${f.code} ${f.field}${at}`;
  });
}
