import type { Flag } from '../../platform/db.js';
import { REFUSED } from './model.js';
import type { CarrierKind, ConsentState, Reassignment, Subject, Suppression, Textable, Trouble } from '@long-gate/core';

/** A row of {@link SUBJECT_COLUMNS}. */
export interface SubjectRow {
  country: string;
  zones: string;
  states: string;
  looked_up: Flag;
  textable: Textable;
  reachable: Flag;
  trouble: Trouble;
  faults_in_review: Flag;
  suppression: Suppression;
  related: Flag;
  wish_in_review: Flag;
  consent_conversational: ConsentState;
  consent_informational: ConsentState;
  consent_promotional: ConsentState;
  carrier_kind: CarrierKind;
  cap_until: number | null;
  first_text: Flag;
  stop_line_due: Flag;
  field_empty: Flag;
  /** Purposes the same person refused on another of their numbers. */
  refused_elsewhere: number;
  reassignment: Reassignment;
  conversation_until?: number | null;
}

/** Days after which a programme's stop line is due again. */
export const STOP_LINE_MS = 30 * 86_400_000;

/** Whether a purchase or an inquiry excepts a contact number from the registry it is on. Binds `$now`. */
export const RELATED = `cn.suppression = 'solicitations' AND coalesce(cn.related_until, 0) > $now`;

/**
 * The columns the posts read, over `contact_number cn`, `contact c` and a left-joined `contact_sender cs`. The same
 * text selects one recipient and groups a million, so that both are judged on the same facts. Binds `$now`.
 * @param emptyFields columns of the contact whose emptiness leaves a merge field empty.
 */
export function subjectColumns(emptyFields: readonly ('first_name' | 'last_name')[]): {
  select: string;
  /** What the columns are called. */
  names: readonly (keyof SubjectRow)[];
  groupBy: string;
  /** What is true of those alone who stand as this row does, with its binds. */
  same: (row: SubjectRow) => { sql: string; bind: Record<string, unknown> };
} {
  const fieldEmpty = emptyFields.length === 0 ? 'FALSE' : `(${emptyFields.map((f) => `c.${f} = ''`).join(' OR ')})`;
  const columns: [string, keyof SubjectRow][] = [
    ['cn.country', 'country'],
    ['cn.zones', 'zones'],
    ['cn.states', 'states'],
    ['cn.looked_up_at IS NOT NULL', 'looked_up'],
    ['cn.textable', 'textable'],
    ['cn.reachable', 'reachable'],
    ['cn.trouble', 'trouble'],
    ['cn.faults_in_review', 'faults_in_review'],
    ['cn.suppression', 'suppression'],
    [RELATED, 'related'],
    ['cn.wish_in_review', 'wish_in_review'],
    ['cn.consent_conversational', 'consent_conversational'],
    ['cn.consent_informational', 'consent_informational'],
    ['cn.consent_promotional', 'consent_promotional'],
    ['cn.refused_elsewhere', 'refused_elsewhere'],
    ['cn.reassignment', 'reassignment'],
    ['cn.carrier_kind', 'carrier_kind'],
    ['CASE WHEN cn.promotional_cap_until > $now THEN cn.promotional_cap_until END', 'cap_until'],
    ['cs.number_id IS NULL', 'first_text'],
    [
      `cs.number_id IS NOT NULL AND (cs.stop_line_at IS NULL OR cs.stop_line_at < $now - ${STOP_LINE_MS})`,
      'stop_line_due',
    ],
    [fieldEmpty, 'field_empty'],
  ];
  return {
    select: columns.map(([sql, name]) => `${sql} AS ${name}`).join(', '),
    names: columns.map(([, name]) => name),
    groupBy: columns.map((_, i) => i + 1).join(', '),
    same: (row) => {
      const bind: Record<string, unknown> = {};
      const parts = columns.map(([sql, name], i) => {
        const value = row[name] ?? null;
        if (value === null) return `(${sql}) IS NULL`;
        bind[`same${i}`] = value;
        return `(${sql}) = $same${i}`;
      });
      return { sql: parts.join(' AND '), bind };
    },
  };
}

export function subjectOf(row: SubjectRow): Subject {
  return {
    // Whatever is not well-formed was refused at intake and is not stored.
    wellFormed: true,
    country: row.country,
    zones: row.zones,
    states: row.states,
    lookedUp: Boolean(row.looked_up),
    textable: row.textable,
    reachable: Boolean(row.reachable),
    trouble: row.trouble,
    faultsInReview: Boolean(row.faults_in_review),
    suppression: row.suppression,
    related: Boolean(row.related),
    wishInReview: Boolean(row.wish_in_review),
    consent: {
      conversational: row.consent_conversational,
      // Who left by another of their numbers has left (rules.md: the stricter consent wins).
      informational: row.refused_elsewhere & REFUSED.informational ? 'revoked' : row.consent_informational,
      promotional: row.refused_elsewhere & REFUSED.promotional ? 'revoked' : row.consent_promotional,
    },
    reassignment: row.reassignment,
    conversationUntil: row.conversation_until ?? null,
    carrierKind: row.carrier_kind,
    promotionalCapUntil: row.cap_until,
    firstText: Boolean(row.first_text),
    stopLineDue: Boolean(row.stop_line_due),
    fieldEmpty: Boolean(row.field_empty),
  };
}
