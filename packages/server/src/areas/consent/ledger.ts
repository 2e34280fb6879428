import { hash } from 'node:crypto';
import type { ConsentEventView } from '@long-gate/contracts';
import {
  foldConsent,
  GENESIS,
  LedgerVerifier,
  linkEvent,
  CONFIRM_WITHIN_MS,
  PURPOSES,
  type ConsentEvent,
  type ConsentEventKind,
  type ConsentRoute,
  type ConsentState,
  type ConsentStates,
  type LedgerEvent,
  type LedgerVerdict,
  type Purpose,
} from '@long-gate/core';
import { AUDIT_CHAIN, trailHead } from '../../platform/audit.js';
import { numberCursor } from '../../platform/cursor.js';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { HeadRecord } from '../../platform/heads.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from '../contacts/index.js';

export interface EventRow {
  business_id: string;
  seq: number;
  id: string;
  e164: string;
  purposes: string;
  kind: ConsentEventKind;
  awaits_confirmation: number;
  happened_at: number;
  recorded_at: number;
  how: ConsentRoute;
  disclosure: string;
  disclosure_version: string;
  evidence: string;
  recorded_by: string;
  prev_hash: string;
  hash: string;
}

/** SHA-256 in hex, native and one-shot. */
export const sha256 = (text: string): string => hash('sha256', text, 'hex');

/** Takes a stored row back into the event it was hashed as. */
export function eventOf(row: EventRow): LedgerEvent {
  return {
    id: row.id,
    businessId: row.business_id,
    seq: row.seq,
    e164: row.e164,
    purposes: row.purposes.split(',') as Purpose[],
    kind: row.kind,
    awaitsConfirmation: row.awaits_confirmation === 1,
    happenedAt: row.happened_at,
    recordedAt: row.recorded_at,
    how: row.how,
    disclosure: row.disclosure,
    disclosureVersion: row.disclosure_version,
    evidence: JSON.parse(row.evidence) as Record<string, string>,
    recordedBy: row.recorded_by,
    prevHash: row.prev_hash,
    hash: row.hash,
  };
}

export type NewEvent = Pick<ConsentEvent, 'e164' | 'purposes' | 'kind' | 'how'> &
  Partial<
    Pick<
      ConsentEvent,
      | 'awaitsConfirmation'
      | 'happenedAt'
      | 'disclosure'
      | 'disclosureVersion'
      | 'evidence'
      | 'recordedBy'
      | 'recordedAt'
    >
  >;

const CHUNK = 2000;
const chainOf = (businessId: string): string => `ledger:${businessId}`;

type Kept = Record<Purpose, ConsentState>;

