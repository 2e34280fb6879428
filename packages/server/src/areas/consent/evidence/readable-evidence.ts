import { evidenceLabel, formatPhone, PURPOSES, type LedgerEvent, type NumberStanding } from '@long-gate/core';
import { beginPdf, legible, type Pdf } from '../../../platform/pdf.js';
import { inThread, serveTask } from '../../../platform/thread.js';
import type { SentLetter } from '../letters/letters-sent.js';
import type { LookupLine, SuppressionLine } from './number-lines.js';
import type { ShownText } from './pack-contents.js';

/** About more numbers than this nobody reads all words on paper: each event is a line, with the words it rests on once. */
const DETAILED_UP_TO = 50;

/** A document with its moments written as they are where the business is. */
interface Sheet extends Pdf {
  moment: (at: number) => string;
}

/** `12 Mar 2027, 14:41:09 EST`. One formatter for all: making one takes longer than using it a hundred times. */
function momentIn(timeZone: string): (at: number) => string {
  const format = new Intl.DateTimeFormat('en-US', {
    timeZone,
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    hourCycle: 'h23',
    timeZoneName: 'short',
  });
  return (at) => {
    const p = Object.fromEntries(format.formatToParts(at).map((x) => [x.type, x.value]));
    return `${p['day']} ${p['month']} ${p['year']}, ${p['hour']}:${p['minute']}:${p['second']} ${p['timeZoneName']}`;
  };
}

export interface Readable {
  business: { legalName: string; timeZone: string };
  numbers: readonly string[];
  names: ReadonlyMap<string, string>;
  question: string;
  madeBy: string;
  madeAt: number;
  standing: readonly NumberStanding[];
  events: readonly LedgerEvent[];
  texts: readonly ShownText[];
  lookups: readonly LookupLine[];
  suppression: readonly SuppressionLine[];
  letters: readonly SentLetter[];
  /** How many of them each number has. */
  written: ReadonlyMap<string, number>;
  head: { count: number; head: string };
}

/** The evidence for people to read, as a PDF (A4): each number with where it stood, its events and its texts. */
async function evidencePdf(e: Readable): Promise<Buffer> {
  const pdf = beginPdf(`Evidence of consent, ${e.business.legalName}`, e.madeAt);
  const { doc, say, soft, strong } = pdf;
  const moment = momentIn(e.business.timeZone);
  strong('Evidence of consent', 20);
  say(e.business.legalName, 12);
  doc.moveDown(0.6);
  say(`Made ${moment(e.madeAt)} by ${e.madeBy}.`);
  if (e.question) say(`For: ${e.question}`);
  say(
    `About ${e.numbers.length === 1 ? 'one number' : `${e.numbers.length.toLocaleString('en-US')} numbers`}, from a ledger of ${e.head.count.toLocaleString('en-US')} events.`,
  );
  soft(
    'This is for reading. The exact words stand in the files beside it, which can be checked: read-me.txt says how. A character this typeface lacks is written by its number.',
  );

  const shown = { ...pdf, moment };
  if (e.numbers.length > DETAILED_UP_TO) inLines(shown, e);
  else inDetail(shown, e);
  return pdf.end();
}

serveTask(import.meta.url, (_r, e: Readable) => evidencePdf(e));

/** {@link evidencePdf}, set in a thread: it has as many pages as there is to say. What it does not show is not sent there. */
export async function readableEvidence(place: string, { texts, ...e }: Omit<Readable, 'written'>): Promise<Uint8Array> {
  const written = new Map<string, number>();
  for (const t of texts) written.set(t.e164, (written.get(t.e164) ?? 0) + 1);
  const given: Readable = { ...e, texts: e.numbers.length > DETAILED_UP_TO ? [] : texts, written };
  return inThread<Readable, never, Uint8Array>(new URL(import.meta.url), place, given);
}

