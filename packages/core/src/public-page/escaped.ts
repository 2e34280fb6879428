const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
/** A text as it stands in HTML, between tags and in attributes with double quotes. */
export const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => ENTITIES[c] ?? c);
