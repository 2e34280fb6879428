import { parseAmount } from '@long-gate/core';
import * as z from 'zod';

/** An amount as people write it, such as `25` or `1,200.50`, read as millionths of a dollar. */
export const AmountText = z.string().transform((text, ctx) => {
  try {
    return parseAmount(text);
  } catch (error) {
    ctx.addIssue({ code: 'custom', message: `${(error as Error).message}.` });
    return z.NEVER;
  }
});
