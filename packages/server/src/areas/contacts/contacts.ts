import { z } from 'zod';
import type { ContactList, ContactRow } from '@long-gate/contracts';
import {
  judge,
  placeOf,
  REASONS,
  DEFAULT_HOURS,
  textableBy,
  type MessageFacts,
  type Textable,
  type Trouble,
} from '@long-gate/core';
import type { LineAnswer } from '@long-gate/gateways';
import { record, type Actor } from '../../platform/audit.js';
import type { Bind, Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound } from '../../platform/problem.js';
import { subjectColumns, subjectOf, type SubjectRow } from './subjects.js';

/** A place in the list: the name it is sorted by, and the id. */
const PLACE = z.tuple([z.string(), z.string()]);

export interface ContactFilter {
  q?: string;
  textable?: string;
  list?: string;
  informational?: string;
  promotional?: string;
  /** `yes`: only those held after three faults. */
  faults?: string;
}

interface FullRow extends SubjectRow {
  open_countries: string;
  contact_id: string;
  first_name: string;
  last_name: string;
  email: string;
  state_code: string;
  sort_name: string;
  version: number;
  number_row: number;
  e164: string;
  line_type: string;
  carrier: string;
  looked_up_at: number | null;
  lists: string | null;
}

/** Which kind of network a carrier's is (default terms of the scenario). */
export function carrierKind(carrier: string): 'A' | 'B' | 'C' {
  return carrier === 'Nimbrel Mobile' ? 'B' : carrier === 'Cobalt Ridge Cellular' ? 'C' : 'A';
}

export function sortName(first: string, last: string, e164: string): string {
  // People without a name come last, by number.
  return `${last} ${first}`.trim().toLowerCase() || `~${e164}`;
}

/** The gate about a contact by itself: as an informational text would be judged now, without a sender. */
const ABOUT_CONTACT: MessageFacts = {
  kind: 'dispatch',
  purpose: 'informational',
  transactional: false,
  accountState: 'open',
  textsOff: false,
  clearance: 'cleared',
  senderCountries: null,
  oneWay: false,
  namesSender: true,
  showsStop: true,
  contentBlocked: false,
  wordsPromotional: false,
  wordsOverridden: false,
  linkFiltered: false,
  otherUse: false,
  segments: 0,
};
const CONTACT_POSTS = [1, 2, 3, 4, 5, 6, 10];

/** Contacts, their numbers, lists and tags. */
export class Contacts {
  constructor(private readonly p: Platform) {}

  // -- reading ---------------------------------------------------------------------------------------------------

  private where(businessId: string, f: ContactFilter): { sql: string; bind: Record<string, unknown> } {
    const parts = ['cn.business_id = $businessId'];
    const bind: Record<string, unknown> = { businessId };
    const several = (column: string, name: 'textable' | 'informational' | 'promotional'): void => {
      if (!f[name]) return;
      parts.push(`${column} IN (SELECT value FROM json_each($${name}))`);
      bind[name] = JSON.stringify(f[name].split(','));
    };
    several('cn.textable', 'textable');
    several('cn.consent_informational', 'informational');
    several('cn.consent_promotional', 'promotional');
    if (f.faults) parts.push('cn.faults_in_review = 1');
    if (f.list) {
      parts.push('EXISTS (SELECT 1 FROM list_member m WHERE m.contact_id = c.id AND m.list_id = $list)');
      bind['list'] = f.list;
    }
    const q = f.q?.trim() ?? '';
    if (q !== '') {
      const digits = q.replace(/\D/g, '');
      parts.push(
        digits.length >= 3 && digits.length >= q.replace(/[\s().+-]/g, '').length
          ? `instr(cn.e164, $q) > 0`
          : `(instr(c.sort_name, $q) > 0 OR instr(lower(c.first_name || ' ' || c.last_name), $q) > 0 OR instr(lower(c.email), $q) > 0)`,
      );
      bind['q'] = digits.length >= 3 && digits.length >= q.replace(/[\s().+-]/g, '').length ? digits : q.toLowerCase();
    }
    return { sql: parts.join(' AND '), bind };
  }

  async page(
    businessId: string,
    f: ContactFilter,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: ContactRow[]; next: string | null; total: number }> {
    const { sql, bind } = this.where(businessId, f);
    const [afterName, afterId] = cursor ? readCursor(PLACE, cursor) : ['', ''];
    const rows = await this.rows(
      this.p.db,
      `${sql} AND c.business_id = $businessId AND (c.sort_name, c.id) > ($afterName, $afterId)`,
      { ...bind, afterName, afterId },
      limit + 1,
    );
    const items = rows.slice(0, limit);
    const last = items[items.length - 1];
    return {
      items: items.map((r) => this.show(r)),
      next: rows.length > limit && last ? packCursor([last.sort_name, last.contact_id]) : null,
      total: await this.count(businessId, f),
    };
  }

