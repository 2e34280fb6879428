import type { QueryInterface } from 'sequelize';
import { addColumn, big, createTable, flag, index, key, text } from '../platform/table.js';

/** The words of letters stay on file, and to whom each was addressed; so do pages that were seen behind personal links. */
export async function lettersKept(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'letter_words', {
    businessId: key(text()),
    sha256: key(text()),
    subject: text(),
    text: text(),
    sentAt: big(),
  });
  for (const table of ['personal_link', 'number_request'])
    for (const column of ['words', 'firstName', 'lastName']) await addColumn(qi, table, column, text(''));
  await addColumn(qi, 'page_version', 'behindLink', flag(false));
  // A pack asks for the letters of its numbers.
  await index(qi, 'number_request', 'number_request_old', ['business_id', 'old_e164']);
  await index(qi, 'number_request', 'number_request_given', ['business_id', 'new_e164'], {
    where: 'new_e164 IS NOT NULL',
  });
}
