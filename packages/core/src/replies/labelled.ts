import { ownWords } from './cuttings.js';
import { clean } from './dress.js';
import { learn } from './features.js';
import { readReply, type Intent, type ReplyReading } from './read-reply.js';

/** What a labelled reply is: the reading that is right, and, for a stop of only part, its purpose. */
export interface Labelled {
  text: string;
  label: Intent | 'part';
  purpose: string;
  /** Of `other`: looks like a wish and is none. */
  hard: boolean;
  /** True for the part that is only measured: nobody looks at its misses, nothing is tuned on it. */
  held: boolean;
}

/** Joining words the labelled set knows. */
export const LABELLED_KEYWORDS = ['FERRY', 'KILN'];

/**
 * Reads a file of labelled replies: `# label` heads the texts below it, one a line, `\n` for a line break.
 * Three in ten are held out, by a fixed hash of the text (FNV-1a), so that the split never changes.
 */
export function parseLabelled(file: string): Labelled[] {
  const out: Labelled[] = [];
  let label = '';
  for (const line of file.split('\n')) {
    if (line.startsWith('# ')) label = line.slice(2).trim();
    else if (line !== '') {
      const [name = '', purpose = ''] = label.replace('!', '').split(':');
      out.push({
        text: line.replaceAll('\\n', '\n'),
        label: name as Labelled['label'],
        purpose,
        hard: label.endsWith('!'),
        held: fnv(line) % 10 < 3,
      });
    }
  }
  return out;
}

function fnv(text: string): number {
  let h = 0x811c9dc5;
  for (const b of new TextEncoder().encode(text)) h = Math.imul(h ^ b, 0x01000193) >>> 0;
  return h;
}

/** Learns the reader's weights from the part one works on. */
export function learnFrom(replies: readonly Labelled[]): Record<string, number> {
  return learn(
    replies
      .filter((r) => !r.held)
      .map((r) => ({ read: clean(ownWords(r.text, undefined)), wish: r.label === 'stop' || r.label === 'part' })),
  );
}

/** What the reader makes of it, in the words of the labels. */
export function read(reply: Labelled): { reading: ReplyReading; as: Labelled['label'] } {
  const reading = readReply(reply.text, { keywords: LABELLED_KEYWORDS });
  return { reading, as: reading.intent === 'stop' && reading.purposes ? 'part' : reading.intent };
}

export interface Measured {
  /** Of the wishes to stop (all or part), how many were read as one. */
  recall: { k: number; n: number };
  /** Of what was read as a wish to stop, how many were one. */
  precision: { k: number; n: number };
  /** Read exactly as labelled, by label. */
  byLabel: Record<string, { k: number; n: number }>;
  misses: { reply: Labelled; as: string }[];
}

/** Measures the reader on labelled replies. */
export function measure(replies: readonly Labelled[]): Measured {
  const m: Measured = { recall: { k: 0, n: 0 }, precision: { k: 0, n: 0 }, byLabel: {}, misses: [] };
  for (const reply of replies) {
    const { as } = read(reply);
    const [wanted, got] = [reply.label, as].map((x) => x === 'stop' || x === 'part');
    if (wanted) {
      m.recall.n++;
      if (got) m.recall.k++;
    }
    if (got) {
      m.precision.n++;
      if (wanted) m.precision.k++;
    }
    const one = (m.byLabel[reply.label] ??= { k: 0, n: 0 });
    one.n++;
    if (as === reply.label) one.k++;
    else m.misses.push({ reply, as });
  }
  return m;
}
