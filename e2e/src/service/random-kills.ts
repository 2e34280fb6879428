import { seeded } from '@long-gate/core';
import { Person, Running, until } from '../running.js';

/** What a run of power cuts has shown. All of `lost`, `doubled` and `pastNo` have to be nothing. */
export interface Toll {
  seed: number;
  kills: { server: number; outside: number; both: number };
  dispatches: number;
  texts: number;
  stops: number;
  cancels: number;
  switches: number;
  /** Texts the network has and we deny, or we say it has and it has not, or whose fate is open at the end. */
  lost: string[];
  doubled: string[];
  /** Texts the network took after it had taken a STOP of theirs, or after a cancel or the off switch was acknowledged. */
  pastNo: string[];
  /** From a STOP on the handset to its event in the ledger while a dispatch ran and nothing was down, milliseconds. */
  stopToLedgerMs: number[];
}

interface Text {
  key: string;
  sender: string;
  recipient: string;
  at: number;
}
interface Message {
  id: string;
  e164: string;
  state: string;
}

const OURS = '+12015550142';
const AIR = ['judging', 'waiting', 'leaving', 'unsure'];

/**
 * Runs the demo, sends dispatch after dispatch, lets people text STOP, cancels and switches off now and then, and kills
 * the server, the outside or both at moments drawn from a seed; then holds what the network has against what we say.
 */
