import type { QueryInterface } from 'sequelize';
import { REASSIGNED_ANSWERS } from '@long-gate/core';
import { addColumn, big, createTable, flag, index, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

/** The newest word by which an owner agreed to what is in force: see `lastConsentAt` in the core. */
const LAST_WORD = `(SELECT max(e.happened_at) FROM consent_event e WHERE e.business_id = consent_state.business_id AND e.e164 = consent_state.e164
  AND (e.kind = 'confirmed' OR (e.kind = 'granted' AND NOT e.awaits_confirmation))
  AND ((consent_state.informational = 'granted' AND e.purposes LIKE '%informational%') OR (consent_state.promotional = 'granted' AND e.purposes LIKE '%promotional%')))`;

/** When owners of numbers last agreed, what the reassigned numbers database says since, and who pays for asking. */
export async function reassignedNumbers(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'consent_state', 'agreedAt', maybe(big()));
  await qi.sequelize.query(
    `UPDATE consent_state SET agreed_at = ${LAST_WORD} WHERE informational = 'granted' OR promotional = 'granted'`,
  );
  await addColumn(qi, 'contact_number', 'agreedAt', maybe(big()));
  await addColumn(qi, 'contact_number', 'reassignment', text('clear'));
  await addColumn(qi, 'contact_number', 'reassignmentAskedAt', maybe(big()));
  await qi.sequelize.query(
    `UPDATE contact_number SET agreed_at = s.agreed_at FROM consent_state s WHERE s.business_id = contact_number.business_id AND s.e164 = contact_number.e164 AND s.agreed_at IS NOT NULL`,
  );
  await index(qi, 'contact_number', 'contact_number_reassignment', ['business_id', 'reassignment'], {
    where: `reassignment <> 'clear'`,
  });
  await createTable(qi, 'reassigned_answer', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    e164: text(),
    day: text(),
    answer: oneOf([...REASSIGNED_ANSWERS]),
    askedAt: big(),
  });
  await index(qi, 'reassigned_answer', 'reassigned_answer_number', ['business_id', 'e164', 'asked_at']);
  await addColumn(qi, 'textability_policy', 'reassignedDays', whole(30));
  await addColumn(qi, 'textability_policy', 'reassignedOnSchedule', flag(false));
  await addColumn(qi, 'textability_policy', 'reassignedBeforeDispatch', flag(false));
  await addColumn(qi, 'textability_policy', 'paidBy', text(''));
}
