import { createRequire } from 'node:module';
import { formatPhone, PURPOSES, type LedgerEvent, type NumberStanding } from '@long-gate/core';
import { openSync } from 'fontkit';
import { DateTime } from 'luxon';
import PDFDocument from 'pdfkit';
import type { ShownText } from './pack-contents.js';

const FONTS = createRequire(import.meta.url);
const font = (face: string): string =>
  FONTS.resolve(`@fontsource/source-sans-3/files/source-sans-3-latin-${face}.woff`);
const PLAIN = font('400-normal');
const BOLD = font('600-normal');
const drawn = openSync(PLAIN) as { hasGlyphForCodePoint: (point: number) => boolean };

/** A text in what the document's typeface has: characters it lacks by their number, and no line that is drawn over. */
export function legible(text: string): string {
  return [...text.replace(/\r\n?/g, '\n').replace(/\t/g, ' ')]
    .map((c) => {
      const point = c.codePointAt(0) ?? 0;
      if (c === '\n' || drawn.hasGlyphForCodePoint(point)) return c;
      return `[U+${point.toString(16).toUpperCase().padStart(4, '0')}]`;
    })
    .join('');
}

export interface Readable {
  business: { legalName: string; timeZone: string };
  numbers: readonly string[];
  names: ReadonlyMap<string, string>;
  question: string;
  madeBy: string;
  madeAt: number;
  standing: readonly NumberStanding[];
  events: readonly LedgerEvent[];
  texts: readonly ShownText[];
  head: { count: number; head: string };
}

/** The evidence for people to read, as a PDF (A4): each number with where it stood, its events and its texts. */
export async function readableEvidence(e: Readable): Promise<Buffer> {
  const doc = new PDFDocument({
    size: 'A4',
    margin: 56,
    bufferPages: false,
    info: {
      Title: `Evidence of consent, ${e.business.legalName}`,
      Author: 'Long Gate',
      CreationDate: new Date(e.madeAt),
    },
  });
  doc.registerFont('plain', PLAIN).registerFont('bold', BOLD);
  const pieces: Buffer[] = [];
  doc.on('data', (piece: Buffer) => pieces.push(piece));
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('end', () => resolve(Buffer.concat(pieces)));
    doc.on('error', reject);
  });
  const moment = (at: number): string =>
    DateTime.fromMillis(at, { zone: e.business.timeZone }).toFormat('d LLL yyyy, HH:mm:ss ZZZZ', { locale: 'en-US' });
  const say = (words: string, size = 10.5): void => {
    doc.font('plain').fontSize(size).fillColor('#1d2a2f').text(legible(words));
  };
  const soft = (words: string): void => {
    doc.font('plain').fontSize(9).fillColor('#56646a').text(legible(words));
  };
  const strong = (words: string, size = 10.5): void => {
    doc.font('bold').fontSize(size).fillColor('#1d2a2f').text(legible(words));
  };
  strong('Evidence of consent', 20);
  say(e.business.legalName, 12);
  doc.moveDown(0.6);
  say(`Made ${moment(e.madeAt)} by ${e.madeBy}.`);
  if (e.question) say(`For: ${e.question}`);
  say(
    `About ${e.numbers.length === 1 ? 'one number' : `${e.numbers.length.toLocaleString('en-US')} numbers`}, from a ledger of ${e.head.count.toLocaleString('en-US')} events.`,
  );
  soft(
    'This is for reading. The exact words stand in the files beside it, which can be checked: read-me.txt says how. A character this typeface lacks is written by its number.',
  );

  const events = groupOf(e.events, (x) => x.e164);
  const texts = groupOf(e.texts, (x) => x.e164);
  for (const s of e.standing) {
    doc.moveDown(1);
    strong([formatPhone(s.e164), e.names.get(s.e164)].filter(Boolean).join(', '), 14);
    for (const p of PURPOSES) say(`${p}: ${s[p]}`);
    doc.moveDown(0.4);
    strong('What was agreed and refused');
    const own = events.get(s.e164) ?? [];
    if (own.length === 0) say('Nothing is on file.');
    for (const x of own) {
      doc.moveDown(0.3);
      strong(
        `${moment(x.happenedAt)}: ${x.kind}${x.awaitsConfirmation ? ', a YES was asked for' : ''}, ${x.purposes.join(', ')} texts, by ${x.how}`,
      );
      if (x.disclosure) say(`“${x.disclosure}”`);
      soft(
        [
          x.disclosureVersion,
          `recorded ${moment(x.recordedAt)} by ${x.recordedBy}`,
          ...Object.entries(x.evidence)
            .filter(([, v]) => v !== '')
            .map(([k, v]) => `${k}: ${v}`),
          `event ${x.seq}, SHA-256 ${x.hash}`,
        ]
          .filter(Boolean)
          .join(' · '),
      );
    }
    doc.moveDown(0.4);
    strong('Texts and calls');
    const written = texts.get(s.e164) ?? [];
    if (written.length === 0) say('None.');
    for (const t of written) {
      doc.moveDown(0.2);
      const way = t.direction === 'in' ? 'from the person' : `to the person, ${t.kind}`;
      say(`${moment(t.sentAt ?? t.at)}, ${way}: ${t.text === '' ? '(no words)' : t.text}`);
      const gate = t.gate && `the gate: ${t.gate.verdict}${t.gate.why ? `, ${t.gate.post}: ${t.gate.why}` : ''}`;
      const became = t.direction === 'out' && `${t.state}${t.finalAt === null ? '' : ` ${moment(t.finalAt)}`}`;
      const rest = [gate, became, t.failure].filter((x) => x !== '' && x !== null && x !== false);
      if (rest.length > 0) soft(rest.join(' · '));
    }
  }
  doc.end();
  return done;
}

function groupOf<T>(items: readonly T[], of: (item: T) => string): Map<string, T[]> {
  const by = new Map<string, T[]>();
  for (const item of items) {
    const list = by.get(of(item));
    if (list) list.push(item);
    else by.set(of(item), [item]);
  }
  return by;
}