export async function killAtRandom(seed: number, moments: number, say: (line: string) => void): Promise<Toll> {
  const random = seeded(seed);
  const running = await Running.start({ demo: true, env: { LONG_GATE_SUSPEND_AFTER: '0' } });
  const toll: Toll = {
    seed,
    kills: { server: 0, outside: 0, both: 0 },
    dispatches: 0,
    texts: 0,
    stops: 0,
    cancels: 0,
    switches: 0,
    lost: [],
    doubled: [],
    pastNo: [],
    stopToLedgerMs: [],
  };
  try {
    let person = await new Person(running.url).signIn('administrator');
    const business = person.businesses.find((b) => b.nameLine === 'Saltmarsh Ferries')?.id ?? '';
    const at = `/businesses/${business}`;
    const lists = await person.ok<{ items: { id: string; name: string }[] }>('GET', `${at}/lists`);
    const numbers = await person.ok<{ items: { id: string; e164: string }[] }>('GET', `${at}/numbers`);
    await person.ok('POST', `${at}/top-ups`, { amount: 500_000_000 });
    const cancelled = new Map<string, number>();
    const off: { from: number; to: number }[] = [];
    const begun: string[] = [];
    const begin = async (): Promise<string> => {
      const d = await person.ok<{ id: string; version: number }>('POST', `${at}/dispatches`, {
        title: `Power cut ${begun.length}`,
        text: 'The 17:40 leaves from the north quay today.',
        purpose: 'informational',
        transactional: false,
        stopLine: true,
        numberId: numbers.items.find((n) => n.e164 === OURS)?.id ?? null,
        audience: { include: [lists.items.find((l) => l.name === 'Commuters')?.id ?? ''], exclude: [] },
      });
      await person.ok('POST', `${at}/dispatches/${d.id}/sending`, {}, { 'if-match': `"${d.version}"` });
      begun.push(d.id);
      return d.id;
    };
    const now = async (): Promise<number> => (await person.ok<{ clock: { now: number } }>('GET', '/session')).clock.now;
    const messages = (id: string, state = ''): Promise<{ items: Message[] }> =>
      person.ok('GET', `${at}/dispatches/${id}/messages?limit=500${state ? `&state=${state}` : ''}`);
    const stopFrom = async (e164: string): Promise<boolean> =>
      fetch(`${running.outside}/handset/phones/${encodeURIComponent(e164)}/texts`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ to: OURS, text: 'STOP' }),
      }).then(
        (r) => r.ok,
        () => false,
      );
    const stopped = new Set<string>();
    const quitters: string[] = [];

    let current = await begin();
    for (let moment = 0; moment < moments; moment++) {
      const { counts } = await person.ok<{ counts: Record<string, number> }>('GET', `${at}/dispatches/${current}`);
      if (AIR.every((s) => (counts[s] ?? 0) === 0)) current = await begin();
      // Some people say no, a little before the power goes.
      const waiting = (await messages(current, 'waiting')).items.filter((m) => !stopped.has(m.e164));
      for (let k = 0; k < 2 && waiting.length > 2; k++) {
        const quitter = waiting[Math.floor(random() * waiting.length)]?.e164 ?? '';
        if (quitter !== '' && !stopped.has(quitter) && (await stopFrom(quitter))) {
          stopped.add(quitter);
          quitters.push(quitter);
          toll.stops++;
          if (k === 0 && moment % 4 === 0) await measureStop(person, at, quitter, toll);
        }
      }
      const act = random();
      if (act < 0.08) {
        await person.ok('POST', `${at}/dispatches/${current}/cancel`);
        cancelled.set(current, await now());
        toll.cancels++;
      } else if (act < 0.16) {
        await person.ok('PUT', `${at}/texts`, { off: true });
        off.push({ from: await now(), to: Infinity });
        toll.switches++;
      }
      await new Promise((r) => setTimeout(r, random() * 700));
      const which = random() < 0.5 ? 'server' : random() < 0.6 ? 'outside' : 'both';
      toll.kills[which]++;
      if (which !== 'outside') await running.kill('server');
      if (which !== 'server') await running.kill('outside');
      // People write while we are away.
      if (which === 'server' && waiting.length > 4) {
        const late = waiting[waiting.length - 1]?.e164 ?? '';
        if (!stopped.has(late) && (await stopFrom(late))) {
          stopped.add(late);
          quitters.push(late);
          toll.stops++;
        }
      }
      await new Promise((r) => setTimeout(r, random() * 400));
      if (which !== 'server') await running.startOutsideAgain();
      if (which !== 'outside') await running.startServerAgain();
      person = await new Person(running.url).signIn('administrator');
      const open = off.find((o) => o.to === Infinity);
      if (open) {
        open.to = await now();
        await person.ok('PUT', `${at}/texts`, { off: false });
      }
      if ((moment + 1) % 20 === 0) say(`${moment + 1} of ${moments} moments`);
    }

    // All comes to rest by itself.
    for (const id of begun)
      await until(async () => {
        const { counts } = await person.ok<{ counts: Record<string, number> }>('GET', `${at}/dispatches/${id}`);
        return AIR.every((s) => (counts[s] ?? 0) === 0);
      });
    toll.dispatches = begun.length;
    const stoppedAt = new Map<string, number>();
    for (const e164 of quitters) {
      const phone = (await (await fetch(`${running.outside}/handset/phones/${encodeURIComponent(e164)}`)).json()) as {
        texts: { direction: string; text: string; at: number }[];
      };
      const first = phone.texts.find((t) => t.direction === 'out' && t.text === 'STOP');
      if (first) stoppedAt.set(e164, first.at);
    }
    for (const id of begun) {
      const texts = (await (await fetch(`${running.outside}/network/texts?prefix=${id}-`)).json()) as Text[];
      toll.texts += texts.length;
      const seen = new Set<string>();
      for (const t of texts) {
        if (seen.has(t.recipient)) toll.doubled.push(`${id} ${t.recipient}`);
        seen.add(t.recipient);
        const no = stoppedAt.get(t.recipient);
        if (no !== undefined && t.at > no) toll.pastNo.push(`${t.key} ${Math.round(t.at - no)} ms after STOP`);
        const end = cancelled.get(id);
        if (end !== undefined && t.at > end) toll.pastNo.push(`${t.key} after its dispatch was cancelled`);
        if (off.some((o) => t.at > o.from && t.at < o.to)) toll.pastNo.push(`${t.key} while all texts were off`);
      }
      const has = new Set(texts.map((t) => t.key));
      for (const m of (await messages(id)).items) {
        const says = ['sent', 'delivered', 'failed'].includes(m.state);
        if (says !== has.has(m.id))
          toll.lost.push(`${m.id}: we say ${m.state}, the network ${has.has(m.id) ? 'has' : 'has not'} got it`);
        if (AIR.includes(m.state)) toll.lost.push(`${m.id} is still ${m.state}`);
      }
    }
    return toll;
  } finally {
    await running.stop();
  }
}

/** How long a STOP takes from the handset to the ledger while texts leave. */
async function measureStop(person: Person, at: string, e164: string, toll: Toll): Promise<void> {
  const from = performance.now();
  for (let i = 0; i < 400; i++) {
    const { items } = await person.ok<{ items: { kind: string }[] }>(
      'GET',
      `${at}/ledger?limit=1&e164=${encodeURIComponent(e164)}`,
    );
    if (items[0]?.kind === 'revoked') {
      toll.stopToLedgerMs.push(Math.round(performance.now() - from));
      return;
    }
    await new Promise((r) => setTimeout(r, 20));
  }
}
