/** Three words in a row, each time. */
function shingles(text: string): Set<string> {
  const words = text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
  return new Set(words.slice(2).map((w, i) => `${words[i]} ${words[i + 1]} ${w}`));
}

/** The share of what two texts say that both say, by three words in a row; 0 where either says too little to tell. */
export function likeness(a: string, b: string): number {
  const [x, y] = [shingles(a), shingles(b)];
  if (x.size < 12 || y.size < 12) return 0;
  const both = [...x].filter((s) => y.has(s)).length;
  return both / (x.size + y.size - both);
}
