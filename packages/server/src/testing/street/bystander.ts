import { PURPOSES, type Purpose } from '@long-gate/core';
import { DateTime } from 'luxon';

const HOUR_MS = 3_600_000;
/** As the texts of the street begin, which say for what they are. */
const KIND_OF: Record<string, Purpose> = { NOTICE: 'informational', OFFER: 'promotional', ANSWER: 'conversational' };
const YOU_ARE_IN = /you are (back )?in for/i;
/** Where somebody may live, and where it is day there: zones, from, to. Nobody's own address: by the area code, New York. */
const DAYS: Record<string, readonly [zones: readonly string[], from: number, to: number]> = {
  '': [['America/New_York'], 8, 21],
  CA: [['America/Los_Angeles'], 8, 21],
  FL: [['America/New_York', 'America/Chicago'], 8, 20],
};

/** What a bystander keeps in mind of one number. */
interface Owner {
  /** How many things had been said when its owner said no last, and yes; by kind. */
  no: Partial<Record<Purpose, number>>;
  yes: Partial<Record<Purpose, number>>;
  /** When somebody asked last, as it seemed they themselves, to be sent a kind. */
  wished: Partial<Record<Purpose, number>>;
  /** When they wrote last, whatever it was. */
  wroteAt: number | null;
  /** When they, or somebody who seemed to be them, last did what a text answers: wrote, or filled in a page. */
  actedAt: number;
  /** When they said no last, to what they did. */
  noAt: Partial<Record<Purpose, number>>;
  /** What they got when they left: what START brings back. */
  left: Purpose[];
  /** Kinds of which another of the same person's numbers said no, since this one said yes itself. */
  elsewhere: Set<Purpose>;
  /** Their carrier said that they refuse. */
  refused: boolean;
  /** They wrote what may be a wish to stop, and nobody has read it. */
  inDoubt: boolean;
  /** A text that asks for their YES was handed over, and nobody knows yet whether it left. */
  inTheAir: readonly Purpose[];
  /** Nobody can tell whether the number has changed hands. */
  whose: 'theirs' | 'unknown';
}

/** A text that was handed to the network. */
export interface Out {
  to: string;
  text: string;
  at: number;
}

/**
 * Writes down who said yes and no, and what reached whom when, and says what may not be. Knows nothing of ledgers,
 * states or gates, and believes nobody but the people themselves.
 */
export class Bystander {
  readonly out: Out[] = [];
  /** What may not be. */
  readonly wrongs: string[] = [];
  /** Whom a list of ours names. */
  readonly listed = new Set<string>();
  /** The business wants no texts to leave. */
  off = false;
  /** Where the owner of a number lives, and which other numbers they have, as the business knows. */
  homes = new Map<string, string>();
  besides = new Map<string, readonly string[]>();
  private readonly owners = new Map<string, Owner>();
  private said = 0;

  of(e164: string): Owner {
    const known = this.owners.get(e164);
    if (known) return known;
    const owner: Owner = {
      no: {},
      yes: {},
      wished: {},
      wroteAt: null,
      actedAt: -Infinity,
      noAt: {},
      left: [],
      elsewhere: new Set(),
      refused: false,
      inDoubt: false,
      inTheAir: [],
      whose: 'theirs',
    };
    this.owners.set(e164, owner);
    return owner;
  }

  /** What they get: they said yes to it, and not no since. */
  gets(e164: string): Purpose[] {
    const { no, yes } = this.of(e164);
    return PURPOSES.filter((k) => (yes[k] ?? 0) > (no[k] ?? 0));
  }

  hasSaidNo(e164: string, kind: Purpose): boolean {
    const { no, yes } = this.of(e164);
    return (no[kind] ?? 0) > (yes[kind] ?? 0);
  }

  /** @param others their other numbers. */
  saysNo(e164: string, kinds: readonly Purpose[], others: readonly string[], at: number): void {
    const owner = this.of(e164);
    const got = this.gets(e164);
    if (got.length > 0) owner.left = got;
    this.said++;
    for (const k of kinds) {
      owner.no[k] = this.said;
      owner.noAt[k] = at;
      for (const other of others) this.of(other).elsewhere.add(k);
    }
  }

  /** @param byHandset with their own telephone, which says besides that it is theirs and that they refuse nothing. */
  saysYes(e164: string, kinds: readonly Purpose[], byHandset = true): void {
    if (kinds.length === 0) return;
    const owner = this.of(e164);
    this.said++;
    for (const k of [...kinds, 'conversational' as const]) {
      owner.yes[k] = this.said;
      owner.elsewhere.delete(k);
    }
    if (!byHandset) return;
    owner.refused = false;
    owner.inDoubt = false;
  }

