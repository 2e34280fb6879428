import { hash } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { canonicalEvent, GENESIS, linkEvent, parsePhone, verifyLedger, type LedgerEvent } from '@long-gate/core';
import { buildApp, readConfig } from '@long-gate/server';
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';

/** Prints one JSON object a line: ours beside its reference, measured in the same run. Ratio is ours / reference. */
function report(name: string, ours: number, reference: number, unit: string): void {
  console.log(
    JSON.stringify({ name, ours: round(ours), reference: round(reference), ratio: round(ours / reference), unit }),
  );
}
const round = (x: number): number => Number(x.toPrecision(4));

/** Median of several runs, in milliseconds. */
async function time(work: () => unknown, runs = 5): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const at = performance.now();
    await work();
    times.push(performance.now() - at);
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)] ?? 0;
}

const N = 100_000;
const AREAS = [
  '201',
  '551',
  '609',
  '732',
  '212',
  '315',
  '718',
  '914',
  '215',
  '610',
  '203',
  '860',
  '410',
  '561',
  '904',
  '312',
  '713',
  '303',
  '206',
  '415',
];
/** Generated numbers, never shown and never called: exchanges 2XX to 9XX spread by a fixed step. */
const number = (i: number): string => {
  const exchange = 200 + ((i * 7) % 700);
  return `+1${AREAS[i % AREAS.length]}${String(exchange === 555 ? 556 : exchange % 100 === 11 ? exchange + 1 : exchange)}${String(Math.floor(i / 20) % 10_000).padStart(4, '0')}`;
};

async function phones(): Promise<void> {
  const shapes = [
    (d: string) => d,
    (d: string) => `(${d.slice(2, 5)}) ${d.slice(5, 8)}-${d.slice(8)}`,
    (d: string) => `${d.slice(2, 5)}-${d.slice(5, 8)}-${d.slice(8)}`,
    (d: string) => d.slice(2),
  ];
  const raw = Array.from({ length: 20_000 }, (_, i) => (shapes[i % shapes.length] as (d: string) => string)(number(i)));
  const ours = await time(() => raw.forEach((r) => parsePhone(r, { defaultRegion: 'US' })));
  const theirs = await time(
    () => raw.forEach((r) => parsePhoneNumberFromString(r, { defaultCountry: 'US', extract: false })?.isValid()),
    3,
  );
  report('phone parsing, 20,000 numbers, beside libphonenumber-js', ours, theirs, 'ms');
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
  const ours = await time(() => verifyLedger(events, sha256), 3);
  const reference = await time(() => bytes.forEach((b) => sha256(b)), 3);
  report('verifying a ledger of 100,000 events, beside native SHA-256 over the same bytes', ours, reference, 'ms');
}

async function database(): Promise<void> {
  const dataDir = await mkdtemp(path.join(tmpdir(), 'long-gate-bench-'));
  const app = await buildApp({ ...readConfig({ LONG_GATE_DATA: dataDir, LONG_GATE_LOG: 'silent' }, ''), demo: false });
  const { db } = app.platform;
  const actor = { id: 'bench', name: 'bench' };
  try {
    const businessId = await db.write((w) =>
      app.businesses.add(w, actor, { legalName: 'Bench LLC', nameLine: 'Bench', form: 'private company' }),
    );
    const rows = Array.from({ length: N }, (_, i) => ({
      row: i + 1,
      phone: number(i),
      firstName: 'Ada',
      lastName: `Harcastle ${i}`,
      email: '',
      stateCode: '',
      keep: true,
    }));

    const at = performance.now();
    const intake = await app.intakes.begin(actor, businessId, {
      fileName: 'bench.csv',
      total: N,
      listName: 'Everyone',
      consentClaim: '',
    });
    for (let i = 0; i < N; i += 5000) await app.intakes.take(businessId, intake.id, rows.slice(i, i + 5000));
    await app.intakes.store(actor, businessId, intake.id);
    while ((await app.intakes.get(businessId, intake.id)).state !== 'stored') await app.platform.jobs.workOne();
    const ours = performance.now() - at;

    // The reference: a bare prepared insert of the same rows under the same unique key, in one transaction.
    const { default: sqlite3 } = await import('sqlite3');
    const bare = new sqlite3.Database(path.join(dataDir, 'bare.sqlite'));
    const exec = (sql: string): Promise<void> =>
      new Promise((resolve, reject) => bare.exec(sql, (e) => (e ? reject(e) : resolve())));
    await exec(
      'PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; CREATE TABLE r (business_id TEXT, e164 TEXT, first_name TEXT, last_name TEXT, email TEXT, state_code TEXT, UNIQUE (business_id, e164))',
    );
    const from = performance.now();
    await exec('BEGIN');
    const insert = bare.prepare('INSERT INTO r VALUES (?,?,?,?,?,?) ON CONFLICT DO NOTHING');
    await new Promise<void>((resolve, reject) => {
      rows.forEach((r) => insert.run(businessId, r.phone, r.firstName, r.lastName, r.email, r.stateCode));
      insert.finalize((e: Error | null) => (e ? reject(e) : resolve()));
    });
    await exec('COMMIT');
    const reference = performance.now() - from;
    bare.close();
    report('storing 100,000 intake rows with all checks, beside a bare prepared insert', ours, reference, 'ms');

    await db.write((w) =>
      w.run(
        `UPDATE contact_number SET textable = CASE id % 20 WHEN 0 THEN 'no' ELSE 'yes' END, looked_up_at = 1, line_type = 'mobile', carrier_kind = CASE id % 5 WHEN 0 THEN 'C' WHEN 1 THEN 'B' WHEN 2 THEN 'B' ELSE 'A' END, consent_promotional = CASE id % 9 WHEN 0 THEN 'revoked' WHEN 1 THEN 'none' ELSE 'granted' END`,
      ),
    );
    await db.write((w) => w.run('ANALYZE'));
    const draft = {
      title: 'bench',
      text: 'Fares from $19: bench.example/x',
      purpose: 'promotional' as const,
      transactional: false,
      stopLine: true,
      numberId: null,
      audience: { include: [intake.listId ?? ''], exclude: [] },
      override: '',
    };
    const preview = await time(() => app.preview.preview(businessId, draft));
    const group = await time(() =>
      db.all(
        `SELECT cn.country, cn.zones, cn.states, cn.looked_up_at IS NOT NULL, cn.textable, cn.reachable, cn.trouble, cn.faults_in_review, cn.suppressed, cn.wish_in_review, cn.consent_conversational, cn.consent_informational, cn.consent_promotional, cn.carrier_kind, cn.promotional_cap_until, count(*)
         FROM contact_number cn WHERE cn.business_id = $1 GROUP BY 1,2,3,4,5,6,7,8,9,10,11,12,13,14,15`,
        [businessId],
      ),
    );
    report('gate preview over 100,000 contacts, beside one bare GROUP BY over the same columns', preview, group, 'ms');

    const first = await time(() => app.contacts.page(businessId, {}, undefined, 100));
    report('first page of the contact list at 100,000, beside the aim of 50 ms', first, 50, 'ms');
  } finally {
    await app.close();
    await rm(dataDir, { recursive: true, force: true });
  }
}

await phones();
await database();
await ledger();