/** Each number with its events and texts, all words of both. */
function inDetail({ doc, say, soft, strong, moment }: Sheet, e: Readable): void {
  const events = groupOf(e.events, (x) => x.e164);
  const texts = groupOf(e.texts, (x) => x.e164);
  const lookups = groupOf(e.lookups, (x) => x.e164);
  const suppression = groupOf(e.suppression, (x) => x.e164);
  const letters = lettersBy(e.letters);
  for (const s of e.standing) {
    doc.moveDown(1);
    strong([formatPhone(s.e164), e.names.get(s.e164)].filter(Boolean).join(', '), 14);
    for (const p of PURPOSES) say(`${p}: ${s[p]}`);
    doc.moveDown(0.4);
    strong('What was agreed and refused');
    const own = events.get(s.e164) ?? [];
    if (own.length === 0) say('Nothing is on file.');
    for (const x of own) {
      doc.moveDown(0.3);
      strong(`${moment(x.happenedAt)}: ${whatOf(x)}`);
      if (x.disclosure) say(`“${x.disclosure}”`);
      soft(
        [
          x.disclosureVersion,
          `recorded ${moment(x.recordedAt)} by ${x.recordedBy}`,
          ...Object.entries(x.evidence)
            .filter(([, v]) => v !== '')
            .map(([k, v]) => `${evidenceLabel(k)}: ${v}`),
          `event ${x.seq}, SHA-256 ${x.hash}`,
        ]
          .filter(Boolean)
          .join(' · '),
      );
    }
    doc.moveDown(0.4);
    strong('Lookups');
    const learnt = (lookups.get(s.e164) ?? []).filter((x) => x.at !== null);
    if (learnt.length === 0) say('It was never looked up.');
    for (const x of learnt) say(learntAs(x, moment));
    doc.moveDown(0.4);
    strong('Lists of numbers not to be texted');
    const listed = suppression.get(s.e164) ?? [];
    if (listed.length === 0) say('No list names it.');
    for (const x of listed) say(listedAs(x, moment));
    doc.moveDown(0.4);
    strong('Letters by e-mail');
    const asked = letters.get(s.e164) ?? [];
    if (asked.length === 0) say('None.');
    for (const x of asked) {
      doc.moveDown(0.2);
      say(`${moment(x.at)}: ${letterAs(x)}`);
      if (x.letter) say(`“${x.letter.text}”`);
      soft(cameOf(x, moment));
    }
    doc.moveDown(0.4);
    strong('Texts and calls');
    const written = texts.get(s.e164) ?? [];
    if (written.length === 0) say('None.');
    for (const t of written) {
      doc.moveDown(0.2);
      const way = t.direction === 'in' ? 'from the person' : `to the person, ${t.kind}`;
      say(`${moment(t.sentAt ?? t.at)}, ${way}: ${t.text === '' ? '(no words)' : t.text}`);
      const gate = t.gate && `the gate: ${t.gate.verdict}${t.gate.why ? `, ${t.gate.post}: ${t.gate.why}` : ''}`;
      const became = t.direction === 'out' && `${t.state}${t.finalAt === null ? '' : ` ${moment(t.finalAt)}`}`;
      const rest = [gate, became, t.failure].filter((x) => x !== '' && x !== null && x !== false);
      if (rest.length > 0) soft(rest.join(' · '));
    }
  }
}

/** What people agreed to once, by number of the words; then each person with a line for each event. */
function inLines({ doc, say, soft, strong, moment }: Sheet, e: Readable): void {
  const words = [...new Set(e.events.map((x) => x.disclosure).filter((d) => d !== ''))];
  const nth = new Map(words.map((d, i) => [d, i + 1]));
  doc.moveDown(1);
  strong('The words people were shown', 14);
  words.forEach((d, i) => say(`${i + 1}. “${d}”`));
  const events = groupOf(e.events, (x) => x.e164);
  const suppression = groupOf(e.suppression, (x) => x.e164);
  const letters = lettersBy(e.letters);
  let isBold = false;
  // Lines that are never broken are set without being measured word by word.
  const line = (text: string, bold = false): void => {
    if (doc.y > doc.page.height - 72) doc.addPage();
    if (bold !== isBold) doc.font((isBold = bold) ? 'bold' : 'plain');
    doc.text(legible(text).slice(0, 118), { lineBreak: false });
    doc.x = doc.page.margins.left;
    doc.y += 12;
  };
  doc.moveDown(0.6);
  strong('Numbers', 14);
  soft('Each text stands with its words and the gate’s answer in texts.jsonl.');
  doc.font('plain').fontSize(9).fillColor('#1d2a2f');
  for (const s of e.standing) {
    const own = events.get(s.e164) ?? [];
    const written = e.written.get(s.e164) ?? 0;
    doc.y += 4;
    line(
      [
        formatPhone(s.e164),
        e.names.get(s.e164),
        `notices ${s.informational}, offers ${s.promotional}`,
        `${written} ${written === 1 ? 'text' : 'texts'}`,
      ]
        .filter(Boolean)
        .join(', '),
      true,
    );
    if (own.length === 0) line('Nothing is on file.');
    for (const x of suppression.get(s.e164) ?? []) line(listedAs(x, moment));
    for (const x of letters.get(s.e164) ?? []) line(`${moment(x.at)}: ${letterAs(x)}; ${cameOf(x, moment)}`);
    for (const x of own) {
      const saw = nth.get(x.disclosure);
      line(`${moment(x.happenedAt)}: ${whatOf(x)}${saw === undefined ? '' : `, words ${saw}`}, event ${x.seq}`);
    }
  }
}

