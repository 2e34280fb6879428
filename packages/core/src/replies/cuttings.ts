/** How phones write down that somebody tapped a reaction on a text of ours; what stands in quotes is ours. */
const REACTION =
  /^\s*[\p{Cf}]*(?:(?:liked|loved|disliked|laughed at|emphasi[sz]ed|questioned|reacted (?:with )?\S{1,8} to|removed an? .{1,20} from|added an? .{1,20} to|le (?:gust[oó]|encant[oó])|me (?:gust[oó]|encant[oó])|no me gust[oó]|se ri[oó] de|destac[oó]|reaccion[oó] con \S{1,8} a|a mimado|hat .{1,14} gemocht)\s*:?\s*(?:an? (?:image|photo|message)|una? (?:imagen|foto|mensaje)|["“”«'‘„])|[\p{Extended_Pictographic}\p{Emoji_Modifier}\u{fe0f}\u{200d}]+\s*(?:to|a|on|en)\s*["“«'‘„])/iu;

/** A line with which quoted text, or a signature, begins; it and what follows are not the person's answer. */
const BELOW = new RegExp(
  [
    String.raw`\n\s*>`,
    String.raw`\n\s*(?:--+|__+|==+|\*\*\*+|~~+)\s*(?:\n|$)`,
    String.raw`\n\s*(?:sent|enviado|envoyé|get outlook|gesendet|sent via)\s+(?:from|with|using|desde|via|de|von|for)\b`,
    String.raw`\n\s*(?:on|el|le|am)\b[^\n]{4,120}\b(?:wrote|escribió|escribio|a écrit|schrieb)\s*:?`,
    String.raw`\n\s*-{2,}\s*(?:original|forwarded|mensaje original|mensaje reenviado)`,
    String.raw`\n\s*(?:from|de|von)\s*:\s*\S`,
    String.raw`\n\s*(?:this (?:e-?mail|message) (?:and|is|may)|confidential)`,
  ].join('|'),
  'iu',
);

export function isReaction(text: string): boolean {
  return REACTION.test(text);
}

/**
 * What the person wrote, without a signature below it and without our own words quoted in it, marked or not.
 * @param lastSent the last text sent to them.
 */
export function ownWords(text: string, lastSent: string | undefined): string {
  const below = BELOW.exec(text);
  let own = below && below.index > 0 ? text.slice(0, below.index) : text;
  if (own.trim() === '') own = text;
  // Quoted without a mark: the phone put our text below or above the answer.
  if (lastSent && lastSent.length >= 12) {
    const at = own.toLowerCase().indexOf(lastSent.toLowerCase());
    if (at >= 0) own = `${own.slice(0, at)}\n${own.slice(at + lastSent.length)}`;
  }
  // In quotes, a longer stretch that tells how to stop is ours too ("Reply STOP to end", funny).
  return own.replace(/["“«][^"”»\n]{0,300}(?:reply|text|responda|envíe)\s+(?:stop|alto)\b[^"”»\n]{0,120}["”»]/giu, ' ');
}