  /** Somebody wants to join, who may be its owner: a text asks for their YES. */
  wishes(e164: string, kinds: readonly Purpose[], at: number): void {
    this.said++;
    this.of(e164).actedAt = at;
    for (const k of kinds) this.of(e164).wished[k] = this.said;
  }

  /** They wrote something. */
  writes(e164: string, at: number): void {
    this.of(e164).wroteAt = at;
    this.of(e164).actedAt = at;
  }

  /** It was answered that the number has another owner now. */
  changesHands(e164: string): void {
    const owner = this.of(e164);
    owner.yes = {};
    owner.whose = 'theirs';
  }

  /** A number and others are one person's from now on. */
  areOne(all: readonly string[]): void {
    for (const k of PURPOSES)
      for (const x of all.filter((n) => this.hasSaidNo(n, k)))
        for (const other of all)
          if (other !== x && (this.of(x).no[k] ?? 0) > (this.of(other).yes[k] ?? 0)) this.of(other).elsewhere.add(k);
  }

  /** To what the last text to somebody asks their YES, where it does. */
  asked(e164: string, now: number): readonly Purpose[] {
    const { inTheAir } = this.of(e164);
    if (inTheAir.length > 0) return inTheAir;
    const last = this.out.findLast((x) => x.to === e164);
    return last && last.at > now - 72 * HOUR_MS ? asksFor(last.text) : [];
  }

  private lookAtHour(e164: string, at: number, said: (what: string) => unknown): void {
    const [zones, from, to] = DAYS[this.homes.get(e164) ?? ''] ?? [[], 0, 0];
    for (const zone of zones) {
      const { hour } = DateTime.fromMillis(at, { zone });
      if (hour < from || hour >= to) said(`at ${hour} o’clock in ${zone}`);
    }
  }

  /** What nobody writes by hand says what is so. */
  private lookAtAnswer({ to, text, at }: Out): void {
    const said = (what: string): unknown => this.wrongs.push(`“${text}” to ${to} ${what}`);
    const { wished, no, actedAt } = this.of(to);
    const asks = asksFor(text);
    if ((asks.length > 0 || YOU_ARE_IN.test(text)) && at >= actedAt + HOUR_MS) this.lookAtHour(to, at, said);
    if (asks.some((k) => (wished[k] ?? 0) <= (no[k] ?? 0))) said('who does not want all of it any more');
    const got = this.gets(to).filter((k) => k !== 'conversational');
    if (/you are out/i.test(text) && got.length > 0) said('who is in');
    if (YOU_ARE_IN.test(text) && got.length === 0) said('who is out');
  }

  /** A text was taken by the network. */
  look(now: Out): void {
    const [, word = '', n = ''] = /\b(NOTICE|OFFER|ANSWER) (\d+)/.exec(now.text) ?? [];
    const kind = KIND_OF[word];
    if (kind) {
      const said = (what: string): unknown => this.wrongs.push(`“${now.text}” to ${now.to} ${what}`);
      const owner = this.of(now.to);
      if (this.off) said('while texts are switched off');
      if (this.listed.has(now.to)) said('who is on a list of ours');
      if (this.hasSaidNo(now.to, kind)) said('after their no');
      if (owner.refused) said('which its owner refused at the carrier');
      if (this.out.some((x) => x.to === now.to && x.text.includes(`${word} ${n}`))) said('a second time');
      if (kind === 'conversational') {
        if (now.at > (owner.wroteAt ?? -Infinity) + 24 * HOUR_MS) said('a day after they wrote');
      } else {
        if (!this.gets(now.to).includes(kind)) said('who never agreed to it');
        if (owner.elsewhere.has(kind)) said('after their no by another number');
        this.lookAtHour(now.to, now.at, said);
      }
      if (kind === 'promotional') {
        if (owner.inDoubt) said('whose wish nobody has read');
        if (owner.whose === 'unknown') said('of which nobody knows whose it is');
        const theirs = new Set([now.to, ...(this.besides.get(now.to) ?? [])]);
        const day = this.out.filter(
          (x) => theirs.has(x.to) && / OFFER \d/.test(x.text) && x.at > now.at - 24 * HOUR_MS,
        );
        if (day.length >= 3) said('as the fourth offer in 24 hours');
      }
    }
    this.lookAtAnswer(now);
    this.of(now.to).inTheAir = [];
    this.out.push(now);
  }
}

/** For what a text asks a YES; nothing where it asks for none. */
function asksFor(text: string): Purpose[] {
  const [, what = ''] = /reply YES to get (.*?) by text/i.exec(text) ?? [];
  return PURPOSES.filter((k) =>
    what.includes({ informational: 'notices', promotional: 'offers', conversational: '-' }[k]),
  );
}