/** What a lookup said of a number, in a sentence. */
function learntAs(x: LookupLine, moment: (at: number) => string): string {
  const at = x.at === null ? '' : `${moment(x.at)}: `;
  if (x.asked === 'given up since')
    return `${at}asked whether it changed hands since ${x.day}: ${x.answer ?? 'no answer'}.`;
  const carrier = x.carrier === '' ? '' : ` of ${x.carrier}`;
  return `${at}${x.lineType} line${carrier}; texts reach it: ${x.textable}${x.reachable ? '' : '; switched off'}.`;
}

/** What a list, a purchase or an inquiry says of a number, in a sentence. */
function listedAs(x: SuppressionLine, moment: (at: number) => string): string {
  if (x.what === 'on a list') return `It stands on “${x.list}” of ${x.datedOn}, from: ${x.source}.`;
  if (x.what === 'kept off') {
    const time = [
      x.from === null ? '' : ` from ${moment(x.from)}`,
      x.until === null ? ' to now' : ` to ${moment(x.until)}`,
    ];
    return `Lists that keep off ${x.keeps === 'all' ? 'every text' : 'offers'} named it${time.join('')}.`;
  }
  const ended = x.withdrawn
    ? `; withdrawn ${moment(x.withdrawn.at)} by ${x.withdrawn.by}: ${x.withdrawn.why}`
    : x.brokenAt === null
      ? ''
      : `; ended ${moment(x.brokenAt)}, when its owner left or it was somebody else’s`;
  const about = x.about === '' ? '' : ` (${x.about})`;
  const file = x.file === '' ? '' : ` from ${x.file}`;
  return `A recorded ${x.what} of ${x.on}${about} excepts it from registries until ${moment(x.exceptsUntil)}; recorded ${moment(x.recordedAt)} by ${x.recordedBy}${file}${ended}.`;
}

/** Letters by the numbers they are about: that on file, and that which was given for it. */
function lettersBy(letters: readonly SentLetter[]): Map<string, SentLetter[]> {
  const by = new Map<string, SentLetter[]>();
  for (const x of letters)
    for (const e164 of new Set([x.e164, x.given ?? x.e164])) by.set(e164, [...(by.get(e164) ?? []), x]);
  return by;
}
const letterAs = (x: SentLetter): string =>
  `${x.what}, to ${x.to}, by ${x.by}${x.letter ? `: “${x.letter.subject}”` : ''}`;
const cameOf = (x: SentLetter, moment: (at: number) => string): string =>
  x.answeredAt === null ? 'never answered' : `answered ${moment(x.answeredAt)}`;

const whatOf = (x: LedgerEvent): string =>
  `${x.kind}${x.awaitsConfirmation ? ', a YES was asked for' : ''}, ${x.purposes.join(', ')} texts, by ${x.how}`;

function groupOf<T>(items: readonly T[], of: (item: T) => string): Map<string, T[]> {
  const by = new Map<string, T[]>();
  for (const item of items) {
    const list = by.get(of(item));
    if (list) list.push(item);
    else by.set(of(item), [item]);
  }
  return by;
}
