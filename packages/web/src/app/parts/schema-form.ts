import type * as z from 'zod';
import type { ApiProblem } from '../api/api';

/** Checks a value with the contract's schema, so that browser and server say the same words: field path → what is wrong. */
export function checkWith(schema: z.ZodType, value: unknown): Record<string, string> {
  const result = schema.safeParse(value);
  if (result.success) return {};
  return Object.fromEntries(result.error.issues.map((i): [string, string] => [i.path.join('.'), i.message]).reverse());
}

/** The server's refusal by field; what belongs to no field comes under the empty path. */
export function problemsInto(problem: ApiProblem): Record<string, string> {
  const byField = Object.fromEntries((problem.fields ?? []).map((f) => [f.field, f.message]));
  return Object.keys(byField).length > 0 ? byField : { '': problem.message };
}
