/** Whether a sender ID works in a country: freely, after registration, or not at all. */
export type SenderIdRule = 'free' | 'to register' | 'not allowed';

/** What sending to one country asks for. Defaults, to be checked row by row; not legal advice. */
export interface CountryRule {
  /** ISO 3166-1 alpha-2. */
  code: string;
  name: string;
  /** Country calling code, digits only. */
  dial: string;
  zones: readonly string[];
  /** Kinds of our numbers that can text there. */
  kinds: readonly ('local number' | 'toll-free number' | 'short code' | 'sender ID')[];
  /** Whether the business itself has to be admitted before the first text. */
  registration: boolean;
  senderId: SenderIdRule;
  twoWay: boolean;
  /** Hours for promotional texts, local time, end exclusive; Sundays closed where `sunday` is null. */
  hours: { from: number; to: number; sunday?: [number, number] | null };
  optOut: string;
  source: string;
  checked: string;
}

const CHECKED = '2026-11-25';
const ID = ['sender ID'] as const;
const EU = 'Directive 2002/58/EC, art. 13';
const stop = 'Every promotional text names a free way to stop.';

/** source of kinds and sender IDs: each regulator's numbering rules, as far as they are public. */
export const COUNTRY_RULES: readonly CountryRule[] = [
  { code: 'US', name: 'United States', dial: '1', zones: [], kinds: ['local number', 'toll-free number', 'short code'], registration: false, senderId: 'not allowed', twoWay: true, hours: { from: 8, to: 21 }, optOut: 'STOP and any clear wish, at once.', source: '47 CFR 64.1200', checked: CHECKED },
  { code: 'CA', name: 'Canada', dial: '1', zones: [], kinds: ['local number', 'toll-free number', 'short code'], registration: false, senderId: 'not allowed', twoWay: true, hours: { from: 9, to: 21 }, optOut: 'A working way to unsubscribe in each text, honoured within 10 business days.', source: 'S.C. 2010, c. 23 (CASL)', checked: CHECKED },
  { code: 'GB', name: 'United Kingdom', dial: '44', zones: ['Europe/London'], kinds: [...ID, 'short code'], registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'SI 2003/2426 (PECR), reg. 22', checked: CHECKED },
  { code: 'IE', name: 'Ireland', dial: '353', zones: ['Europe/Dublin'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'S.I. 336/2011, reg. 13', checked: CHECKED },
  { code: 'FR', name: 'France', dial: '33', zones: ['Europe/Paris'], kinds: [...ID, 'short code'], registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 20, sunday: null }, optOut: 'A stop notice in every promotional text; none on Sundays and holidays.', source: 'Code des postes L34-5', checked: CHECKED },
  { code: 'DE', name: 'Germany', dial: '49', zones: ['Europe/Berlin'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 20, sunday: null }, optOut: stop, source: 'UWG § 7', checked: CHECKED },
  { code: 'AT', name: 'Austria', dial: '43', zones: ['Europe/Vienna'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 20, sunday: null }, optOut: stop, source: 'TKG 2021 § 174', checked: CHECKED },
  { code: 'CH', name: 'Switzerland', dial: '41', zones: ['Europe/Zurich'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 20, sunday: null }, optOut: stop, source: 'UWG art. 3(1)(o)', checked: CHECKED },
  { code: 'NL', name: 'Netherlands', dial: '31', zones: ['Europe/Amsterdam'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Telecommunicatiewet 11.7', checked: CHECKED },
  { code: 'BE', name: 'Belgium', dial: '32', zones: ['Europe/Brussels'], kinds: ['short code'], registration: false, senderId: 'not allowed', twoWay: true, hours: { from: 8, to: 20 }, optOut: stop, source: EU, checked: CHECKED },
  { code: 'LU', name: 'Luxembourg', dial: '352', zones: ['Europe/Luxembourg'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: EU, checked: CHECKED },
  { code: 'ES', name: 'Spain', dial: '34', zones: ['Europe/Madrid'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 9, to: 21, sunday: null }, optOut: stop, source: 'Ley 34/2002 art. 21; Orden TDF/149/2025', checked: CHECKED },
  { code: 'PT', name: 'Portugal', dial: '351', zones: ['Europe/Lisbon'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Lei 41/2004 art. 13-A', checked: CHECKED },
  { code: 'IT', name: 'Italy', dial: '39', zones: ['Europe/Rome'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'AGCOM delibera 12/23/CIR', checked: CHECKED },
  { code: 'DK', name: 'Denmark', dial: '45', zones: ['Europe/Copenhagen'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Markedsføringsloven § 10', checked: CHECKED },
  { code: 'NO', name: 'Norway', dial: '47', zones: ['Europe/Oslo'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Markedsføringsloven § 15', checked: CHECKED },
  { code: 'SE', name: 'Sweden', dial: '46', zones: ['Europe/Stockholm'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Marknadsföringslagen § 19', checked: CHECKED },
  { code: 'FI', name: 'Finland', dial: '358', zones: ['Europe/Helsinki'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Traficom regulation 28', checked: CHECKED },
  { code: 'PL', name: 'Poland', dial: '48', zones: ['Europe/Warsaw'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Ustawa z 28.7.2023 (smishing)', checked: CHECKED },
  { code: 'CZ', name: 'Czechia', dial: '420', zones: ['Europe/Prague'], kinds: ID, registration: false, senderId: 'to register', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: '480/2004 Sb. § 7', checked: CHECKED },
  { code: 'GR', name: 'Greece', dial: '30', zones: ['Europe/Athens'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 8, to: 21 }, optOut: stop, source: 'Law 3471/2006 art. 11', checked: CHECKED },
  { code: 'AU', name: 'Australia', dial: '61', zones: ['Australia/Sydney', 'Australia/Perth', 'Australia/Adelaide'], kinds: [...ID, 'short code'], registration: false, senderId: 'to register', twoWay: false, hours: { from: 9, to: 20 }, optOut: 'A working way to unsubscribe, honoured within 5 business days.', source: 'Spam Act 2003; SMS Sender ID Register 2025', checked: CHECKED },
  { code: 'NZ', name: 'New Zealand', dial: '64', zones: ['Pacific/Auckland'], kinds: ['short code'], registration: true, senderId: 'not allowed', twoWay: true, hours: { from: 8, to: 21 }, optOut: 'A working way to unsubscribe, honoured within 5 working days.', source: 'Unsolicited Electronic Messages Act 2007', checked: CHECKED },
  { code: 'SG', name: 'Singapore', dial: '65', zones: ['Asia/Singapore'], kinds: ID, registration: true, senderId: 'to register', twoWay: false, hours: { from: 9, to: 21 }, optOut: stop, source: 'IMDA Sender ID Registry 2023', checked: CHECKED },
  { code: 'JP', name: 'Japan', dial: '81', zones: ['Asia/Tokyo'], kinds: ID, registration: false, senderId: 'free', twoWay: false, hours: { from: 9, to: 20 }, optOut: stop, source: 'Act 26 of 2002', checked: CHECKED },
  { code: 'IN', name: 'India', dial: '91', zones: ['Asia/Kolkata'], kinds: ID, registration: true, senderId: 'to register', twoWay: false, hours: { from: 10, to: 21 }, optOut: stop, source: 'TCCCPR 2018', checked: CHECKED },
  { code: 'ZA', name: 'South Africa', dial: '27', zones: ['Africa/Johannesburg'], kinds: ['short code'], registration: false, senderId: 'not allowed', twoWay: true, hours: { from: 8, to: 20, sunday: null }, optOut: stop, source: 'ECT Act 25 of 2002 s 45', checked: CHECKED },
  { code: 'BR', name: 'Brazil', dial: '55', zones: ['America/Sao_Paulo', 'America/Manaus'], kinds: ['short code'], registration: true, senderId: 'not allowed', twoWay: true, hours: { from: 9, to: 20, sunday: null }, optOut: stop, source: 'Anatel Res. 632/2014', checked: CHECKED },
  { code: 'MX', name: 'Mexico', dial: '52', zones: ['America/Mexico_City', 'America/Tijuana'], kinds: ['short code', 'local number'], registration: false, senderId: 'not allowed', twoWay: true, hours: { from: 9, to: 20 }, optOut: stop, source: 'LFPC art. 18 bis', checked: CHECKED },
];
