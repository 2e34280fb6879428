import type { QueryInterface } from 'sequelize';
import { asOfADay } from './as-of-a-day.js';
import { campaignTries } from './campaign-tries.js';
import { chainStretches } from './chain-stretches.js';
import { contactsOfIntakes } from './contacts-of-intakes.js';
import { claimLots } from './claim-lots.js';
import { consentExpiry } from './consent-expiry.js';
import { consentSources } from './consent-sources.js';
import { contactsInDepth } from './contacts-in-depth.js';
import { conversationCounts } from './conversation-counts.js';
import { conversationsWaiting } from './conversations-waiting.js';
import { daysOfTheBusiness } from './days-of-the-business.js';
import { evidencePacks } from './evidence-packs.js';
import { filedForms } from './filed-forms.js';
import { fewerIndexes } from './fewer-indexes.js';
import { figuresOfIndexes } from './figures-of-indexes.js';
import { first } from './first/index.js';
import { intakesAgain } from './intakes-again.js';
import { keywords } from './keywords.js';
import { invitations } from './invitations.js';
import { keptTables } from './kept-tables.js';
import { lettersHeldBack } from './letters-held-back.js';
import { latencyWeeks } from './latency-weeks.js';
import { narrowContactIndexes } from './narrow-contact-indexes.js';
import { ledgerCounts } from './ledger-counts.js';
import { leftOfTheErased } from './left-of-the-erased.js';
import { lettersKept } from './letters-kept.js';
import { ledgerSearch } from './ledger-search.js';
import { numbersEnded } from './numbers-ended.js';
import { numbersOfNobody } from './numbers-of-nobody.js';
import { offersByNumber } from './offers-by-number.js';
import { optOutLists } from './opt-out-lists.js';
import { partsOfCharges } from './parts-of-charges.js';
import { pageBuilder } from './page-builder.js';
import { pageWeeks } from './page-weeks.js';
import { recordedRelationships } from './recorded-relationships.js';
import { reassignedNumbers } from './reassigned-numbers.js';
import { refusalsKept } from './refusals-kept.js';
import { registrationInDepth } from './registration-in-depth.js';
import { sendingLater } from './sending-later.js';
import { suppressionLists } from './suppression-lists.js';
import { textLinks } from './text-links.js';

/** One step of the database's shape. Append only: what was released is never changed. */
export interface Migration {
  name: string;
  up: (qi: QueryInterface) => Promise<void>;
}

export const MIGRATIONS: readonly Migration[] = [
  { name: '0001-tables', up: first },
  { name: '0002-narrow-contact-indexes', up: narrowContactIndexes },
  { name: '0003-kept-tables', up: keptTables },
  { name: '0004-page-weeks', up: pageWeeks },
  { name: '0005-latency-weeks', up: latencyWeeks },
  { name: '0006-numbers-ended', up: numbersEnded },
  { name: '0007-sending-later', up: sendingLater },
  { name: '0008-conversations-waiting', up: conversationsWaiting },
  { name: '0009-filed-forms', up: filedForms },
  { name: '0010-intakes-again', up: intakesAgain },
  { name: '0011-days-of-the-business', up: daysOfTheBusiness },
  { name: '0012-contacts-of-intakes', up: contactsOfIntakes },
  { name: '0013-campaign-tries', up: campaignTries },
  { name: '0014-registration-in-depth', up: registrationInDepth },
  { name: '0015-contacts-in-depth', up: contactsInDepth },
  { name: '0016-reassigned-numbers', up: reassignedNumbers },
  { name: '0017-evidence-packs', up: evidencePacks },
  { name: '0018-suppression-lists', up: suppressionLists },
  { name: '0019-keywords', up: keywords },
  { name: '0020-ledger-search', up: ledgerSearch },
  { name: '0021-page-builder', up: pageBuilder },
  { name: '0022-invitations', up: invitations },
  { name: '0023-figures-of-indexes', up: figuresOfIndexes },
  { name: '0024-consent-sources', up: consentSources },
  { name: '0025-as-of-a-day', up: asOfADay },
  { name: '0026-consent-expiry', up: consentExpiry },
  { name: '0027-text-links', up: textLinks },
  { name: '0028-numbers-of-nobody', up: numbersOfNobody },
  { name: '0029-fewer-indexes', up: fewerIndexes },
  { name: '0030-ledger-counts', up: ledgerCounts },
  { name: '0031-claim-lots', up: claimLots },
  { name: '0032-conversation-counts', up: conversationCounts },
  { name: '0033-chain-stretches', up: chainStretches },
  { name: '0034-recorded-relationships', up: recordedRelationships },
  { name: '0035-opt-out-lists', up: optOutLists },
  { name: '0036-letters-kept', up: lettersKept },
  { name: '0037-left-of-the-erased', up: leftOfTheErased },
  { name: '0038-letters-held-back', up: lettersHeldBack },
  { name: '0039-refusals-kept', up: refusalsKept },
  { name: '0040-offers-by-number', up: offersByNumber },
  { name: '0041-parts-of-charges', up: partsOfCharges },
];
