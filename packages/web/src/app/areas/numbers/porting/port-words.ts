import { Pipe, type PipeTransform } from '@angular/core';
import type { PortView } from '@long-gate/contracts';
import { DateTime } from 'luxon';

/** `24 Mar 2027` of a day such as `2027-03-24`. */
@Pipe({ name: 'day' })
export class DayPipe implements PipeTransform {
  transform(day: string): string {
    return day === '' ? '–' : DateTime.fromISO(day).toFormat('ccc d LLL yyyy', { locale: 'en-US' });
  }
}

/** The tone of a request's state; its word always stands beside it. */
export function toneOf(p: PortView): 'stop' | 'hold' | 'pass' | 'soft' {
  if (p.state === 'rejected' || p.late) return 'stop';
  if (p.state === 'done') return 'pass';
  return p.state === 'cancelled' || p.state === 'returned' ? 'soft' : 'hold';
}

export type FactKey = Exclude<keyof PortView['facts'], 'holderKind' | 'linesStay'>;

/** The fields of a request, in the order of the page, each with where people find what belongs there. */
export const FACT_FIELDS: readonly {
  group: string;
  fields: readonly { key: FactKey; label: string; where: string; kind?: 'date' | 'phone'; short?: boolean }[];
}[] = [
  {
    group: 'The account with the old carrier',
    fields: [
      {
        key: 'accountNumber',
        label: 'Account number',
        where:
          'At the top of the bill, or in the account online. It is not the telephone number, and leading zeros count.',
        short: true,
      },
      {
        key: 'pin',
        label: 'Port-out PIN',
        where:
          'The holder asks the old carrier for it, by phone or in the account online; it is not the PIN of the phone or of voicemail. Some carriers take the last four of the SSN or tax number instead.',
        short: true,
      },
      {
        key: 'pinExpires',
        label: 'PIN good until',
        where: 'Many PINs live seven days. If the carrier named no day, leave it empty.',
        kind: 'date',
        short: true,
      },
      {
        key: 'billingNumber',
        label: 'Billing telephone number',
        where: 'The number the account is billed under; on the bill it often stands beside the account number.',
        kind: 'phone',
        short: true,
      },
      {
        key: 'newBillingNumber',
        label: 'Billing number of the lines that stay',
        where: 'One of the remaining numbers; the old carrier bills them under it from then on.',
        kind: 'phone',
        short: true,
      },
      {
        key: 'responsibleOrganisation',
        label: 'Responsible organisation',
        where: 'Five letters and digits; the present toll-free provider tells its code.',
        short: true,
      },
      {
        key: 'oldServiceEnds',
        label: 'Old service asked to end on',
        where:
          'Fill this in only if somebody has already cancelled it. It must be taken back: the port itself ends the line.',
        kind: 'date',
        short: true,
      },
    ],
  },
  {
    group: 'The holder, exactly as the old carrier has it',
    fields: [
      {
        key: 'holderName',
        label: 'Holder’s name',
        where:
          'As on the bill, with middle names and legal form. The record counts, not what the business calls itself today.',
      },
      {
        key: 'authorisedName',
        label: 'Who signs',
        where: 'A person the old carrier lists as allowed to decide about the account.',
      },
      { key: 'street', label: 'Street', where: 'Where the line is (service address), not where the bill is sent.' },
      { key: 'unit', label: 'Suite or unit', where: 'Only if the record has one.', short: true },
      { key: 'city', label: 'City', where: 'As in the record.', short: true },
      { key: 'state', label: 'State', where: 'Two letters.', short: true },
      {
        key: 'postalCode',
        label: 'ZIP code',
        where: 'For a wireless number that of the billing address, for others that of the service address.',
        short: true,
      },
    ],
  },
];

export const FACT_LABELS: Readonly<Record<string, string>> = Object.fromEntries([
  ...FACT_FIELDS.flatMap((g) => g.fields.map((f): [string, string] => [f.key, f.label])),
  ['numbers', 'Numbers'],
  ['billDated', 'Date of the bill'],
  ['letterSignedOn', 'Letter signed on'],
  ['linesStay', 'Other lines stay'],
  ['holderKind', 'Kind of account'],
]);
