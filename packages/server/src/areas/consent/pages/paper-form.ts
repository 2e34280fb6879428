import type { PublicPage } from '@long-gate/contracts';
import type { PageLanguage } from '@long-gate/core';
import { beginPdf } from '../../../platform/pdf.js';

/** Side of a box to tick, points; and what stands between it and its words. */
const BOX = 11;
const GAP = 9;
/** A line to write on, and the room above it for a hand. */
const LINE_ROOM = 30;

/** What the form says beside the page's own words: its fields in rows of two, and what the boxes are for. */
const WORDS: Record<PageLanguage, { lines: readonly (readonly [string, string])[]; tick: string }> = {
  en: {
    lines: [
      ['Name', 'Mobile number'],
      ['Signature', 'Date'],
    ],
    tick: 'Tick what you agree to. You can agree to one without the other, or to none.',
  },
  es: {
    lines: [
      ['Nombre', 'Número de móvil'],
      ['Firma', 'Fecha'],
    ],
    tick: 'Marque lo que acepta. Puede aceptar uno sin el otro, o ninguno.',
  },
};

/**
 * A form for paper, with the words of an opt-in page to the letter and a box of its own for each kind of text, none
 * ticked: it is signed by hand, and filed by its scan. US Letter; as many sheets as are asked for, all alike.
 * @param version of the page's words, which stands at the foot with their digest.
 */
export async function paperForm(page: PublicPage, version: number, sheets: number, at: number): Promise<Buffer> {
  const pdf = beginPdf(page.title, at, 'LETTER');
  const { doc } = pdf;
  for (let i = 0; i < sheets; i++) {
    if (i > 0) doc.addPage();
    pdf.soft(page.business);
    pdf.strong(page.title, 20);
    doc.moveDown(0.4);
    if (page.intro) pdf.say(page.intro, 12);
    doc.moveDown(0.8);
    const left = doc.x;
    for (const { disclosure } of page.purposes) {
      const top = doc.y;
      doc
        .lineWidth(0.8)
        .rect(left, top + 2, BOX, BOX)
        .stroke('#1d2a2f');
      doc.x = left + BOX + GAP;
      pdf.say(disclosure, 11);
      doc.x = left;
      doc.moveDown(0.9);
    }
    pdf.soft(WORDS[page.language].tick);
    const width = (doc.page.width - doc.page.margins.left - doc.page.margins.right - 24) / 2;
    for (const row of WORDS[page.language].lines) {
      const y = doc.y + LINE_ROOM;
      row.forEach((label, k) => {
        const x = left + k * (width + 24);
        doc
          .lineWidth(0.6)
          .moveTo(x, y)
          .lineTo(x + width, y)
          .stroke('#1d2a2f');
        doc
          .font('plain')
          .fontSize(9)
          .fillColor('#56646a')
          .text(label, x, y + 3, { width });
      });
      doc.x = left;
    }
    doc.moveDown(2);
    pdf.soft(`/join/${page.slug}, words of version ${version}, ${page.words.slice(0, 16)}`);
  }
  return pdf.end();
}
