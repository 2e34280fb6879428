import { formatPhone } from '@long-gate/core';
import PDFDocument from 'pdfkit';

/** A letter of authorisation: what the account holder of telephone numbers reads and signs. */
export interface Letter {
  /** What is authorised, such as `to port telephone numbers`. */
  subtitle: string;
  business: string;
  holderName: string;
  authorisedName: string;
  address: string;
  carrier: string;
  numbers: readonly string[];
  paragraphs: readonly string[];
  /** The day on which it would be signed. */
  day: string;
}

export interface Signature {
  name: string;
  day: string;
  /** A PNG; null where the typed name stands for it. */
  drawn: Buffer | null;
  ip: string;
}

/** The letter as a PDF (A4), with the signature where there is one. @throws Error for a drawing that is no picture. */
export async function letterPdf(t: Letter, signature: Signature | null): Promise<Buffer> {
  const doc = new PDFDocument({
    size: 'A4',
    margin: 64,
    info: { Title: 'Letter of authorisation', Author: t.business },
  });
  const pieces: Buffer[] = [];
  doc.on('data', (piece: Buffer) => pieces.push(piece));
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('end', () => resolve(Buffer.concat(pieces)));
    doc.on('error', reject);
  });
  doc.font('Helvetica-Bold').fontSize(18).text('Letter of authorisation').moveDown(0.3);
  doc.font('Helvetica').fontSize(11).text(t.subtitle).moveDown(1.2);
  const fact = (name: string, value: string): void => {
    doc
      .font('Helvetica-Bold')
      .text(`${name}: `, { continued: true })
      .font('Helvetica')
      .text(value || '–');
  };
  fact('Account holder', t.holderName);
  fact('Service address', t.address);
  fact('Present carrier', t.carrier);
  fact('For', t.business);
  doc.moveDown();
  for (const p of t.paragraphs) doc.text(p, { align: 'left' }).moveDown(0.7);
  doc.font('Helvetica-Bold').text(`Numbers (${t.numbers.length})`).font('Courier').moveDown(0.2);
  for (const n of t.numbers) doc.text(formatPhone(n));
  doc.font('Helvetica').moveDown(1.5);
  if (signature) {
    if (signature.drawn) doc.image(signature.drawn, { fit: [220, 80] }).moveDown(0.3);
    else doc.font('Helvetica-Oblique').fontSize(20).text(signature.name).fontSize(11).font('Helvetica');
    doc.text(`Signed by ${signature.name} on ${signature.day}`);
    if (signature.ip) doc.fontSize(9).text(`Signed electronically on a page of its own, from ${signature.ip}.`);
  } else {
    doc.text('Signature: ______________________________').moveDown(0.6);
    doc.text(`Name: ${t.authorisedName || '______________________________'}`).moveDown(0.6);
    doc.text('Date: ______________');
  }
  doc.end();
  return done;
}
