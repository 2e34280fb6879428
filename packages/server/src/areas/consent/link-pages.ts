import { PAGE_COLOURS, PERSONAL_WORDS, saysOnly, type PageFilled } from '@long-gate/core';
import type { Context } from 'koa';
import { z } from 'zod';
import { Problem } from '../../platform/problem.js';

// What the pages behind personal links have in common: each is one person's, and works without a script.

const Kind = z.enum(['informational', 'promotional']);
/** Boxes as a browser sends them: one that stands once is no list there. */
export const TickedKinds = z
  .union([Kind, z.array(Kind)])
  .default([])
  .transform((p) => (typeof p === 'string' ? [p] : p));

export const nonceOf = (ctx: Context): string => String(ctx.state['nonce']);

/** Everything stays as it was filled in, with what is wrong; words that have changed are read again before they are chosen. */
export const filledIn = (
  form: { phone: string; purposes: readonly string[] },
  { code, fields, message }: Problem,
): PageFilled => ({
  values: { phone: form.phone },
  purposes: code === 'words-changed' ? [] : form.purposes,
  faults: fields,
  problem: fields.length === 0 ? message : '',
});

/** A link that leads nowhere says the same whatever the reason: it tells nobody whether it ever led anywhere. */
export async function answeringLink(ctx: Context, answer: (token: string) => Promise<void>): Promise<void> {
  ctx.type = 'html';
  ctx.set('cache-control', 'no-store');
  ctx.set('x-robots-tag', 'noindex');
  const token = String((ctx as Context & { params: Record<string, string> }).params['token']);
  try {
    await answer(token);
  } catch (error) {
    if (!(error instanceof Problem) || error.code !== 'link-over') throw error;
    ctx.status = 404;
    const t = PERSONAL_WORDS.en;
    ctx.body = saysOnly({ language: 'en', title: t.over, text: t.overWhy }, PAGE_COLOURS, nonceOf(ctx));
  }
}
