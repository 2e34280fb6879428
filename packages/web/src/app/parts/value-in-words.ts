/** What a member is called, as words: `legalName` is “legal name”. */
export const nameInWords = (name: string): string => name.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();

/**
 * A value that was kept, as people read it: lists with strokes between, yes and no, and what has members by these.
 * @param o what is made of a text, as it stands where nothing is given; and whether members are told with their names.
 */
export function valueInWords(value: unknown, o: { text?: (words: string) => string; named?: boolean } = {}): string {
  if (value === null || value === undefined) return '';
  if (value === true) return 'yes';
  if (value === false) return 'no';
  const { text = (words: string) => words, named = true } = o;
  const said = (part: unknown): string => valueInWords(part, o);
  if (Array.isArray(value)) return value.map(said).filter(Boolean).join(' / ');
  if (typeof value === 'object')
    return Object.entries(value)
      .filter(([, part]) => said(part) !== '')
      .map(([name, part]) => (named ? `${nameInWords(name)}: ${said(part)}` : said(part)))
      .join(', ');
  return text(String(value as string | number));
}
