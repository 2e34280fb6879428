import { createRequire } from 'node:module';
import { openSync } from 'fontkit';
import PDFDocument from 'pdfkit';

const FONTS = createRequire(import.meta.url);
const font = (face: string): string =>
  FONTS.resolve(`@fontsource/source-sans-3/files/source-sans-3-latin-${face}.woff`);
const PLAIN = font('400-normal');
const BOLD = font('600-normal');
interface Drawn {
  hasGlyphForCodePoint: (point: number) => boolean;
}
let opened: Drawn | undefined;
/** What the typeface has; opened when it is first asked, which for most texts is never. */
const drawn = (): Drawn => (opened ??= openSync(PLAIN) as Drawn);

/** A text in what the document's typeface has: characters it lacks by their number, and no line that is drawn over. */
export function legible(text: string): string {
  if (/^[\x20-\x7e]*$/.test(text)) return text;
  return [...text.replace(/\r\n?/g, '\n').replace(/\t/g, ' ')]
    .map((c) => {
      const point = c.codePointAt(0) ?? 0;
      if (c === '\n' || drawn().hasGlyphForCodePoint(point)) return c;
      return `[U+${point.toString(16).toUpperCase().padStart(4, '0')}]`;
    })
    .join('');
}

/** A document that is being set, and the ways in which words are put on it. */
export interface Pdf {
  doc: PDFKit.PDFDocument;
  say: (words: string, size?: number) => void;
  soft: (words: string) => void;
  strong: (words: string, size?: number) => void;
  /** Ends it. @returns all of it. */
  end: () => Promise<Buffer>;
}

/** Begins a document in the application's own typeface, which goes into it. @param at when it is made. */
export function beginPdf(title: string, at: number, size: 'A4' | 'LETTER' = 'A4'): Pdf {
  const doc = new PDFDocument({
    size,
    margin: 56,
    bufferPages: false,
    info: { Title: title, Author: 'Long Gate', CreationDate: new Date(at) },
  });
  doc.registerFont('plain', PLAIN).registerFont('bold', BOLD);
  const pieces: Buffer[] = [];
  doc.on('data', (piece: Buffer) => pieces.push(piece));
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('end', () => resolve(Buffer.concat(pieces)));
    doc.on('error', reject);
  });
  return {
    doc,
    say: (words, size = 10.5) => void doc.font('plain').fontSize(size).fillColor('#1d2a2f').text(legible(words)),
    soft: (words) => void doc.font('plain').fontSize(9).fillColor('#56646a').text(legible(words)),
    strong: (words, size = 10.5) => void doc.font('bold').fontSize(size).fillColor('#1d2a2f').text(legible(words)),
    end: () => {
      doc.end();
      return done;
    },
  };
}
