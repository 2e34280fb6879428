import { countryRule, formatPhone } from '@long-gate/core';
import { namedIn } from '../../platform/objects.js';
import type { Platform } from '../../platform/platform.js';
import { orderedNumbers } from './basket-store.js';
import { hostedTable } from './hosted/model.js';
import { numberTable } from './model.js';
import { portNumbers } from './porting/port-store.js';

/** A number as it is called: its label before it where it has one. */
const called = ({ e164, label }: { e164: string; label: string }): string =>
  label === '' ? formatPhone(e164) : `${label}, ${formatPhone(e164)}`;

/** The numbers of a request in one line: the first, and how many more. */
export function requestName([first, ...more]: readonly string[]): string {
  if (first === undefined) return '';
  return `${formatPhone(first)}${more.length > 0 ? ` and ${more.length} more` : ''}`;
}

/** What the trail calls numbers, requests, orders and countries. */
export function nameNumbers({ objects }: Platform): void {
  objects.name('number', namedIn(numberTable, called));
  objects.name('hosted', namedIn(hostedTable, called));
  objects.name('port', async (r, businessId, ids) => requestNames(await portNumbers(r, businessId, ids)));
  objects.name('country', (_, __, codes) =>
    Promise.resolve(new Map(codes.map((code) => [code, countryRule(code)?.name ?? code]))),
  );
  objects.name('order', async (r, businessId, ids) => requestNames(await orderedNumbers(r, businessId, ids)));
}

const requestNames = (of: ReadonlyMap<string, string[]>): Map<string, string> =>
  new Map([...of].map(([id, e164s]) => [id, requestName(e164s)]));
