import type { DossierFileValue } from '@long-gate/contracts';
import { formatPhone, useCase } from '@long-gate/core';
import PDFDocument from 'pdfkit';

/** A dossier as a PDF (A4), to be kept or handed on. @param day how a moment is written. */
export async function dossierPdf(d: DossierFileValue, day: (at: number) => string): Promise<Buffer> {
  const doc = new PDFDocument({
    size: 'A4',
    margin: 56,
    info: { Title: `Registration of ${d.brand.body.legalName}`, Author: 'Long Gate' },
  });
  const pieces: Buffer[] = [];
  doc.on('data', (piece: Buffer) => pieces.push(piece));
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('end', () => resolve(Buffer.concat(pieces)));
    doc.on('error', reject);
  });
  const heading = (words: string): void => {
    doc.moveDown(0.8).font('Helvetica-Bold').fontSize(14).text(words).fontSize(10.5).moveDown(0.3);
  };
  const fact = (name: string, value: string): void => {
    if (value.trim() === '') return;
    doc.font('Helvetica-Bold').text(`${name}: `, { continued: true }).font('Helvetica').text(value);
  };
  const filed = (f: { state: string; attempt: number; submittedAt: number | null; decidedAt: number | null }): void => {
    fact(
      'State',
      [
        f.state,
        f.attempt > 0 ? `try ${f.attempt}` : '',
        f.submittedAt === null ? '' : `submitted ${day(f.submittedAt)}`,
        f.decidedAt === null ? '' : `decided ${day(f.decidedAt)}`,
      ]
        .filter(Boolean)
        .join(', '),
    );
  };
  const { body: b } = d.brand;
  doc.font('Helvetica-Bold').fontSize(20).text('Registration dossier').moveDown(0.2);
  doc
    .font('Helvetica')
    .fontSize(11)
    .text(`${b.legalName}, written ${day(d.writtenAt)}`)
    .fontSize(10.5);

  heading('Legal identity and brand');
  filed(d.brand);
  fact('Vetting score', d.brand.score === null ? '' : String(d.brand.score));
  fact('Legal name', b.legalName);
  fact('Trading name', b.tradingName);
  fact('Name line', d.nameLine);
  fact('Legal form', b.form);
  fact('Relation', b.relation);
  fact('Tax number', d.brand.taxNumberMasked);
  fact('Industry', b.industry);
  fact('States', b.regions.join(', '));
  fact('Listed', [b.exchange, b.ticker].filter(Boolean).join(' '));
  fact('Physical address', [b.street, b.city, `${b.state} ${b.postalCode}`].filter((p) => p.trim()).join(', '));
  for (const a of b.moreAddresses)
    fact(`Address, ${a.what || 'other'}`, [a.street, a.city, `${a.state} ${a.postalCode}`].join(', '));
  for (const p of b.representatives)
    fact('Representative', [p.name, p.title, p.phone, p.email].filter(Boolean).join(', '));
  fact('Website', b.website);
  fact('E-mail', b.email);
  fact('Status mail', b.statusEmail);
  for (const r of d.brand.reasons) fact('Declined', r.message);

  for (const c of d.campaigns) {
    heading(`Campaign ${c.name}`);
    filed(c);
    fact('Use case', [useCase(c.body.useCase)?.label ?? c.body.useCase, ...c.body.subUses].join(', '));
    fact('What is sent', c.body.description);
    fact('How people agree', c.body.agreement);
    c.body.samples.forEach((s, i) => fact(`Sample ${i + 1}`, s));
    const declared = [
      c.body.hasLinks && 'links',
      c.body.hasPhones && 'telephone numbers',
      c.body.ageRestricted && 'age-restricted',
      c.body.lending && 'direct lending',
    ].filter((x) => x !== false);
    fact('Declared', declared.join(', ') || 'nothing');
    fact('Joining message', c.body.optInMessage);
    fact('Answer to STOP', c.body.optOutMessage);
    fact('Answer to HELP', c.body.helpMessage);
    fact('Privacy page', c.body.privacyUrl);
    fact('Terms page', c.body.termsUrl);
    fact('Numbers', c.numbers.map(formatPhone).join(', '));
    for (const r of c.reasons) fact('Declined', r.message);
    for (const t of c.tries.slice(0, -1))
      fact(
        `Try ${t.attempt}`,
        [t.state, t.decidedAt === null ? '' : day(t.decidedAt), ...t.reasons.map((r) => r.message)]
          .filter(Boolean)
          .join(' · '),
      );
  }
  for (const v of d.tollFree) {
    heading(`Toll-free number ${formatPhone(v.e164)}`);
    filed(v);
    fact('Use', useCase(v.body.useCase)?.label ?? '');
    fact('Texts a month', v.body.volume > 0 ? `up to ${v.body.volume.toLocaleString('en-US')}` : '');
    fact('What is sent', v.body.description);
    fact('How people agree', v.body.agreement);
    v.body.samples.forEach((s, i) => fact(`Sample ${i + 1}`, s));
    fact('Shown at', v.body.proofUrl);
    for (const r of v.reasons) fact('Declined', r.message);
  }
  doc.end();
  return done;
}
