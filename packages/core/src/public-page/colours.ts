/** Dark and light ink; of two the one that can be read better on a colour is taken. */
const INKS = ['#1d2a2f', '#ffffff'] as const;

/** How a page looks where nothing else was chosen. */
export const PAGE_COLOURS = { ground: '#f6f4ee', accent: '#0f5c63' } as const;
/** What text has to reach, and what the edge of a button has to. Source: WCAG 2.2, 1.4.3 and 1.4.11. */
export const CONTRAST = { text: 4.5, edge: 3 } as const;

/** A colour as six hexadecimal digits after a hash; anything else is black. */
function channels(hex: string): [number, number, number] {
  const n = /^#[0-9a-f]{6}$/i.test(hex) ? Number.parseInt(hex.slice(1), 16) : 0;
  return [n >> 16, (n >> 8) & 255, n & 255];
}

/** Relative luminance, 0 (black) to 1 (white). Source: WCAG 2.2. */
function luminance(hex: string): number {
  const [r, g, b] = channels(hex).map((c) => {
    const s = c / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast of two colours, 1 to 21. Source: WCAG 2.2. */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** The ink that can be read better on a colour. */
export function inkOn(colour: string): string {
  return contrast(INKS[0], colour) >= contrast(INKS[1], colour) ? INKS[0] : INKS[1];
}