/** The append-only record of consent events, its proof chain, and the state of now that follows from it. */
export class Ledger {
  /** Businesses whose ledger is shorter or other than was signed: their states may only become stricter. */
  private readonly suspect = new Set<string>();

  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
  ) {}

  /** Appends events in the caller's transaction, links them to the chain, and brings the projection up to date. */
  async append(w: Writer, businessId: string, events: readonly NewEvent[]): Promise<LedgerEvent[]> {
    const last = await w.one<{ seq: number; hash: string }>(
      'SELECT seq, hash FROM consent_event WHERE business_id = $1 ORDER BY seq DESC LIMIT 1',
      [businessId],
    );
    let seq = last?.seq ?? 0;
    let prev = last?.hash ?? GENESIS;
    const now = this.p.clock.now();
    const linked = events.map((e) => {
      const event: ConsentEvent = {
        id: newId('evt'),
        businessId,
        seq: ++seq,
        e164: e.e164,
        purposes: PURPOSES.filter((x) => e.purposes.includes(x)),
        kind: e.kind,
        awaitsConfirmation: e.awaitsConfirmation ?? false,
        happenedAt: Math.round(e.happenedAt ?? now),
        recordedAt: Math.round(e.recordedAt ?? now),
        how: e.how,
        disclosure: e.disclosure ?? '',
        disclosureVersion: e.disclosureVersion ?? '',
        evidence: e.evidence ?? {},
        recordedBy: e.recordedBy ?? 'contact',
      };
      const link = linkEvent(event, prev, sha256);
      prev = link.hash;
      return link;
    });
    for (let i = 0; i < linked.length; i += CHUNK) await this.insert(w, linked.slice(i, i + CHUNK));
    await this.project(w, businessId, [...new Set(events.map((e) => e.e164))]);
    w.afterCommit(() => {
      this.p.live.tell({ businessId, topic: 'consent' });
      this.p.live.tell({ businessId, topic: 'contacts' });
    });
    return linked;
  }

  private async insert(w: Writer, events: readonly LedgerEvent[]): Promise<void> {
    const rows = events.map((e) => [
      e.businessId,
      e.seq,
      e.id,
      e.e164,
      e.purposes.join(','),
      e.kind,
      e.awaitsConfirmation ? 1 : 0,
      e.happenedAt,
      e.recordedAt,
      e.how,
      e.disclosure,
      e.disclosureVersion,
      JSON.stringify(e.evidence),
      e.recordedBy,
      e.prevHash,
      e.hash,
    ]);
    await w.run(
      `INSERT INTO consent_event (business_id, seq, id, e164, purposes, kind, awaits_confirmation, happened_at, recorded_at, how, disclosure, disclosure_version, evidence, recorded_by, prev_hash, hash)
       SELECT ${rows[0]?.map((_, i) => `value->>${i}`).join(', ') ?? ''} FROM json_each($1)`,
      [jsonRows(rows)],
    );
  }

  /** Folds the events of these numbers and keeps the outcome beside the ledger and where the gate reads it. */
  async project(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    const now = this.p.clock.now();
    for (let i = 0; i < e164s.length; i += CHUNK) {
      const part = e164s.slice(i, i + CHUNK);
      const rows = await w.all<EventRow>(
        // Each number by its own index: without the hint the whole ledger of the business is walked for every one.
        'SELECT e.* FROM json_each($2) j CROSS JOIN consent_event e INDEXED BY consent_event_number ON e.business_id = $1 AND e.e164 = j.value',
        [businessId, jsonRows(part)],
      );
      const by = new Map<string, EventRow[]>();
      for (const r of rows) {
        const list = by.get(r.e164);
        if (list) list.push(r);
        else by.set(r.e164, [r]);
      }
      const kept = this.suspect.has(businessId) ? await this.keptOf(w, businessId, part) : null;
      const states = part.map((e164) => {
        const s = foldConsent((by.get(e164) ?? []).map(eventOf), now);
        const state = (x: Purpose): ConsentState => stricter(s[x].state, kept?.get(e164)?.[x]);
        return [e164, state('conversational'), state('informational'), state('promotional'), lapseOf(s)] as const;
      });
      await w.run(
        `INSERT INTO consent_state (business_id, e164, conversational, informational, promotional, as_of, lapses_at) SELECT $1, value->>0, value->>1, value->>2, value->>3, $3, value->>4 FROM json_each($2) WHERE true
         ON CONFLICT DO UPDATE SET conversational = excluded.conversational, informational = excluded.informational, promotional = excluded.promotional, as_of = excluded.as_of, lapses_at = excluded.lapses_at`,
        [businessId, jsonRows(states), now],
      );
      await this.contacts.projectConsent(w, businessId, part);
    }
    w.tell('consent.changed', { businessId, e164s });
  }

  async statesOf(r: Reader, businessId: string, e164: string): Promise<ConsentStates> {
    return foldConsent(await this.eventsOf(r, businessId, e164), this.p.clock.now());
  }

  async eventsOf(r: Reader, businessId: string, e164: string): Promise<LedgerEvent[]> {
    return (
      await r.all<EventRow>(
        'SELECT * FROM consent_event INDEXED BY consent_event_number WHERE business_id = $1 AND e164 = $2 ORDER BY seq',
        [businessId, e164],
      )
    ).map(eventOf);
  }

  /** The whole chain in order, a chunk at a time. */
  async *chain(businessId: string): AsyncGenerator<LedgerEvent[]> {
    for (let after = 0; ;) {
      const rows = await this.p.db.all<EventRow>(
        `SELECT * FROM consent_event WHERE business_id = $1 AND seq > $2 ORDER BY seq LIMIT ${CHUNK}`,
        [businessId, after],
      );
      if (rows.length === 0) return;
      yield rows.map(eventOf);
      after = rows[rows.length - 1]?.seq ?? after;
    }
  }

  /** What is kept of these numbers beside the ledger and where the gate reads it; the stricter of the two. */
  private async keptOf(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, Kept>> {
    const out = new Map<string, Kept>();
    const rows = await r.all<Kept & { e164: string }>(
      `SELECT e164, conversational, informational, promotional FROM consent_state WHERE business_id = $1 AND e164 IN (SELECT value FROM json_each($2))
       UNION ALL SELECT e164, consent_conversational, consent_informational, consent_promotional FROM contact_number WHERE business_id = $1 AND e164 IN (SELECT value FROM json_each($2))`,
      [businessId, jsonRows(e164s)],
    );
    for (const { e164, ...states } of rows) {
      const other = out.get(e164);
      for (const x of PURPOSES) states[x] = stricter(states[x], other?.[x]);
      out.set(e164, states);
    }
    return out;
  }

  // -- proof -----------------------------------------------------------------------------------------------------

  /** Signs where the business's ledger and the trail stand, apart from the database. */
  async signHeads(businessId: string): Promise<void> {
    const { db, heads, clock } = this.p;
    await heads.sign(AUDIT_CHAIN, await trailHead(db), clock.now());
    const row = await db.one<{ seq: number; hash: string }>(
      'SELECT seq, hash FROM consent_event WHERE business_id = $1 ORDER BY seq DESC LIMIT 1',
      [businessId],
    );
    // What was already found short or forged is not signed into being right.
    if (row && !this.suspect.has(businessId))
      await heads.sign(chainOf(businessId), { count: row.seq, head: row.hash }, clock.now());
  }

  /** The signed heads, with the key by which anybody can check them. */
  async signedHeads(businessId: string): Promise<{ publicKey: string; heads: HeadRecord[] }> {
    return { publicKey: this.p.heads.publicPem, heads: (await this.p.heads.of(chainOf(businessId))).heads };
  }

  /**
   * A quick look before anything is sent: does the ledger still hold the last signed head? Where it does not, states
   * may only become stricter until it is restored. Costs one lookup a business.
   */
  async lookAtHeads(businessIds: readonly string[]): Promise<string[]> {
    for (const id of businessIds) {
      const { heads } = await this.p.heads.of(chainOf(id));
      const last = heads.reduce<HeadRecord | null>(
        (most, h) => (most === null || h.count > most.count ? h : most),
        null,
      );
      if (!last) continue;
      const row = await this.p.db.one<{ hash: string }>(
        'SELECT hash FROM consent_event WHERE business_id = $1 AND seq = $2',
        [id, last.count],
      );
      if (row?.hash !== last.head) this.suspect.add(id);
    }
    return [...this.suspect];
  }

  /** Walks the chain from its first event, beside its signed heads; gives way to other work between chunks. */
  async verify(businessId: string): Promise<LedgerVerdict> {
    const verdict = await this.walk(businessId);
    if (!verdict.ok) this.suspect.add(businessId);
    else this.suspect.delete(businessId);
    return verdict;
  }

  private async walk(businessId: string): Promise<LedgerVerdict> {
    const { heads, forged } = await this.p.heads.of(chainOf(businessId));
    const verifier = new LedgerVerifier(sha256, heads, businessId);
    for (let after = 0; ;) {
      const rows = await this.rowsAfter(businessId, after);
      if (rows.length === 0) break;
      for (const row of rows) {
        let event: LedgerEvent;
        try {
          event = eventOf(row);
        } catch (error) {
          return verifier.unreadable((error as Error).message);
        }
        const broken = verifier.take(event);
        if (broken) return broken;
      }
      after = rows[rows.length - 1]?.seq ?? after;
      await new Promise((r) => setImmediate(r));
    }
    const verdict = verifier.done();
    return verdict.ok && forged > 0
      ? {
          ok: false,
          brokenAt: verdict.count,
          eventId: '',
          reason: 'head',
          message: `${forged} of the signed heads do not bear our signature: the file of heads was tampered with.`,
        }
      : verdict;
  }

  private async rowsAfter(businessId: string, after: number): Promise<EventRow[]> {
    return this.p.db.all<EventRow>(
      `SELECT * FROM consent_event WHERE business_id = $1 AND seq > $2 ORDER BY seq LIMIT ${CHUNK}`,
      [businessId, after],
    );
  }

  /**
   * Folds everything anew and compares it with the kept state of now; mends it where asked. It never loosens where the
   * ledger is not whole: nobody who was stopped becomes open because the record of it is gone.
   */
  async rebuild(businessId: string, mend: boolean): Promise<{ ok: boolean; differing: number; keptStrict: number }> {
    const whole = (await this.verify(businessId)).ok;
    const by = new Map<string, LedgerEvent[]>();
    for (let after = 0; ;) {
      const rows = await this.rowsAfter(businessId, after);
      if (rows.length === 0) break;
      for (const row of rows) {
        const event = readable(row);
        if (!event) continue;
        const list = by.get(event.e164);
        if (list) list.push(event);
        else by.set(event.e164, [event]);
      }
      after = rows[rows.length - 1]?.seq ?? after;
    }
    const rows = await this.p.db.all<{ e164: string }>(
      `SELECT e164 FROM consent_state WHERE business_id = $1 UNION SELECT e164 FROM contact_number WHERE business_id = $1 AND (consent_conversational <> 'none' OR consent_informational <> 'none' OR consent_promotional <> 'none')`,
      [businessId],
    );
    const all = [...new Set([...by.keys(), ...rows.map((r) => r.e164)])];
    const now = this.p.clock.now();
    const differing: string[] = [];
    let keptStrict = 0;
    for (let i = 0; i < all.length; i += CHUNK) {
      const part = all.slice(i, i + CHUNK);
      const kept = await this.keptStates(businessId, part);
      for (const e164 of part) {
        const folded = foldConsent(by.get(e164) ?? [], now);
        const places = kept.get(e164) ?? [];
        const same = places.every((k) => PURPOSES.every((x) => k[x] === folded[x].state));
        if (same && (places.length > 0 || !by.has(e164))) continue;
        differing.push(e164);
        if (!whole && places.some((k) => PURPOSES.some((x) => stricter(folded[x].state, k[x]) !== folded[x].state)))
          keptStrict++;
      }
      await new Promise((r) => setImmediate(r));
    }
    if (mend && differing.length > 0) await this.p.db.write((w) => this.project(w, businessId, differing));
    return { ok: differing.length === 0, differing: differing.length, keptStrict };
  }

  /** Both places in which a number's state of now is kept; none where it is in neither. */
  private async keptStates(businessId: string, e164s: readonly string[]): Promise<Map<string, Kept[]>> {
    const out = new Map<string, Kept[]>();
    for (const sql of [
      'SELECT e164, conversational, informational, promotional FROM consent_state WHERE business_id = $1 AND e164 IN (SELECT value FROM json_each($2))',
      'SELECT e164, consent_conversational AS conversational, consent_informational AS informational, consent_promotional AS promotional FROM contact_number WHERE business_id = $1 AND e164 IN (SELECT value FROM json_each($2))',
    ])
      for (const { e164, ...states } of await this.p.db.all<Kept & { e164: string }>(sql, [
        businessId,
        jsonRows(e164s),
      ]))
        out.set(e164, [...(out.get(e164) ?? []), states]);
    return out;
  }

  async page(
    businessId: string,
    q: { cursor?: string; limit: number; e164?: string; kind?: string; how?: string },
  ): Promise<{ items: ConsentEventView[]; next: string | null; total: number }> {
    const where = `e.business_id = $1 AND ($2 = '' OR e.e164 = $2) AND ($3 = '[]' OR e.kind IN (SELECT value FROM json_each($3))) AND ($4 = '[]' OR e.how IN (SELECT value FROM json_each($4)))`;
    const list = (s: string | undefined): string => JSON.stringify(s ? s.split(',') : []);
    const bind = [businessId, q.e164 ?? '', list(q.kind), list(q.how)];
    const rows = await this.p.db.all<EventRow & { name: string | null; contact_id: string | null }>(
      `SELECT e.*, trim(c.first_name || ' ' || c.last_name) AS name, c.id AS contact_id FROM consent_event e LEFT JOIN contact_number cn ON cn.business_id = e.business_id AND cn.e164 = e.e164 LEFT JOIN contact c ON c.id = cn.contact_id
       WHERE ${where} AND e.seq < $5 ORDER BY e.seq DESC LIMIT $6`,
      [...bind, numberCursor(q.cursor, Number.MAX_SAFE_INTEGER), q.limit + 1],
    );
    const total = await this.p.db.one<{ n: number }>(`SELECT count(*) AS n FROM consent_event e WHERE ${where}`, bind);
    const items = rows.slice(0, q.limit);
    return {
      items: items.map((r) => ({ ...eventOf(r), contactName: r.name ?? '', contactId: r.contact_id })),
      next: rows.length > q.limit ? String(items[items.length - 1]?.seq ?? '') : null,
      total: total?.n ?? 0,
    };
  }
}

function readable(row: EventRow): LedgerEvent | null {
  try {
    return eventOf(row);
  } catch {
    return null;
  }
}

/** How closed a state is; only `granted` opens the gate. */
const CLOSED: Record<ConsentState, number> = {
  granted: 0,
  awaiting: 1,
  disputed: 2,
  none: 3,
  unproven: 3,
  lapsed: 4,
  expired: 4,
  declined: 5,
  voided: 6,
  revoked: 7,
};

/** The more closed of two states. */
function stricter(a: ConsentState, b: ConsentState | undefined): ConsentState {
  return b !== undefined && CLOSED[b] > CLOSED[a] ? b : a;
}

function lapseOf(s: ConsentStates): number | null {
  const moments = PURPOSES.flatMap((x) =>
    s[x].state === 'awaiting' && s[x].since !== null ? [s[x].since + CONFIRM_WITHIN_MS] : [],
  );
  return moments.length > 0 ? Math.min(...moments) : null;
}
