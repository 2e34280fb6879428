import type Router from '@koa/router';
import { unsubscribePage } from '@long-gate/core';
import { answeringLink, nonceOf } from '../link-pages.js';
import type { LettersOf } from './letters.js';

/** The page that ends letters; it works without a script, and without anybody signed in. */
export function letterRoutes(
  open: Router,
  at: '/my-texts' | '/better-number',
  links: { letters(token: string): Promise<LettersOf>; endLetters(token: string): Promise<void> },
): void {
  // Only a POST ends letters: programs that look through mail open every address in it.
  for (const method of ['get', 'post'] as const)
    open[method](`${at}/:token/letters`, (ctx) =>
      answeringLink(ctx, async (token) => {
        const page = await links.letters(token);
        if (method === 'post') await links.endLetters(token);
        ctx.body = unsubscribePage(page, { action: ctx.path, nonce: nonceOf(ctx), done: method === 'post' });
      }),
    );
}
