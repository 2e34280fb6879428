import type { Writer } from './db.js';

/**
 * What becomes true in one area and gives another something to do. Told inside the write that makes it true
 * (`w.tell`), heard in the same transaction: either both are on disk or neither.
 */
export interface Facts {
  /** The consent of these contact numbers may have changed. */
  'consent.changed': { businessId: string; e164s: readonly string[] };
  /** These people said that they want no more, at these moments. */
  'consent.left': { businessId: string; people: readonly (readonly [e164: string, at: number])[] };
  /** Contact numbers are about to be nobody's any more. */
  'numbers.left': { businessId: string; e164s: readonly string[] };
  /** A person was erased on their request: by each of their numbers its digest, which may stand in its place. */
  'contact.erased': { businessId: string; people: readonly (readonly [e164: string, digest: string])[] };
  /** Something about contact numbers that may lift a hold: a lookup, the decision of a review. */
  'contacts.cleared': { businessId: string };
  /** A business counts its days in another time zone. */
  'business.zone': { businessId: string };
  'money.added': { businessId: string };
  /** The account's state, or the switch for all texts. */
  'account.changed': { businessId: string };
  /** A number of ours, its tie or its registration. */
  'number.changed': { businessId: string };
  /** A number that was bought is in service. */
  'number.came': { businessId: string; numberId: string };
  /** A number is ours no more, and why. */
  'number.gone': { businessId: string; numberId: string; ended: string };
  /** What a letter of authorisation says may be other than it was. */
  'letter.edited': { objectKind: string; objectId: string };
  /** A text or a call came to a number of ours; whether somebody or something took the call. */
  'number.reached': { businessId: string; numberId: string; by: 'text' | 'call'; answered: boolean; at: number };
  /** Texts from numbers of ours were delivered. */
  'texts.delivered': { businessId: string };
  /** The network does not have texts that seemed to be on their way to these numbers. */
  'texts.returned': { businessId: string; e164s: readonly string[] };
  'country.changed': { businessId: string };
  /** A dispatch begins: its recipients are written down, and none of them is judged yet. */
  'dispatch.sending': {
    businessId: string;
    dispatchId: string;
    title: string;
    include: readonly string[];
    exclude: readonly string[];
  };
  /** What is known of numbers that may have changed hands is other than it was. */
  'reassigned.answered': { businessId: string };
  /** A business wants its numbers asked about by themselves. */
  'reassigned.scheduled': { businessId: string };
  /** Texts of a dispatch are not wanted any more. */
  'dispatch.ended': { businessId: string; dispatchId: string };
}
export type FactName = keyof Facts;
/** Facts that change nothing the gate reads: what is about to leave need not be judged anew for them. */
export const BESIDE_THE_GATE: ReadonlySet<FactName> = new Set<FactName>([
  'business.zone',
  'letter.edited',
  'number.came',
  'number.gone',
  'number.reached',
  'reassigned.scheduled',
  'texts.delivered',
  'texts.returned',
]);
type Listener<K extends FactName> = (w: Writer, fact: Facts[K]) => Promise<void>;

/** Who listens to which fact; filled where the areas are put together. */
export class FactBook {
  private readonly listeners = new Map<FactName, Listener<never>[]>();
  private readonly watchers: ((name: FactName) => void)[] = [];

  on<K extends FactName>(name: K, listener: Listener<K>): void {
    this.listeners.set(name, [...(this.listeners.get(name) ?? []), listener]);
  }

  /** Called at once whenever anything is told, before it is on disk; for what must not go on in ignorance of it. */
  watch(watcher: (name: FactName) => void): void {
    this.watchers.push(watcher);
  }

  noticed(name: FactName): void {
    for (const watcher of this.watchers) watcher(name);
  }

  /** Lets everyone hear one fact, in the teller's transaction. */
  async hear<K extends FactName>(w: Writer, name: K, fact: Facts[K]): Promise<void> {
    for (const listener of this.listeners.get(name) ?? []) await listener(w, fact as never);
  }
}
