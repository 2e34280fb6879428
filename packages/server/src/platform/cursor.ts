import { z } from 'zod';
import { refused } from './problem.js';

const bad = () =>
  refused('This is no place in this list. Ask for the first page, and then for what it names as the next.', [
    { field: 'cursor', message: 'Not a cursor of this list.' },
  ]);

/** A cursor that is a whole number. @throws Problem 422 for anything else. */
export function numberCursor(cursor: string | undefined, first: number): number {
  if (cursor === undefined || cursor === '') return first;
  if (!/^\d{1,15}$/.test(cursor)) throw bad();
  return Number(cursor);
}

/** A cursor that holds several values, as {@link packCursor} made it. @throws Problem 422 for anything else. */
export function readCursor<T extends z.ZodType>(shape: T, cursor: string): z.output<T> {
  try {
    return shape.parse(JSON.parse(Buffer.from(cursor, 'base64url').toString('utf8')));
  } catch {
    throw bad();
  }
}

export function packCursor(value: unknown): string {
  return Buffer.from(JSON.stringify(value)).toString('base64url');
}
