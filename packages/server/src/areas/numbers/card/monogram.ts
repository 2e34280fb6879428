import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { create, type Font } from 'fontkit';
import { PNG } from 'pngjs';

/** Pixels a side; what phones show of a contact. */
const SIZE = 192;
/** The colour of the house, and of the letters on it. */
const GROUND = [0x0f, 0x5c, 0x63] as const;
const INK = [0xff, 0xff, 0xff] as const;
/** Each pixel is looked at so many times across and down, so that edges are smooth. */
const LOOKS = 4;
/** Pieces a curve is drawn in. */
const PIECES = 12;

interface Point {
  x: number;
  y: number;
}
type Edge = readonly [Point, Point];

let font: Promise<Font> | undefined;
/** The face the interface is set in, shipped with it. */
function face(): Promise<Font> {
  font ??= readFile(
    createRequire(import.meta.url).resolve('@fontsource/source-sans-3/files/source-sans-3-latin-600-normal.woff'),
  ).then((bytes) => create(bytes) as Font);
  return font;
}

/** The first letters of the first two words of a name. */
export function lettersOf(name: string): string {
  return name
    .split(/\s+/)
    .filter((w) => /[\p{L}\p{N}]/u.test(w))
    .slice(0, 2)
    .map((w) => [...w.replace(/[^\p{L}\p{N}]/gu, '')][0]?.toUpperCase() ?? '')
    .join('');
}

/** A plain picture with a name's first letters, as a PNG, which every phone shows on a contact card. */
export async function monogram(name: string): Promise<Buffer> {
  const edges = outline(await face(), lettersOf(name));
  const png = new PNG({ width: SIZE, height: SIZE, colorType: 2 });
  for (let y = 0; y < SIZE; y++) {
    const covered = coverage(edges, y);
    for (let x = 0; x < SIZE; x++)
      png.data.set(
        [...GROUND.map((g, i) => Math.round(g + ((INK[i] ?? 0) - g) * (covered[x] ?? 0))), 255],
        (y * SIZE + x) * 4,
      );
  }
  return PNG.sync.write(png, { colorType: 2 });
}

/** The edges of letters set in the middle of the picture, y downwards. */
function outline(f: Font, letters: string): Edge[] {
  const scale = (SIZE * 0.46) / f.capHeight;
  const { glyphs, positions } = f.layout(letters);
  const width = positions.reduce((sum, p) => sum + p.xAdvance, 0) * scale;
  let left = (SIZE - width) / 2;
  const base = (SIZE + f.capHeight * scale) / 2;
  return glyphs.flatMap((glyph, i) => {
    const at = (x: number, y: number): Point => ({ x: left + x * scale, y: base - y * scale });
    const edges = flattened(glyph.path.commands, at);
    left += (positions[i]?.xAdvance ?? 0) * scale;
    return edges;
  });
}

/** A path as straight edges. */
function flattened(
  commands: readonly { command: string; args: number[] }[],
  at: (x: number, y: number) => Point,
): Edge[] {
  const edges: Edge[] = [];
  let start: Point = { x: 0, y: 0 };
  let here = start;
  const to = (next: Point): void => {
    edges.push([here, next]);
    here = next;
  };
  for (const { command, args } of commands) {
    const points = Array.from({ length: args.length / 2 }, (_, i) => at(args[2 * i] ?? 0, args[2 * i + 1] ?? 0));
    const [a, b, c] = points;
    if (command === 'moveTo' && a) here = start = a;
    else if (command === 'lineTo' && a) to(a);
    else if (command === 'closePath') to(start);
    else {
      // One control point makes a quadratic curve, two a cubic one (de Casteljau).
      const control = c ? [here, a, b, c] : [here, a, b];
      for (let i = 1; i <= PIECES; i++) to(onCurve(control as Point[], i / PIECES));
    }
  }
  return edges;
}

function onCurve(points: readonly Point[], t: number): Point {
  const [first] = points;
  if (points.length === 1 && first) return first;
  const between = points.slice(1).map((p, i) => {
    const q = points[i] ?? p;
    return { x: q.x + (p.x - q.x) * t, y: q.y + (p.y - q.y) * t };
  });
  return onCurve(between, t);
}

/** How much of each pixel of a row lies inside, by the nonzero rule. */
function coverage(edges: readonly Edge[], y: number): number[] {
  const row = Array.from({ length: SIZE }, () => 0);
  for (let look = 0; look < LOOKS; look++) {
    const at = y + (look + 0.5) / LOOKS;
    const crossings = edges
      .filter(([p, q]) => p.y <= at !== q.y <= at)
      .map(([p, q]) => ({ x: p.x + ((at - p.y) * (q.x - p.x)) / (q.y - p.y), turn: p.y < q.y ? 1 : -1 }))
      .sort((a, b) => a.x - b.x);
    let winding = 0;
    crossings.forEach(({ x, turn }, i) => {
      winding += turn;
      const end = crossings[i + 1]?.x ?? x;
      if (winding === 0) return;
      for (let px = Math.max(0, Math.floor(x)); px < Math.min(SIZE, Math.ceil(end)); px++)
        row[px] = (row[px] ?? 0) + Math.max(0, Math.min(px + 1, end) - Math.max(px, x)) / LOOKS;
    });
  }
  return row;
}
