import type { Span } from '../../finding/finding.js';

const BOX =
  /(?:\bp\W{0,3}o\W{0,3}\s?(?:box|bx|b\b|drawer)\b|\bp\.?o\.?b\.?\s*\d|\bpob\b|\bpost(?:al)?(?:\s*office)?\s*(?:box|drawer|bin)\b|\bpmb\b\s*#?\s*\d|\b(?:private )?mail ?box\s*#?\s*\d|\bbox\s+#?\d+\b|\bapartado(?: postal)?\b|\bcasilla\b|\bgeneral delivery\b|\block ?box\b)/i;

/** The words of an address that name a post box, in any spelling; null in “12 Box Elder Lane”. */
export function postBox(street: string): Span | null {
  const m = BOX.exec(street);
  return m ? { start: m.index, end: m.index + m[0].length } : null;
}
