import type { CarrierKind, ConsentState, Subject, Textable, Trouble } from '@long-gate/core';

/** A row of {@link SUBJECT_COLUMNS}. */
export interface SubjectRow {
  country: string;
  zones: string;
  states: string;
  looked_up: number;
  textable: Textable;
  reachable: number;
  trouble: Trouble;
  faults_in_review: number;
  suppressed: number;
  wish_in_review: number;
  consent_conversational: ConsentState;
  consent_informational: ConsentState;
  consent_promotional: ConsentState;
  carrier_kind: CarrierKind;
  cap_until: number | null;
  first_text: number;
  stop_line_due: number;
  field_empty: number;
  conversation_until?: number | null;
}

/** Days after which a programme's stop line is due again. */
const STOP_LINE_MS = 30 * 86_400_000;

/**
 * The columns the posts read, over `contact_number cn`, `contact c` and a left-joined `contact_sender cs`. The same
 * text selects one recipient and groups a million, so that both are judged on the same facts. Binds `$now`.
 * @param emptyFields columns of the contact whose emptiness leaves a merge field empty.
 */
export function subjectColumns(emptyFields: readonly ('first_name' | 'last_name')[]): {
  select: string;
  groupBy: string;
  /** What is true of those alone who stand as this row does, with its binds. */
  same: (row: SubjectRow) => { sql: string; bind: Record<string, unknown> };
} {
  const fieldEmpty = emptyFields.length === 0 ? '0' : `(${emptyFields.map((f) => `c.${f} = ''`).join(' OR ')})`;
  const columns: [string, string][] = [
    ['cn.country', 'country'],
    ['cn.zones', 'zones'],
    ['cn.states', 'states'],
    ['cn.looked_up_at IS NOT NULL', 'looked_up'],
    ['cn.textable', 'textable'],
    ['cn.reachable', 'reachable'],
    ['cn.trouble', 'trouble'],
    ['cn.faults_in_review', 'faults_in_review'],
    ['cn.suppressed', 'suppressed'],
    ['cn.wish_in_review', 'wish_in_review'],
    ['cn.consent_conversational', 'consent_conversational'],
    ['cn.consent_informational', 'consent_informational'],
    ['cn.consent_promotional', 'consent_promotional'],
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
    groupBy: columns.map((_, i) => i + 1).join(', '),
    same: (row) => {
      const bind: Record<string, unknown> = {};
      const parts = columns.map(([sql, name], i) => {
        const value = row[name as keyof SubjectRow] ?? null;
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
    lookedUp: row.looked_up === 1,
    textable: row.textable,
    reachable: row.reachable === 1,
    trouble: row.trouble,
    faultsInReview: row.faults_in_review === 1,
    suppressed: row.suppressed === 1,
    wishInReview: row.wish_in_review === 1,
    consent: {
      conversational: row.consent_conversational,
      informational: row.consent_informational,
      promotional: row.consent_promotional,
    },
    conversationUntil: row.conversation_until ?? null,
    carrierKind: row.carrier_kind,
    promotionalCapUntil: row.cap_until,
    firstText: row.first_text === 1,
    stopLineDue: row.stop_line_due === 1,
    fieldEmpty: row.field_empty === 1,
  };
}
