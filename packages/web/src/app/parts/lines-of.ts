/**
 * The lines of a text file in lots, read as they are wanted, so that a long file never lies in memory whole.
 * Line ends of any kind; a byte order mark is none of a line.
 */
export async function* linesOf(file: Blob, lot: number): AsyncGenerator<string[]> {
  const reader = file.stream().pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  let lines: string[] = [];
  try {
    for (;;) {
      const { done, value } = await reader.read();
      rest += value ?? '';
      // A carriage return at the very end may be the first half of a line end.
      const whole = done
        ? rest
        : rest.slice(0, Math.max(rest.lastIndexOf('\n'), rest.lastIndexOf('\r', rest.length - 2)) + 1);
      rest = rest.slice(whole.length);
      const some = whole.split(/\r\n|\r|\n/);
      if (!done || some.at(-1) === '') some.pop();
      lines.push(...some);
      while (lines.length >= lot) yield lines.splice(0, lot);
      if (done) break;
    }
    if (lines.length > 0) yield lines;
    lines = [];
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}
