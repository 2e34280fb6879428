import { foldConsent, judge, type LedgerEvent, type MessageFacts, type Trouble } from '@long-gate/core';
import { subjectOf, type SubjectRow } from '../areas/contacts/index.js';
import type { Sender } from '../areas/numbers/index.js';
import { rulesOf } from '../areas/dispatch/index.js';
import { seemedReachable } from './past-facts.js';
import { REASSIGNED_DAYS_AGO, type DemoContact } from './seed-contacts.js';
import type { Seeding } from './seed.js';

const LASTS_MS = 3 * 86_400_000;
/** There was always enough to spend. */
const PLENTY = { balance: Number.MAX_SAFE_INTEGER, dailySegments: Number.MAX_SAFE_INTEGER };

type Written = { title: string; text: string; purpose: 'informational' | 'promotional' };

/** The gate, asked about the demo's past: so that what was sent then is what would have passed. */
export class PastGate {
  private readonly facts = new Map<string, MessageFacts>();

  private constructor(
    private readonly s: Seeding,
    private readonly rows: ReadonlyMap<number, SubjectRow>,
    private readonly events: ReadonlyMap<string, readonly LedgerEvent[]>,
    private readonly business: { nameLine: string; openCountries: string; anyHour: boolean },
    private readonly troubles = new Map<number, Trouble>(),
  ) {}

  static async open(s: Seeding, businessId: string, contacts: readonly DemoContact[]): Promise<PastGate> {
    const b = await s.app.businesses.row(s.w, businessId);
    return new PastGate(
      s,
      await s.app.contacts.subjectRows(
        s.w,
        contacts.map((c) => c.row),
        '',
      ),
      await s.app.ledger.eventsOfAll(
        s.w,
        businessId,
        contacts.map((c) => c.e164),
      ),
      { nameLine: b.name_line, openCountries: b.open_countries, anyHour: Boolean(b.transactional_any_hour) },
    );
  }

  /** What delivery taught of a number, for the texts that came after. */
  learn(c: DemoContact, trouble: Trouble): void {
    this.troubles.set(c.row, trouble);
  }

  /** When a text left, begun at a moment; who was held has followed by themselves, or had not when it ended. */
  judge(
    c: DemoContact,
    d: Written,
    sender: Sender,
    at: number,
    first: boolean,
  ): { leavesAt: number | null; post: number | null; reason: string | null } {
    const row = this.rows.get(c.row);
    if (!row) throw new Error(`${c.e164} is no contact's.`);
    let facts = this.facts.get(d.title);
    if (!facts) {
      const draft = { ...d, transactional: false, stopLine: true, override: '' };
      const { nameLine } = this.business;
      ({ facts } = this.s.app.preview.saidBy(sender, { nameLine }, draft, { firstName: 'Rosalind' }));
      this.facts.set(d.title, facts);
    }
    for (let when = at; ;) {
      const states = foldConsent(
        (this.events.get(c.e164) ?? []).filter((e) => e.recordedAt <= when),
        when,
      );
      const subject = subjectOf({
        ...row,
        reachable: seemedReachable(c, when),
        reassignment: when < this.s.start - REASSIGNED_DAYS_AGO * 86_400_000 ? 'clear' : row.reassignment,
        trouble: this.troubles.get(c.row) ?? row.trouble,
        consent_conversational: states.conversational.state,
        consent_informational: states.informational.state,
        consent_promotional: states.promotional.state,
        first_text: first,
        stop_line_due: false,
      });
      const rules = rulesOf(when, this.business.openCountries, this.business.anyHour);
      const { result, post, reason, until } = judge(subject, facts, rules, PLENTY);
      if (result === 'pass') return { leavesAt: when, post: null, reason: null };
      if (result === 'stop' || until === null || until > at + LASTS_MS) return { leavesAt: null, post, reason };
      when = until;
    }
  }
}
