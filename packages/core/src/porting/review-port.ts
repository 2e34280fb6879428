import { finding, type Finding } from '../finding/finding.js';
import { addBusinessDays, addDays, daysBetween, isDay, type IsoDay } from './business-days.js';
import { compareRecord, type ComparedField } from './compare-record.js';
import {
  factsNeeded,
  isSimplePort,
  PORT_ACKNOWLEDGEMENTS,
  type CustomerRecord,
  type PortKind,
  type PortRequest,
  type SignedLetter,
} from './port-request.js';
import { PRACTICE_DAYS } from './port-timeline.js';

/** A letter or a bill older than this on the day of submission is refused. source: rules.md, Porting. */
export const DOCUMENT_DAYS = 30;

/**
 * What would be rejected, before the losing carrier says so.
 * @param submitOn the day on which the request would leave; letter, bill and PIN must be good on it.
 * @param csr the old carrier's record, where it answers with one.
 * @param focOn the day the numbers change over, where the carrier has named it.
 */
export function reviewPort(
  request: PortRequest,
  { csr, submitOn, focOn = '' }: { csr?: CustomerRecord | null; submitOn: IsoDay; focOn?: IsoDay },
): Finding[] {
  return [
    ...reviewNumbers(request),
    ...reviewFacts(request, submitOn, focOn),
    ...reviewDocuments(request, submitOn),
    ...(csr ? reviewAgainstRecord(request, csr) : []),
    ...PORT_ACKNOWLEDGEMENTS.filter((a) => !request.acknowledged.includes(a.key)).map((a) =>
      finding('port-not-acknowledged', `acknowledged.${a.key}`, `Not yet accepted: ${a.text}`, 'Read it and tick it.'),
    ),
  ];
}

function kindsOf(request: PortRequest): PortKind[] {
  return [...new Set(request.numbers.flatMap((n) => (n.kind ? [n.kind] : [])))];
}

function reviewNumbers({ numbers }: PortRequest): Finding[] {
  const out: Finding[] = [];
  if (numbers.length === 0)
    out.push(finding('port-no-numbers', 'numbers', 'No number is named.', 'Add the numbers that shall come.'));
  for (const n of numbers) {
    if (n.kind === null || n.portable === null)
      out.push(
        finding(
          'port-number-unchecked',
          `numbers.${n.e164}`,
          `${n.e164} has not been tested yet.`,
          'Run the test: it tells the kind of line and whether we serve its rate centre.',
        ),
      );
    else if (!n.portable)
      out.push(
        finding(
          'port-not-portable',
          `numbers.${n.e164}`,
          `${n.e164} cannot be ported to us: ${n.whyNot}`,
          'Take it out, or have texting added to it where it is.',
        ),
      );
  }
  const carriers = [...new Set(numbers.map((n) => n.losingCarrier).filter((c) => c !== ''))];
  if (carriers.length > 1)
    out.push(
      finding(
        'port-mixed-carriers',
        'numbers',
        `These numbers are with ${carriers.join(' and ')}.`,
        'One request goes to one losing carrier and one account: make a request for each.',
      ),
    );
  return out;
}

/** The words for each fact, as they stand in findings. */
const FACT_WORDS: Partial<Record<string, [what: string, fix: string]>> = {
  accountNumber: ['The account number is missing.', 'It stands on the bill; leading zeros count.'],
  holderName: ['The holder’s name is missing.', 'Write it exactly as the old carrier has it.'],
  authorisedName: ['Who signs for the holder is missing.', 'Name a person who may decide about the account.'],
  street: ['The service address is missing.', 'It is where the line is, not where the bill goes.'],
  city: ['The city of the service address is missing.', 'Write it as in the record.'],
  state: ['The state of the service address is missing.', 'Two letters, such as NJ.'],
  billingNumber: [
    'The billing telephone number is missing.',
    'The number the account is billed under; it is on the bill.',
  ],
  responsibleOrganisation: [
    'The responsible organisation is missing.',
    'Five letters and digits, such as HRT01; the present toll-free provider tells it.',
  ],
};