  async count(businessId: string, f: ContactFilter): Promise<number> {
    const { sql, bind } = this.where(businessId, f);
    const needsContact = f.list || f.q;
    const row = await this.p.db.one<{ n: number }>(
      `SELECT count(*) AS n FROM contact_number cn ${needsContact ? 'JOIN contact c ON c.id = cn.contact_id' : ''} WHERE ${sql}`,
      bind,
    );
    return row?.n ?? 0;
  }

  async facets(
    businessId: string,
    f: ContactFilter,
  ): Promise<{
    textable: Record<string, number>;
    promotional: Record<string, number>;
    informational: Record<string, number>;
    total: number;
  }> {
    const by = async (column: string, own: keyof ContactFilter): Promise<Record<string, number>> => {
      const { sql, bind } = this.where(businessId, { ...f, [own]: undefined });
      const rows = await this.p.db.all<{ k: string; n: number }>(
        `SELECT ${column} AS k, count(*) AS n FROM contact_number cn JOIN contact c ON c.id = cn.contact_id WHERE ${sql} GROUP BY 1 ORDER BY 2 DESC`,
        bind,
      );
      return Object.fromEntries(rows.map((r) => [r.k, r.n]));
    };
    return {
      textable: await by('cn.textable', 'textable'),
      promotional: await by('cn.consent_promotional', 'promotional'),
      informational: await by('cn.consent_informational', 'informational'),
      total: await this.count(businessId, f),
    };
  }

  async get(r: Reader, businessId: string, id: string): Promise<ContactRow> {
    const [row] = await this.rows(r, 'c.id = $id AND c.business_id = $businessId', { id, businessId }, 1);
    if (!row) throw notFound('contact');
    return this.show(row);
  }

  /** All rows in order, a chunk at a time: for exports. */
  async *each(businessId: string, f: ContactFilter): AsyncGenerator<ContactRow> {
    let cursor: string | undefined;
    do {
      const page = await this.page(businessId, f, cursor, 500);
      yield* page.items;
      cursor = page.next ?? undefined;
    } while (cursor);
  }

  private rows(r: Reader, where: string, bind: Record<string, unknown>, limit: number): Promise<FullRow[]> {
    return r.all<FullRow>(
      `SELECT ${subjectColumns([]).select}, c.id AS contact_id, c.first_name, c.last_name, c.email, c.state_code, c.sort_name, c.version, cn.id AS number_row, cn.e164, cn.line_type, cn.carrier, cn.looked_up_at, cn.conversation_until,
         (SELECT open_countries FROM business b WHERE b.id = cn.business_id) AS open_countries,
         (SELECT group_concat(l.name, char(10)) FROM list_member m JOIN contact_list l ON l.id = m.list_id WHERE m.contact_id = c.id) AS lists
       FROM contact c JOIN contact_number cn ON cn.contact_id = c.id LEFT JOIN contact_sender cs ON 0
       WHERE ${where} ORDER BY c.sort_name, c.id LIMIT $limit`,
      { ...bind, now: this.p.clock.now(), limit },
    );
  }

  private show(row: FullRow): ContactRow {
    const verdict = judge(
      { ...subjectOf(row), firstText: false, stopLineDue: false },
      ABOUT_CONTACT,
      {
        at: this.p.clock.now(),
        hours: DEFAULT_HOURS,
        openCountries: row.open_countries.split(','),
        transactionalAnyHour: false,
        segmentPrice: 0,
      },
      { balance: 0, dailySegments: 1 },
    );
    const reason = verdict.reason ? REASONS[verdict.reason] : null;
    return {
      id: row.contact_id,
      firstName: row.first_name,
      lastName: row.last_name,
      email: row.email,
      stateCode: row.state_code,
      version: row.version,
      number: {
        id: row.number_row,
        e164: row.e164,
        country: row.country,
        zones: row.zones,
        states: row.states,
        lineType: row.line_type,
        carrier: row.carrier,
        reachable: row.reachable === 1,
        lookedUpAt: row.looked_up_at,
        textable: row.textable,
        trouble: row.trouble,
        faultsInReview: row.faults_in_review === 1,
        consent: {
          conversational: row.consent_conversational,
          informational: row.consent_informational,
          promotional: row.consent_promotional,
        },
      },
      lists: row.lists ? row.lists.split('\n') : [],
      verdict: {
        result: verdict.result,
        answers: verdict.answers.map((a) =>
          CONTACT_POSTS.includes(a.post) ? a : { post: a.post, result: 'not asked' as const },
        ),
        why: reason?.why ?? 'passes',
        lift: reason?.lift ?? '',
      },
    };
  }

