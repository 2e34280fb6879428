import type { IsoDay } from './business-days.js';

/** What the losing carrier validates by: VoIP lines are ported as landlines are. */
export type PortKind = 'wireless' | 'landline' | 'toll-free';

/** One number of a request, as the lookup and the rate-centre test found it. */
export interface PortNumber {
  e164: string;
  /** Null until it was looked up. */
  kind: PortKind | null;
  losingCarrier: string;
  /** Null until it was tested; false where we do not serve its rate centre, with the reason. */
  portable: boolean | null;
  whyNot: string;
}

/** What the person writes; names and addresses as the old carrier has them. Days are `YYYY-MM-DD`, empty where unknown. */
export interface PortFacts {
  accountNumber: string;
  /** Port-out PIN, or the last four of the holder's SSN or tax number. */
  pin: string;
  pinExpires: IsoDay;
  holderKind: 'business' | 'residential';
  holderName: string;
  /** Who signs for the holder. */
  authorisedName: string;
  street: string;
  unit: string;
  city: string;
  state: string;
  postalCode: string;
  /** E.164 of the number the account is billed under. */
  billingNumber: string;
  /** Whether other lines stay with the old carrier, and which number they are billed under then. */
  linesStay: boolean;
  newBillingNumber: string;
  responsibleOrganisation: string;
  /** The day on which the old service has been asked to end, if it has. */
  oldServiceEnds: IsoDay;
}

/** The old carrier's record of the account (customer service record). */
export interface CustomerRecord {
  accountNumber: string;
  holderName: string;
  /** A trading name on the record, empty where none. */
  tradingAs: string;
  street: string;
  unit: string;
  city: string;
  state: string;
  postalCode: string;
  billingNumber: string;
  numbers: { e164: string; active: boolean }[];
  /** Who may decide about the account, as the carrier has them; empty where it does not say. */
  authorisedNames: string[];
  /** The holder has had the account locked against leaving. */
  freeze: boolean;
  pendingOrder: string;
}

/** The signed letter of authorisation. */
export interface SignedLetter {
  signedBy: string;
  signedOn: IsoDay;
  holderName: string;
  numbers: readonly string[];
}

/** What must be read and accepted one by one before a submission. */
export const PORT_ACKNOWLEDGEMENTS = [
  {
    key: 'keep-old-service',
    text: 'The old service stays on, and paid, until the port has completed. Ending it early loses the number.',
  },
  {
    key: 'old-carrier-fees',
    text: 'The old carrier may charge fees for leaving, and the rest of a contract; those are settled with it.',
  },
  {
    key: 'three-days',
    text: 'Texts to and from these numbers may pause for up to three days when they change over.',
  },
  {
    key: 'own-set-up',
    text: 'Call handling and the campaign for these numbers are set up here before they land, not after.',
  },
] as const;
export type AcknowledgementKey = (typeof PORT_ACKNOWLEDGEMENTS)[number]['key'];

export interface PortRequest {
  numbers: readonly PortNumber[];
  facts: PortFacts;
  letter: SignedLetter | null;
  /** The day printed on the latest bill. */
  billDated: IsoDay | null;
  acknowledged: readonly string[];
}

/** The facts a losing carrier validates by, for each kind of line. source: rules.md, Porting. */
export function factsNeeded(kinds: readonly PortKind[]): ReadonlySet<keyof PortFacts> {
  const needed = new Set<keyof PortFacts>(['accountNumber', 'holderName', 'authorisedName', 'postalCode']);
  const add = (...fields: (keyof PortFacts)[]): void => fields.forEach((f) => needed.add(f));
  if (kinds.includes('wireless')) add('pin');
  if (kinds.includes('landline')) add('street', 'city', 'state', 'billingNumber');
  if (kinds.includes('toll-free')) add('street', 'city', 'state', 'billingNumber', 'responsibleOrganisation');
  return needed;
}

/** A simple port is one wireless number, validated by account number, ZIP and PIN alone. source: 47 CFR 52.35(b). */
export function isSimplePort(numbers: readonly PortNumber[]): boolean {
  return numbers.length === 1 && numbers[0]?.kind === 'wireless';
}