function reviewFacts(request: PortRequest, submitOn: IsoDay, focOn: IsoDay): Finding[] {
  const { facts } = request;
  const kinds = kindsOf(request);
  const needed = factsNeeded(kinds);
  const out: Finding[] = [];
  for (const field of needed) {
    const words = FACT_WORDS[field];
    if (words && facts[field] === '') out.push(finding('port-fact-missing', field, words[0], words[1]));
  }
  if (!/^\d{5}(-\d{4})?$/.test(facts.postalCode))
    out.push(
      finding(
        'port-zip-malformed',
        'postalCode',
        facts.postalCode === '' ? 'The ZIP code is missing.' : `“${facts.postalCode}” is no ZIP code.`,
        'Five digits, of the billing address for a wireless number, of the service address for others.',
        facts.postalCode === '' ? undefined : { start: 0, end: facts.postalCode.length },
      ),
    );
  if (needed.has('pin')) out.push(...reviewPin(facts.pin, facts.pinExpires, submitOn));
  if (needed.has('responsibleOrganisation') && facts.responsibleOrganisation !== '') {
    if (!/^[A-Z0-9]{5}$/i.test(facts.responsibleOrganisation))
      out.push(
        finding(
          'port-responsible-organisation-malformed',
          'responsibleOrganisation',
          'A responsible organisation has five letters or digits.',
          'Ask the present toll-free provider for its code.',
          { start: 0, end: facts.responsibleOrganisation.length },
        ),
      );
  }
  const moving = request.numbers.map((n) => n.e164);
  const billingLeaves = facts.billingNumber !== '' && moving.includes(facts.billingNumber);
  if (facts.linesStay && billingLeaves && facts.newBillingNumber === '')
    out.push(
      finding(
        'port-new-billing-number-missing',
        'newBillingNumber',
        'The billing number leaves while other lines stay.',
        'Name the number the remaining lines are billed under from then on.',
      ),
    );
  if (facts.newBillingNumber !== '' && moving.includes(facts.newBillingNumber))
    out.push(
      finding(
        'port-new-billing-number-leaves',
        'newBillingNumber',
        'The new billing number is among those that leave.',
        'Name one that stays.',
      ),
    );
  out.push(...reviewOldService(request, submitOn, focOn));
  return out;
}

/**
 * An end of the old service before the numbers have changed over loses them; one behind that day is nobody's trouble.
 * As long as no day is named, what practice takes at most stands for it. source: rules.md, Porting, rule of rules.
 */
function reviewOldService(request: PortRequest, submitOn: IsoDay, focOn: IsoDay): Finding[] {
  const ends = request.facts.oldServiceEnds;
  if (ends === '') return [];
  const practice = isSimplePort(request.numbers) ? PRACTICE_DAYS.simple : PRACTICE_DAYS.other;
  const over = focOn || addBusinessDays(submitOn, practice.to);
  const span = { start: 0, end: ends.length };
  if (ends <= over)
    return [
      finding(
        'port-old-service-ends',
        'oldServiceEnds',
        focOn
          ? `The old service has been asked to end on ${ends}, and the numbers change over on ${focOn}. A number whose service ends before is lost.`
          : `The old service has been asked to end on ${ends}; the port may take until ${over}. A number whose service ends before is lost.`,
        'Call the old carrier and take the cancellation back; the port itself ends the line.',
        span,
      ),
    ];
  return focOn
    ? []
    : [
        finding(
          'port-old-service-ends-later',
          'oldServiceEnds',
          `The old service ends on ${ends}. That is late enough as practice goes, but no day is named yet.`,
          'Move it if the FOC date comes near it.',
          span,
        ),
      ];
}

function reviewPin(pin: string, expires: IsoDay, submitOn: IsoDay): Finding[] {
  if (pin === '')
    return [
      finding(
        'port-fact-missing',
        'pin',
        'The port-out PIN is missing.',
        'The holder asks the old carrier for one; some take the last four of the SSN or tax number instead.',
      ),
    ];
  const out: Finding[] = [];
  if (!/^[0-9A-Za-z]{4,15}$/.test(pin))
    out.push(
      finding(
        'port-pin-malformed',
        'pin',
        'A PIN has 4 to 15 digits or letters.',
        'Copy it as the carrier gave it, without spaces.',
      ),
    );
  if (expires !== '' && isDay(expires) && expires <= submitOn)
    out.push(
      finding(
        'port-pin-expires',
        'pinExpires',
        `The PIN is good until ${expires}; it must live past the day of submission.`,
        'Have the holder ask for a new one.',
        { start: 0, end: expires.length },
      ),
    );
  return out;
}

