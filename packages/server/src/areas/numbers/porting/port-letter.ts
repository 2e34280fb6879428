import { formatPhone } from '@long-gate/core';
import PDFDocument from 'pdfkit';

export interface LetterText {
  business: string;
  holderName: string;
  authorisedName: string;
  address: string;
  losingCarrier: string;
  numbers: readonly string[];
  day: string;
}

/** What the account holder authorises, in whole sentences. */
export function letterParagraphs(t: LetterText): string[] {
  return [
    `I am the account holder, or may decide for the account holder, of the telephone numbers named here, which are with ${t.losingCarrier || 'the present carrier'} under the name ${t.holderName || '…'}.`,
    `I authorise ${t.business} and the provider it uses to have these numbers ported away from that carrier, and to ask it for the records of the account that are needed for this (customer service record).`,
    'The present service stays on and paid until the port has completed. What the present carrier charges for leaving is settled with it by the account holder.',
    'This letter is good for 30 days from the day of the signature and covers no other number than those named.',
  ];
}

/** The letter of authorisation as a PDF (A4), with the signature where there is one. */
export async function letterPdf(
  t: LetterText,
  signature: { name: string; day: string; drawn: Buffer | null; ip: string } | null,
): Promise<Buffer> {
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
  doc.font('Helvetica').fontSize(11).text('to port telephone numbers').moveDown(1.2);
  const fact = (name: string, value: string): void => {
    doc
      .font('Helvetica-Bold')
      .text(`${name}: `, { continued: true })
      .font('Helvetica')
      .text(value || '–');
  };
  fact('Account holder', t.holderName);
  fact('Service address', t.address);
  fact('Present carrier', t.losingCarrier);
  fact('To be ported for', t.business);
  doc.moveDown();
  for (const p of letterParagraphs(t)) doc.text(p, { align: 'left' }).moveDown(0.7);
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
