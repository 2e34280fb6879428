import { formatPhone } from '@long-gate/core';
import { consentStateTable } from '../areas/consent/model.js';
import type { App } from '../app.js';
import { beginPdf } from '../platform/pdf.js';
import { wordsOn } from './demo-page.js';
import { firstDesk } from './first-desk.js';
import { BUSINESSES, DEMO_START, PAPER_FORM } from './scenario.data.js';

/** Some of those whose consent was only claimed had signed at the counter after all: the stack of their forms, filed. */
export async function seedFiledForm(app: App): Promise<void> {
  const desk = await firstDesk(app);
  const [first] = BUSINESSES;
  if (!desk || !first) return;
  const { businessId, administrator } = desk;
  const { db } = app.platform;
  const claimed = await db.of(consentStateTable).findAll({
    where: { businessId, promotional: 'unproven' },
    order: [['e164', 'DESC']],
    limit: PAPER_FORM.people,
  });
  const e164s = claimed.map((x) => x.e164);
  if (e164s.length === 0) return;
  const names = await app.contacts.names(db, businessId, e164s);
  const disclosure = wordsOn(first, 'promotional');
  const pdf = beginPdf(PAPER_FORM.title, DEMO_START, 'LETTER');
  e164s.forEach((e164, i) => {
    const name = names.get(e164)?.name ?? '';
    if (i > 0) pdf.doc.addPage();
    pdf.soft(first.legalName);
    pdf.strong(PAPER_FORM.title, 20);
    pdf.doc.moveDown();
    pdf.say(disclosure, 11);
    pdf.doc.moveDown(2);
    for (const line of [`Ticked: yes`, `Name: ${name}`, `Mobile number: ${formatPhone(e164)}`, `Signed: ${name}`])
      pdf.say(line, 12);
    pdf.say(`Date: ${PAPER_FORM.signedOn}`, 12);
  });
  await app.forms.file(
    administrator,
    businessId,
    {
      whom: { listId: null, filter: null, e164s, behind: null, claimedBy: null },
      name: PAPER_FORM.file,
      bytes: await pdf.end(),
      purposes: ['promotional'],
      signedOn: PAPER_FORM.signedOn,
      disclosure,
    },
    'demo-form',
  );
}