/** A name without case, spaces and punctuation. */
export const nameKey = (t: string): string => t.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** Which of these numbers a letter does not name, however it writes them. */
export function numbersMissing(letter: SignedLetter, e164s: readonly string[]): string[] {
  const national = (t: string): string => t.replace(/\D/g, '').replace(/^1(?=\d{10}$)/, '');
  const named = new Set(letter.numbers.map(national));
  return e164s.filter((e) => !named.has(national(e)));
}

function reviewDocuments(request: PortRequest, submitOn: IsoDay): Finding[] {
  const out: Finding[] = [];
  const { letter, facts } = request;
  if (!letter)
    out.push(
      finding(
        'port-letter-missing',
        'letter',
        'The letter of authorisation is not signed yet.',
        'Send the holder the link, or upload a signed one.',
      ),
    );
  else {
    if (letter.signedOn > submitOn)
      out.push(
        finding(
          'port-letter-future',
          'letter',
          `The letter is dated ${letter.signedOn}, which has not come yet.`,
          'Have it signed again with the right date.',
        ),
      );
    else if (daysBetween(letter.signedOn, submitOn) > DOCUMENT_DAYS)
      out.push(
        finding(
          'port-letter-old',
          'letter',
          `The letter was signed on ${letter.signedOn}; on ${submitOn} it is more than ${DOCUMENT_DAYS} days old.`,
          'Have it signed again.',
        ),
      );
    const absent = numbersMissing(
      letter,
      request.numbers.map((n) => n.e164),
    );
    if (absent.length > 0)
      out.push(
        finding(
          'port-letter-number-missing',
          'letter',
          `The letter does not name ${absent.join(', ')}.`,
          'Have it signed again with every number.',
        ),
      );
    if (nameKey(letter.holderName) !== nameKey(facts.holderName))
      out.push(
        finding(
          'port-letter-holder-differs',
          'letter',
          `The letter was signed for “${letter.holderName}”, the request says “${facts.holderName}”.`,
          'Have it signed again under the holder’s name.',
        ),
      );
    if (facts.authorisedName !== '' && nameKey(letter.signedBy) !== nameKey(facts.authorisedName))
      out.push(
        finding(
          'port-letter-signer-differs',
          'letter',
          `“${letter.signedBy}” signed; the request names “${facts.authorisedName}”.`,
          'Name the person who signed, if they may decide about the account.',
        ),
      );
  }
  // A wireless port is validated without a bill; one that is handed in all the same is looked at.
  const wanted = kindsOf(request).some((k) => k !== 'wireless');
  if (wanted || request.billDated !== null) {
    if (request.billDated === null)
      out.push(
        finding(
          'port-bill-missing',
          'bill',
          'The latest bill is missing.',
          'Upload all pages that show name, address, account and numbers.',
        ),
      );
    else if (request.billDated > submitOn || daysBetween(request.billDated, submitOn) > DOCUMENT_DAYS)
      out.push(
        finding(
          wanted ? 'port-bill-old' : 'port-bill-old-not-needed',
          'bill',
          request.billDated > submitOn
            ? `The bill is dated ${request.billDated}, which has not come yet.`
            : `The bill is dated ${request.billDated}, more than ${DOCUMENT_DAYS} days before ${submitOn}.`,
          `Upload one dated ${addDays(submitOn, -DOCUMENT_DAYS)} or later${wanted ? '' : ', or take it away: a wireless line needs none'}.`,
        ),
      );
  }
  return out;
}

/** Compared fields whose difference only a landline or toll-free carrier rejects; for wireless it is a risk. */
const NAME_AND_ADDRESS: readonly ComparedField[] = ['holderName', 'street', 'unit', 'city', 'state'];

