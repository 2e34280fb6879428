import type { Model } from 'sequelize';
import type { Reader } from './db.js';
import { thingsById } from './objects-store.js';
import type { Table } from './table.js';

/** Something the audit trail speaks of. */
export interface Thing {
  kind: string;
  id: string;
}
/** What things of one kind are called, by their ids; one that is gone or has no name is not there. */
export type NamesOf = (r: Reader, businessId: string, ids: readonly string[]) => Promise<ReadonlyMap<string, string>>;
/** Things whose history is part of a thing's own. */
export type PartsOf = (r: Reader, businessId: string, id: string) => Promise<Thing[]>;

/** Each area says what its things are called, and what belongs to their history; the trail itself knows kinds and ids. */
export class Objects {
  private readonly named = new Map<string, NamesOf>();
  private readonly parted = new Map<string, PartsOf[]>();

  name(kind: string, namesOf: NamesOf): void {
    this.named.set(kind, namesOf);
  }

  also(kind: string, partsOf: PartsOf): void {
    this.parted.set(kind, [...(this.parted.get(kind) ?? []), partsOf]);
  }

  /** The kinds of which names are known. */
  kinds(): string[] {
    return [...this.named.keys()];
  }

  /** What these are called: one question for each kind. @returns how to ask for one of them; '' where none is known. */
  async names(r: Reader, businessId: string, things: readonly Thing[]): Promise<(thing: Thing) => string> {
    const ids = new Map<string, Set<string>>();
    for (const { kind, id } of things) if (id !== '') ids.set(kind, (ids.get(kind) ?? new Set()).add(id));
    const found = new Map<string, ReadonlyMap<string, string>>();
    for (const [kind, of] of ids) {
      const namesOf = this.named.get(kind);
      if (namesOf) found.set(kind, await namesOf(r, businessId, [...of]));
    }
    return ({ kind, id }) => found.get(kind)?.get(id) ?? '';
  }

  /** A thing, and what belongs to its history. */
  async whole(r: Reader, businessId: string, thing: Thing): Promise<Thing[]> {
    const parts = await Promise.all((this.parted.get(thing.kind) ?? []).map((of) => of(r, businessId, thing.id)));
    return [thing, ...parts.flat()];
  }
}

/** Names out of a table of the area's own. @param key what the trail knows them by. */
export function namedIn<M extends Model & { businessId: string }>(
  things: Table<M>,
  show: (thing: M) => string,
  key: keyof M & string = 'id' as keyof M & string,
): NamesOf {
  return async (r, businessId, ids) =>
    new Map((await thingsById(r, things, businessId, ids, key)).map((x) => [String(x[key]), show(x)]));
}
