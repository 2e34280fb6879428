import type Router from '@koa/router';
import type { AddressAnswer } from '@long-gate/gateways';
import { z } from 'zod';

const SUFFIXES: Readonly<Record<string, string>> = {
  st: 'Street',
  rd: 'Road',
  ln: 'Lane',
  ave: 'Avenue',
  blvd: 'Boulevard',
  dr: 'Drive',
  ct: 'Court',
};

const word = (w: string): string =>
  SUFFIXES[w.toLowerCase().replace('.', '')] ?? w.charAt(0).toUpperCase() + w.slice(1);
const spell = (text: string): string => text.trim().split(/\s+/).map(word).join(' ');

/** Knows how the made-up post spells addresses; a street without a house number is none. */
export function addAddresses(router: Router): void {
  router.post('/addresses/checks', (ctx) => {
    const a = z
      .object({ street: z.string(), city: z.string(), state: z.string(), postalCode: z.string() })
      .parse(ctx.request.body);
    const better = { ...a, street: spell(a.street), city: spell(a.city) };
    const known =
      /^\d+[A-Za-z]?\s+\S/.test(a.street) && !/\bp\.?\s*o\.?\s*box\b/i.test(a.street) && a.city.trim() !== '';
    const same = better.street === a.street && better.city === a.city;
    ctx.body = { verdict: !known ? 'unknown' : same ? 'good' : 'better', better } satisfies AddressAnswer;
  });
}
