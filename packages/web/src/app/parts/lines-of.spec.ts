import { linesOf } from './lines-of';

describe('the lines of a file', () => {
  const read = async (text: string | Uint8Array<ArrayBuffer>, lot = 2): Promise<string[][]> => {
    const lots: string[][] = [];
    for await (const lines of linesOf(new Blob([text]), lot)) lots.push(lines);
    return lots;
  };

  it('come in lots, whichever way lines end, with and without an end of the last', async () => {
    for (const text of ['a\nb\nc', 'a\nb\nc\n', 'a\r\nb\r\nc\r\n', 'a\rb\rc', 'a\rb\nc\r\n'])
      expect(await read(text))
        .withContext(JSON.stringify(text))
        .toEqual([['a', 'b'], ['c']]);
    expect(await read('a\n\nb', 9)).toEqual([['a', '', 'b']]);
  });

  it('are none of an empty file, and a mark at its head is part of none', async () => {
    expect(await read('')).toEqual([]);
    expect(await read(new Uint8Array([0xef, 0xbb, 0xbf, 0x61]))).toEqual([['a']]);
  });

  it('are all there of a long file, none torn where it is read in pieces', async () => {
    const lines = Array.from({ length: 120_000 }, (_, i) => `201555${i}`);
    for (const end of ['\n', '\r\n', '\r']) {
      const lots = await read(lines.join(end), 2000);
      expect(lots.length).toBe(60);
      expect(lots.flat()).withContext(JSON.stringify(end)).toEqual(lines);
    }
  });

  it('are all there also where a disk gives the whole file at once', async () => {
    const lines = Array.from({ length: 300_000 }, (_, i) => String(i));
    const file = {
      stream: () =>
        new ReadableStream<Uint8Array<ArrayBuffer>>({
          start: (to) => {
            to.enqueue(new TextEncoder().encode(lines.join('\n')));
            to.close();
          },
        }),
    };
    const lots: string[][] = [];
    for await (const some of linesOf(file, 2000)) lots.push(some);
    expect(lots.length).toBe(150);
    expect(lots.flat()).toEqual(lines);
  });
});