/** Whoever signs has to be somebody the carrier takes a decision from. */
function reviewSigner(request: PortRequest, csr: CustomerRecord, wirelessOnly: boolean): Finding[] {
  const signer = request.letter?.signedBy ?? request.facts.authorisedName;
  // The holder of an account may always decide about it.
  const may = [...csr.authorisedNames, csr.holderName].map(nameKey);
  if (csr.authorisedNames.length === 0 || signer === '' || may.includes(nameKey(signer))) return [];
  return [
    finding(
      wirelessOnly ? 'port-signer-unknown-to-carrier' : 'port-signer-not-authorised',
      'authorisedName',
      `The record does not name “${signer}” among those who may decide about the account.`,
      `Have it signed by ${csr.authorisedNames.map((n) => `“${n}”`).join(' or ')}, or have the old carrier add ${signer}.`,
    ),
  ];
}

function reviewAgainstRecord(request: PortRequest, csr: CustomerRecord): Finding[] {
  const out: Finding[] = [];
  const wirelessOnly = kindsOf(request).every((k) => k === 'wireless');
  for (const c of compareRecord(request.facts, csr)) {
    if (c.likeness === 'same' || (c.field === 'billingNumber' && wirelessOnly)) continue;
    const weighsLess = c.likeness === 'doubtful' || (wirelessOnly && NAME_AND_ADDRESS.includes(c.field));
    const span = c.oursDiffer[0];
    out.push(
      finding(
        weighsLess ? 'port-record-doubtful' : 'port-record-differs',
        c.field,
        `${c.why} Record: “${c.theirs}”.`,
        c.theirs === ''
          ? 'Leave it empty, as in the record.'
          : `Write “${c.theirs}”, or have the old carrier change its record first.`,
        span && { start: span.start, end: c.oursDiffer.at(-1)?.end ?? span.end },
      ),
    );
  }
  out.push(...reviewSigner(request, csr, wirelessOnly));
  const { linesStay, newBillingNumber } = request.facts;
  const moving = new Set(request.numbers.map((n) => n.e164));
  // One that leaves is found without the record.
  if (linesStay && newBillingNumber !== '' && !moving.has(newBillingNumber)) {
    const kept = csr.numbers.filter((n) => n.active && !moving.has(n.e164)).map((n) => n.e164);
    if (!kept.includes(newBillingNumber))
      out.push(
        finding(
          'port-new-billing-number-unknown',
          'newBillingNumber',
          `${newBillingNumber} is none of the numbers that stay on this account.`,
          kept.length > 0 ? `Name one of ${kept.join(', ')}.` : 'No number stays: say that none does.',
        ),
      );
  }
  if (csr.freeze)
    out.push(
      finding(
        'port-freeze',
        'numbers',
        'The account is frozen against leaving.',
        'The holder asks the old carrier to lift the port-out freeze.',
      ),
    );
  if (csr.pendingOrder !== '')
    out.push(
      finding(
        'port-pending-order',
        'numbers',
        `The old carrier still works on an order: ${csr.pendingOrder}.`,
        'Wait until it is done, or have it cancelled.',
      ),
    );
  const onAccount = new Map(csr.numbers.map((n) => [n.e164, n.active]));
  for (const n of request.numbers) {
    const active = onAccount.get(n.e164);
    if (active === undefined)
      out.push(
        finding(
          'port-not-on-account',
          `numbers.${n.e164}`,
          `${n.e164} is not on this account.`,
          'Check the account number, or take the number out.',
        ),
      );
    else if (!active)
      out.push(
        finding(
          'port-line-inactive',
          `numbers.${n.e164}`,
          `${n.e164} is not in service.`,
          'Have the old carrier put it back into service first.',
        ),
      );
  }
  const staying = csr.numbers.filter((n) => n.active && !request.numbers.some((m) => m.e164 === n.e164));
  if (staying.length > 0 && !request.facts.linesStay)
    out.push(
      finding(
        'port-partial',
        'linesStay',
        `${staying.length} more on this account would stay: ${staying.map((n) => n.e164).join(', ')}. This is a partial port.`,
        'Say that other lines stay, or add them to the request.',
      ),
    );
  return out;
}
