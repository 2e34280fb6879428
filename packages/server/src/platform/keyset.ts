import {
  and,
  col,
  Op,
  or,
  where,
  type Attributes,
  type Model,
  type ModelStatic,
  type Utils,
  type WhereOptions,
} from 'sequelize';
import { z } from 'zod';
import { packCursor, readCursor } from './cursor.js';

/** What is asked of a list: a page of it, or the one of an id alone, wherever that is in it. */
export interface PageOrOne {
  cursor?: string | undefined;
  limit: number;
  id?: string | undefined;
}
/** Where only the one of an id is wanted. */
export const oneById = (id: string | undefined): { id?: string } => (id === undefined ? {} : { id });

/** One thing rows are ordered by: a column by its name in the table, or what is made of columns. */
export interface Ordered {
  by: string | Utils.Fn | Utils.Col;
  down: boolean;
  /** What it is, since a place in the list comes back from outside. */
  is: 'text' | 'number';
}

/**
 * A page of rows in an order, and the cursor of the next. It goes on after the place where the last one ended, not after
 * so many rows: what comes to the head of the list meanwhile makes no row come twice, and none is passed over.
 * @param order the last of it tells any two rows apart.
 * @throws Problem 422 where the cursor is none of this order.
 */
export async function pageOf<M extends Model>(
  model: ModelStatic<M>,
  q: {
    where: WhereOptions<Attributes<M>>;
    order: readonly Ordered[];
    cursor?: string | undefined;
    limit: number;
  },
): Promise<{ rows: M[]; next: string | null }> {
  const by = q.order.map((o) => (typeof o.by === 'string' ? col(o.by) : o.by));
  const shape = z.tuple(q.order.map((o) => (o.is === 'text' ? z.string() : z.number())) as unknown as [z.ZodType]);
  const place = q.cursor ? (readCursor(shape, q.cursor) as (string | number)[]) : null;
  const beyond = (i: number, also: typeof Op.gte | typeof Op.lte | null): ReturnType<typeof where> =>
    where(by[i] as Utils.Col, also ?? (q.order[i]?.down ? Op.lt : Op.gt), place?.[i] as never);
  // The first stands by itself too, so that an index begins there.
  const after =
    place === null
      ? []
      : [
          beyond(0, q.order[0]?.down ? Op.lte : Op.gte),
          or(
            ...q.order.map((_, i) =>
              and(
                ...by.slice(0, i).map((b, k) => where(b as Utils.Col, Op.eq as never, place[k] as never)),
                beyond(i, null),
              ),
            ),
          ),
        ];
  const found = await model.findAll({
    where: and(q.where, ...after) as WhereOptions<Attributes<M>>,
    attributes: { include: by.map((b, i) => [b, `place${i}`]) },
    order: by.map((b, i) => [b, q.order[i]?.down ? 'DESC' : 'ASC']),
    limit: q.limit + 1,
  });
  const rows = found.slice(0, q.limit);
  const last = rows.at(-1);
  const next =
    found.length > q.limit && last ? packCursor(by.map((_, i) => last.get(`place${i}` as keyof Attributes<M>))) : null;
  return { rows, next };
}
