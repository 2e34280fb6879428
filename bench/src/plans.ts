import { readFileSync } from 'node:fs';
import { dispatches } from './scale/dispatches.js';
import { glances } from './scale/glances.js';
import { ledger } from './scale/ledger.js';
import { questions } from './scale/questions.js';
import { World } from './scale/world.js';

/** A statement of the server and the file that asked it, as `testing/statements.ts` of the server wrote it down. */
interface Heard {
  from: string;
  text: string;
}

/** Tables that grow with the contacts, the texts or the years; a question that walks one of them grows with it. */
const LARGE = [
  'contact',
  'contact_number',
  'contact_sender',
  'list_member',
  'consent_event',
  'consent_state',
  'opt_out',
  'message',
  'inbound_message',
  'thread',
  'intake_row',
  'intake_change',
  'number_trouble',
  'audit',
  'outbox',
  'money_entry',
];

/** What may walk a large table, and why. */
const MAY: readonly { from: RegExp; says: RegExp; why: string }[] = [
  {
    from: /./,
    says: /^(CREATE|DROP|ALTER|PRAGMA|BEGIN|COMMIT|ROLLBACK|EXPLAIN|SAVEPOINT|RELEASE)/i,
    why: 'asks no rows',
  },
  { from: /^migrations\//, says: /./, why: 'carried out once, at the start after an update' },
  { from: /^demo\//, says: /./, why: 'writes the demo data, once' },
  {
    from: /audience-store|recipient-store/,
    says: /jsonb_each\(\$include\)/,
    why: 'a grouped scan of an audience is meant',
  },
  {
    from: /class-store/,
    says: /count\(\*\) AS n FROM contact_number cn WHERE .*instr/,
    why: 'counts a search of one or two letters beside its page, which does not wait',
  },
  {
    from: /class-store/,
    says: /count\(\*\) AS n FROM \(SELECT (DISTINCT )?m\.contact_id FROM list_member m .* GROUP BY 1, 2/,
    why: 'counts a list beside its page, which does not wait',
  },
  {
    from: /class-store|textability-store/,
    says: /INDEXED BY contact_number_replied/,
    why: 'an index of those alone who ever wrote or called',
  },
  { from: /class-store/, says: /INDEXED BY contact_number_order/, why: 'a stretch of the index: those without a name' },
  {
    from: /trouble-store/,
    says: /AS reached, count\(\*\)/,
    why: 'how bookings fared, asked for by one page and only where a field is about them',
  },
  { from: /whom-store/, says: /LIMIT \d+$/, why: 'whom something is done for, all of whom are meant' },
  { from: /text-day-store/, says: /FROM message/, why: 'a stretch of a job' },
  {
    from: /page-store/,
    says: /^SELECT json_group_array\(json_array\(id, contact_id, (e164|line_type|textable|consent_\w+)\b.* INDEXED BY contact_number_(contact|faults|by_\w+|standing) .* LIMIT \$limit\)$/s,
    why: 'sorts what the narrower filter leaves, where that is less than a walk in the order asked for',
  },
  { from: /contact-store/, says: /contact_sender cs ON FALSE/, why: 'joins nothing' },
  {
    from: /intake-store/,
    says: /^DELETE FROM intake_row WHERE intake_id = \$1/,
    why: 'a stretch of an intake that is over, as long as one lot',
  },
  { from: /kept-counts-store/, says: /./, why: 'counts everything anew, by a command and beside nothing else' },
  { from: /stale-store/, says: /count\(\*\)/, why: 'a stretch of the index of what is to be paid for' },
  {
    from: /message-store|recipient-store/,
    says: /state = 'leaving'|min\(hold_until\)/,
    why: 'an index of those alone',
  },
  {
    from: /inbox|thread-store|today/,
    says: /count\(\*\) AS `count` FROM `thread`/,
    why: 'a stretch of an index alone',
  },
  { from: /money-|businesses/, says: /FROM [`"]?money_entry/, why: 'an entry a dispatch and day, not a text' },
  { from: /audit-store/, says: /count\(\*\) AS (n|`count`|"count") FROM [`"]?audit/, why: 'an entry a person’s act' },
  { from: /inbox|keyset/, says: /waits_until/, why: 'an index of those alone that wait' },
  { from: /audit-store/, says: /^SELECT DISTINCT/, why: 'an entry a person’s act' },
  {
    from: /list-store/,
    says: /^SELECT m\.list_id AS id, count\(\*\)/,
    why: 'who is left on each list beside other filters: members are gone through, apart from the page',
  },
  {
    from: /standing-store/,
    says: /GROUP BY/,
    why: 'coverage: one grouped scan of all, and one of the members of lists',
  },
  { from: /trouble-store/, says: /GROUP BY 1/, why: 'a stretch of the index of what stands' },
  {
    from: /reassignment-store/,
    says: /agreed_at < \$before/,
    why: 'before a dispatch or on a schedule: all whose consent is to be asked about are meant',
  },
  { from: /watch/, says: /(FROM|JOIN) [`"]?opt_out/, why: 'those who left in the days asked about' },
];

const NAMES = /\b(?:FROM|JOIN|UPDATE|INTO|,)\s+[`"]?(\w+)[`"]?(?:\s+(?:AS\s+)?[`"]?(\w+)[`"]?)?/gi;

/** What a plan walks whole: tables without any condition, and a business's rows where nothing narrows them further. */
function walks(text: string, plan: readonly string[]): string[] {
  const tables = new Map<string, string>();
  for (const [, table = '', alias = ''] of text.matchAll(NAMES)) {
    tables.set(table, table);
    if (alias) tables.set(alias, table);
  }
  // A page walks an index in its order and stops; that is the outermost loop of the statement and no other.
  const page = /\bLIMIT\b/i.test(text) && !plan.some((p) => p.includes('TEMP B-TREE FOR ORDER BY'));
  const loops = plan.filter((step) => /^(SCAN|SEARCH) /.test(step) && !/VIRTUAL TABLE|CONSTANT ROW/.test(step));
  return plan.filter((step) => {
    const [, how, name = ''] = /^(SCAN|SEARCH) (\S+)/.exec(step) ?? [];
    if (!how || !LARGE.includes(tables.get(name) ?? name)) return false;
    if (page && step === loops[0]) return false;
    return how === 'SCAN' || /\((business_id|list_id|dispatch_id|intake_id)=\?( AND [^=]*[<>][^=]*)?\)/.test(step);
  });
}

const [, , file = ''] = process.argv;
const size = Number(process.argv[process.argv.indexOf('--contacts') + 1]);
const world = await World.open(size);
let bad = 0;
try {
  await world.bringIn();
  await world.live();
  // What no spec asks, but somebody with so many contacts does.
  await questions(world);
  await ledger(world);
  await dispatches(world);
  await glances(world);
  const heard = readFileSync(file, 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Heard)
    .sort((a, b) => a.from.localeCompare(b.from));
  for (const { from, text } of heard) {
    if (MAY.some((m) => m.from.test(from) && m.says.test(text.trim()))) continue;
    const plan = (await world.bare.all<{ detail: string }>(`EXPLAIN QUERY PLAN ${text}`)).map((p) => p.detail);
    const walked = walks(text, plan);
    bad += walked.length > 0 ? 1 : 0;
    console.log(`${walked.length > 0 ? 'WALKS  ' : ''}${from}: ${text.replace(/\s+/g, ' ')}`);
    for (const step of plan) console.log(`    ${walked.includes(step) ? '! ' : ''}${step}`);
  }
  console.log(`\n${heard.length} statements, ${bad} walk a table they should not.`);
} finally {
  await world.close();
}
process.exitCode = bad > 0 ? 1 : 0;