  // -- writing ---------------------------------------------------------------------------------------------------

  async edit(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: { firstName: string; lastName: string; email: string; stateCode: string },
  ): Promise<ContactRow> {
    await this.p.db.write(async (w) => {
      const before = await w.one<{
        version: number;
        first_name: string;
        last_name: string;
        email: string;
        state_code: string;
      }>('SELECT * FROM contact WHERE id = $1 AND business_id = $2', [id, businessId]);
      if (!before) throw notFound('contact');
      expectVersion('contact', before, seen);
      const numbers = await w.all<{ id: number; e164: string }>(
        'SELECT id, e164 FROM contact_number WHERE contact_id = $1',
        [id],
      );
      await w.run(
        'UPDATE contact SET first_name=$2, last_name=$3, email=$4, state_code=$5, sort_name=$6, version=version+1 WHERE id=$1',
        [
          id,
          edit.firstName,
          edit.lastName,
          edit.email,
          edit.stateCode,
          sortName(edit.firstName, edit.lastName, numbers[0]?.e164 ?? ''),
        ],
      );
      for (const n of numbers) {
        const place = placeOf(n.e164, edit.stateCode);
        await w.run('UPDATE contact_number SET zones=$2, states=$3 WHERE id=$1', [
          n.id,
          place.zones.join(','),
          place.states.join(','),
        ]);
      }
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'contact edited',
        objectKind: 'contact',
        objectId: id,
        before: {
          firstName: before.first_name,
          lastName: before.last_name,
          email: before.email,
          stateCode: before.state_code,
        },
        after: edit,
      });
      this.changed(w, businessId, id);
    });
    return this.get(this.p.db, businessId, id);
  }

  /** The contact number of this address, made with a nameless contact where there is none yet. */
  async ensure(
    w: Writer,
    actor: Actor,
    businessId: string,
    e164: string,
    firstName = '',
  ): Promise<{ id: number; contactId: string; lookedUpAt: number | null; textable: Textable }> {
    const known = await this.byAddress(w, businessId, e164);
    if (known) {
      if (firstName !== '')
        await w.run(
          `UPDATE contact SET first_name = $2, sort_name = $3, version = version + 1 WHERE id = $1 AND first_name = '' AND last_name = ''`,
          [known.contactId, firstName, sortName(firstName, '', e164)],
        );
      return known;
    }
    const contactId = newId('con');
    const place = placeOf(e164, '');
    await w.run('INSERT INTO contact (id, business_id, first_name, sort_name, created_at) VALUES ($1,$2,$3,$4,$5)', [
      contactId,
      businessId,
      firstName,
      sortName(firstName, '', e164),
      this.p.clock.now(),
    ]);
    await w.run(
      'INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states) VALUES ($1,$2,$3,$4,$5,$6)',
      [businessId, contactId, e164, place.country, place.zones.join(','), place.states.join(',')],
    );
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: 'contact added',
      objectKind: 'contact',
      objectId: contactId,
      after: { e164, firstName },
    });
    this.changed(w, businessId, contactId);
    return (await this.byAddress(w, businessId, e164)) as {
      id: number;
      contactId: string;
      lookedUpAt: number | null;
      textable: Textable;
    };
  }

  async byAddress(
    r: Reader,
    businessId: string,
    e164: string,
  ): Promise<
    { id: number; contactId: string; name: string; lookedUpAt: number | null; textable: Textable } | undefined
  > {
    return r.one(
      `SELECT cn.id, cn.contact_id AS contactId, trim(c.first_name || ' ' || c.last_name) AS name, cn.looked_up_at AS lookedUpAt, cn.textable FROM contact_number cn JOIN contact c ON c.id = cn.contact_id WHERE cn.business_id = $1 AND cn.e164 = $2`,
      [businessId, e164],
    );
  }

  /** Keeps what a lookup answered, as of our own clock: an answer dated in the past must not be asked for again at once. */
  async storeLookup(w: Writer, businessId: string, answers: readonly LineAnswer[]): Promise<void> {
    for (const a of answers) {
      await w.run(
        `UPDATE contact_number SET line_type=$3, carrier=$4, carrier_kind=$5, reachable=$6, looked_up_at=$7, textable=$8,
           trouble = CASE WHEN trouble = 'not-textable' AND $8 = 'yes' THEN 'none' ELSE trouble END WHERE business_id=$1 AND e164=$2`,
        [
          businessId,
          a.e164,
          a.lineType,
          a.carrier,
          carrierKind(a.carrier),
          a.reachable ? 1 : 0,
          this.p.clock.now(),
          textableBy(a.lineType),
        ],
      );
    }
    w.tell('contacts.cleared', { businessId });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
  }

  /**
   * Somebody wrote or called: they may be answered. A text also says that texts reach this line, whatever a lookup said;
   * a call says nothing of the kind.
   */
  async heardFrom(w: Writer, businessId: string, e164: string, answerUntil: number, wrote: boolean): Promise<void> {
    await w.run(
      `UPDATE contact_number SET conversation_until = max(coalesce(conversation_until, 0), $3) WHERE business_id = $1 AND e164 = $2`,
      [businessId, e164, answerUntil],
    );
    if (!wrote) return;
    await w.run(
      `UPDATE contact_number SET textable = 'yes', reachable = 1, looked_up_at = coalesce(looked_up_at, $3), line_type = CASE WHEN line_type IN ('unknown','none') THEN 'mobile' ELSE line_type END,
         trouble = CASE WHEN trouble IN ('not-textable','out-of-service') THEN 'none' ELSE trouble END WHERE business_id = $1 AND e164 = $2`,
      [businessId, e164, this.p.clock.now()],
    );
    w.tell('contacts.cleared', { businessId });
  }

  /**
   * Keeps what delivery taught about a number. A refusal by its owner stays, whatever comes later: nobody here can
   * clear it; and a passing fault never hides something worse.
   */
  async learnTrouble(
    w: Writer,
    businessId: string,
    e164: string,
    trouble: Trouble,
    faultsInReview: boolean,
  ): Promise<void> {
    await w.run(
      `UPDATE contact_number SET trouble = CASE WHEN trouble = 'refused-by-owner' OR ($3 = 'passing-fault' AND trouble <> 'none') THEN trouble ELSE $3 END, trouble_at = $4, faults_in_review = max(faults_in_review, $5) WHERE business_id = $1 AND e164 = $2`,
      [businessId, e164, trouble, this.p.clock.now(), faultsInReview ? 1 : 0],
    );
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
  }

  /**
   * Ends the review of a number that was held after three passing faults: it is tried again, counting anew, or it is
   * kept out as out of service until a lookup or a text from it says otherwise.
   */
  async decideFaults(actor: Actor, businessId: string, e164: string, tryAgain: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await w.one<{ id: number }>(
        'SELECT id FROM contact_number WHERE business_id = $1 AND e164 = $2 AND faults_in_review = 1',
        [businessId, e164],
      );
      if (!row) throw notFound('number in review');
      await w.run(
        `UPDATE contact_number SET faults_in_review = 0, faults_seen_at = $2, trouble_at = $2,
           trouble = CASE WHEN $3 = 0 THEN 'out-of-service' WHEN trouble = 'passing-fault' THEN 'none' ELSE trouble END WHERE id = $1`,
        [row.id, this.p.clock.now(), tryAgain ? 1 : 0],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: tryAgain ? 'number tried again after faults' : 'number kept out after faults',
        objectKind: 'contact number',
        objectId: e164,
      });
      w.tell('contacts.cleared', { businessId });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
    });
  }

  /** The consent area's state of now, taken over into the columns the gate reads. */
  async projectConsent(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    // By IN, so that each number is found by its index whatever the planner believes of the table's size.
    await w.run(
      `UPDATE contact_number SET (consent_conversational, consent_informational, consent_promotional) =
         (SELECT cs.conversational, cs.informational, cs.promotional FROM consent_state cs WHERE cs.business_id = $1 AND cs.e164 = contact_number.e164)
       WHERE business_id = $1 AND e164 IN (SELECT value FROM json_each($2))`,
      [businessId, JSON.stringify(e164s)],
    );
  }

  async setWishInReview(w: Writer, businessId: string, e164: string, inReview: boolean): Promise<void> {
    await w.run('UPDATE contact_number SET wish_in_review = $3 WHERE business_id = $1 AND e164 = $2', [
      businessId,
      e164,
      inReview ? 1 : 0,
    ]);
    w.tell('consent.changed', { businessId, e164s: [e164] });
  }

  /** Notes a text the network has taken: the first from this number, and the last that showed how to stop. */
  async noteSent(w: Writer, row: number, numberId: string, showsStop: boolean): Promise<void> {
    const now = this.p.clock.now();
    await w.run(
      `INSERT INTO contact_sender (contact_number_id, number_id, first_at, stop_line_at) VALUES ($1,$2,$3,$4) ON CONFLICT DO UPDATE SET stop_line_at = coalesce(excluded.stop_line_at, stop_line_at)`,
      [row, numberId, now, showsStop ? now : null],
    );
  }

  /** Until when no further solicitation goes to a contact number. */
  async capSolicitations(w: Writer, row: number, until: number | null): Promise<void> {
    await w.run('UPDATE contact_number SET promotional_cap_until = $2 WHERE id = $1', [row, until]);
  }

  // -- lists and tags --------------------------------------------------------------------------------------------

  /** How many contact numbers a number of ours has texted. */
  async knowing(r: Reader, numberId: string): Promise<number> {
    return (
      (await r.one<{ n: number }>('SELECT count(*) AS n FROM contact_sender WHERE number_id = $1', [numberId]))?.n ?? 0
    );
  }

  async lists(r: Reader, businessId: string): Promise<ContactList[]> {
    return r.all<ContactList>(
      `SELECT l.id, l.name, l.kind, (SELECT count(*) FROM list_member m WHERE m.list_id = l.id) AS count FROM contact_list l WHERE l.business_id = $1 ORDER BY l.kind, l.name`,
      [businessId],
    );
  }

  async addList(actor: Actor, businessId: string, name: string, kind: 'list' | 'tag'): Promise<ContactList> {
    const id = await this.p.db.write(async (w) => {
      if (
        await w.one('SELECT id FROM contact_list WHERE business_id = $1 AND kind = $2 AND name = $3', [
          businessId,
          kind,
          name,
        ])
      )
        throw conflict(`There is already a ${kind} “${name}”.`);
      return this.ensureList(w, actor, businessId, name, kind);
    });
    return { id, name, kind, count: 0 };
  }

  /** Puts a contact on a list by the contact's own act. */
  async join(w: Writer, listId: string, contactId: string): Promise<void> {
    await w.run('INSERT INTO list_member (list_id, contact_id) VALUES ($1,$2) ON CONFLICT DO NOTHING', [
      listId,
      contactId,
    ]);
  }

  async ensureList(w: Writer, actor: Actor, businessId: string, name: string, kind: 'list' | 'tag'): Promise<string> {
    const known = await w.one<{ id: string }>(
      'SELECT id FROM contact_list WHERE business_id = $1 AND kind = $2 AND name = $3',
      [businessId, kind, name],
    );
    if (known) return known.id;
    const id = newId('lst');
    await w.run('INSERT INTO contact_list (id, business_id, name, kind, created_at) VALUES ($1,$2,$3,$4,$5)', [
      id,
      businessId,
      name,
      kind,
      this.p.clock.now(),
    ]);
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: `${kind} made`,
      objectKind: 'list',
      objectId: id,
      after: { name },
    });
    return id;
  }

  async changeMembers(
    actor: Actor,
    businessId: string,
    id: string,
    add: string[],
    remove: string[],
  ): Promise<ContactList> {
    await this.p.db.write(async (w) => {
      if (!(await w.one('SELECT id FROM contact_list WHERE id = $1 AND business_id = $2', [id, businessId])))
        throw notFound('list');
      const bind: Bind = [id, businessId, JSON.stringify(add)];
      await w.run(
        `INSERT INTO list_member (list_id, contact_id) SELECT $1, c.id FROM json_each($3) j JOIN contact c ON c.id = j.value AND c.business_id = $2 WHERE true ON CONFLICT DO NOTHING`,
        bind,
      );
      await w.run(`DELETE FROM list_member WHERE list_id = $1 AND contact_id IN (SELECT value FROM json_each($2))`, [
        id,
        JSON.stringify(remove),
      ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'members changed',
        objectKind: 'list',
        objectId: id,
        after: { added: add.length, removed: remove.length },
      });
      this.changed(w, businessId, id);
    });
    const list = (await this.lists(this.p.db, businessId)).find((l) => l.id === id);
    if (!list) throw notFound('list');
    return list;
  }

  private changed(w: Writer, businessId: string, id: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id }));
  }
}
