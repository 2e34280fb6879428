/**
 * The lines of a text file in lots, read as they are wanted, so that a long file never lies in memory whole.
 * Line ends of any kind; a byte order mark is none of a line.
 */
export async function* linesOf(file: Pick<Blob, 'stream'>, lot: number): AsyncGenerator<string[]> {
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
      // A disk may give all of it at once: one by one, and cut by place rather than off the front.
      let from = 0;
      if (lines.length + some.length >= lot) {
        from = lot - lines.length;
        yield [...lines, ...some.slice(0, from)];
        lines = [];
        for (; from + lot <= some.length; from += lot) yield some.slice(from, from + lot);
      }
      for (; from < some.length; from++) lines.push(some[from] ?? '');
      if (done) break;
    }
    if (lines.length > 0) yield lines;
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}
