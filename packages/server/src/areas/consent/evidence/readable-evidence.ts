import { formatPhone, PURPOSES, type LedgerEvent, type NumberStanding } from '@long-gate/core';
import { beginPdf, legible, type Pdf } from '../../../platform/pdf.js';
import { inThread, serveTask } from '../../../platform/thread.js';
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
            .map(([k, v]) => `${k}: ${v}`),
          `event ${x.seq}, SHA-256 ${x.hash}`,
        ]
          .filter(Boolean)
          .join(' · '),
      );
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
    for (const x of own) {
      const saw = nth.get(x.disclosure);
      line(`${moment(x.happenedAt)}: ${whatOf(x)}${saw === undefined ? '' : `, words ${saw}`}, event ${x.seq}`);
    }
  }
}

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
