import { randomUUID } from 'node:crypto';
import { readArchive } from '@long-gate/core';
import type { Office } from './office.js';

/** The files of an evidence pack by their names. */
export function filesIn(pack: Uint8Array): Map<string, Uint8Array> {
  const files = readArchive(pack);
  if (typeof files === 'string') throw new Error(files);
  return new Map(files.map((f) => [f.name, f.bytes]));
}
export const textIn = (pack: Uint8Array, name: string): string => Buffer.from(filesIn(pack).get(name) ?? []).toString();
export const linesIn = (pack: Uint8Array, name: string): Record<string, unknown>[] =>
  textIn(pack, name)
    .split('\n')
    .filter(Boolean)
    .map((l) => JSON.parse(l) as Record<string, unknown>);

/** Makes a pack about a number and fetches it. */
export async function packAbout(o: Office, e164: string): Promise<Buffer> {
  const wish = { asker: 'our own file' as const, who: '', reference: '', question: '', dueOn: null, numbers: e164 };
  const { id } = await o.app.evidence.ask(o.admin, o.business, wish, randomUUID());
  await o.settle();
  const { items } = await o.app.evidence.list(o.business, { limit: 10 });
  const pack = items.find((x) => x.id === id)?.packs[0]?.id ?? '';
  const { error } = (await o.app.platform.jobs.underWay(o.app.platform.db, o.business, 'evidence'))[0] ?? {};
  if (error) throw new Error(`The pack was not made: ${error}`);
  return (await o.app.packs.fetch(o.admin, o.business, pack)).bytes;
}
