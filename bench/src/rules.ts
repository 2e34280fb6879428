import { hash } from 'node:crypto';
import { canonicalEvent, GENESIS, linkEvent, parsePhone, verifyLedger, type LedgerEvent } from '@long-gate/core';
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';
import { median, report } from './measure.js';
import { number } from './scale/people.js';

const N = 100_000;
async function phones(): Promise<void> {
  const shapes = [
    (d: string) => d,
    (d: string) => `(${d.slice(2, 5)}) ${d.slice(5, 8)}-${d.slice(8)}`,
    (d: string) => `${d.slice(2, 5)}-${d.slice(5, 8)}-${d.slice(8)}`,
    (d: string) => d.slice(2),
  ];
  const raw = Array.from({ length: 20_000 }, (_, i) => (shapes[i % shapes.length] as (d: string) => string)(number(i)));
  const ours = await median(() => raw.forEach((r) => parsePhone(r, { defaultRegion: 'US' })));
  const theirs = await median(
    () => raw.forEach((r) => parsePhoneNumberFromString(r, { defaultCountry: 'US', extract: false })?.isValid()),
    3,
  );
  report({ name: 'phone parsing, 20,000 numbers, beside libphonenumber-js', ours, reference: theirs, unit: 'ms' });
}

async function ledger(): Promise<void> {
  const sha256 = (t: string): string => hash('sha256', t, 'hex');
  const events: LedgerEvent[] = [];
  let prev = GENESIS;
  for (let i = 1; i <= N; i++) {
    const e = linkEvent(
      {
        id: `evt_${i}`,
        businessId: 'bench',
        seq: i,
        e164: number(i),
        purposes: ['promotional'],
        kind: 'granted',
        awaitsConfirmation: false,
        happenedAt: i * 1000,
        recordedAt: i * 1000 + 5,
        how: 'web page',
        disclosure:
          'Text me fare offers, two to four times a month. I agree that Saltmarsh Ferries LLC may send me automated promotional texts at this number. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end.',
        disclosureVersion: 'saltmarsh, version 1',
        evidence: { ip: '192.0.2.7', agent: 'Mozilla/5.0', page: 'saltmarsh' },
        recordedBy: 'contact',
      },
      prev,
      sha256,
    );
    events.push(e);
    prev = e.hash;
  }
  const bytes = events.map((e) => `${e.prevHash}\n${canonicalEvent(e)}`);
  const ours = await median(() => verifyLedger(events, sha256), 3);
  const reference = await median(() => bytes.forEach((b) => sha256(b)), 3);
  report({
    name: 'verifying a ledger of 100,000 events, beside native SHA-256 over the same bytes',
    ours,
    reference: reference,
    unit: 'ms',
  });
}

await phones();
await ledger();
