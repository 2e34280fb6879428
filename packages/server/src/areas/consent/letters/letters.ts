import { createHash, randomBytes } from 'node:crypto';
import { mergeText, PERSONAL_WORDS, type PersonalPage } from '@long-gate/core';
import type { Reader, Writer } from '../../../platform/db.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import { Lot } from '../../../platform/lot.js';
import type { Platform } from '../../../platform/platform.js';
import { Problem, refused } from '../../../platform/problem.js';
import type { Contacts, Person } from '../../contacts/index.js';
import { keepWords, refuseMail } from './letter-store.js';
import type { Whom } from '@long-gate/contracts';

// What letters to people with a personal link have in common, whatever they ask for.

/** A link is good for so long. */
export const LINK_GOOD_MS = 30 * 86_400_000;
/** People who can be written to in one go. */
const MOST = 5000;

/** What stands in a link; only its digest is kept. */
export const newToken = (): string => randomBytes(24).toString('base64url');
export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/** A link that is made up, over, or taken back: the same is said of all, so that it tells nobody whether it ever led anywhere. */
export const linkOver = (): Problem => new Problem(404, 'link-over', PERSONAL_WORDS.en.overWhy);

/** A letter to one person: names filled in, and the link last, since a name that looks like one stays a name. */
export function filledLetter(
  text: string,
  { firstName, lastName }: Pick<Person, 'firstName' | 'lastName'>,
  link: string,
): string {
  return text
    .split('[link]')
    .map((part) => mergeText(part, { firstName, lastName }))
    .join(link);
}

/** What stands where a letter had its link: whoever holds that answers for its owner. */
export const LINK_KEPT = '[their personal link]';

/**
 * Keeps the words of a letter that is sent, with their fields; what is in it of one person stays with that person's link.
 * @returns the digest by which they are found.
 */
export async function keepLetter(
  w: Writer,
  businessId: string,
  { subject, text }: { subject: string; text: string },
  now: number,
): Promise<string> {
  const sha256 = hashOf(`${subject}\n${text}`);
  await keepWords(w, { businessId, sha256, subject, text, sentAt: Math.round(now) });
  return sha256;
}

/** Whose letters they are, as the page that ends them shows it. */
export type LettersOf = Pick<PersonalPage, 'language' | 'business' | 'ground' | 'accent'>;

/** Its owner wants no more letters at that address. */
export async function endLettersTo(w: Writer, p: Platform, businessId: string, email: string): Promise<void> {
  const emailHash = hashOf(email.toLowerCase());
  await refuseMail(w, { businessId, emailHash, why: 'unsubscribed', at: p.clock.now() });
  w.afterCommit(() => p.live.tell({ businessId, topic: 'consent' }));
}

/** Whether an address can be written to at all. */
export const hasMailbox = (email: string): boolean => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(email);

/** Those who are meant, each once, who have an e-mail, and how many have none. @throws Problem 422 for too many. */
export async function reachableBy(
  r: Reader,
  contacts: Contacts,
  businessId: string,
  whom: Whom,
  most = MOST,
): Promise<{ people: Person[]; noEmail: number }> {
  const e164s = await contacts.numbersOf(r, businessId, whom, most + 1);
  if (e164s.length > most)
    throw refused(`At most ${most.toLocaleString('en-US')} people are asked in one go. Narrow the list first.`);
  const once = [
    ...new Map((await contacts.people(r, businessId, e164s)).map((x) => [x.contactId, x] as const)).values(),
  ];
  const people = once.filter((x) => hasMailbox(x.email));
  return { people, noEmail: once.length - people.length };
}

/**
 * Writes to people lot by lot, as a job that goes on where a crash left it.
 * @param write one lot, in a write of its own; whoever has a letter of this job already gets no second.
 */
export async function writeInLots<T extends { e164s: readonly string[] }>(
  p: Platform,
  round: T,
  context: JobContext,
  write: (w: Writer, part: readonly string[]) => Promise<void>,
): Promise<JobOutcome> {
  const { job } = context;
  const lot = new Lot(100);
  let done = job.doneCount;
  while (done < round.e164s.length) {
    const part = round.e164s.slice(done, done + lot.size);
    await lot.write(
      p.db,
      async (w) => {
        await write(w, part);
        await p.jobs.keep(w, job, round, done + part.length);
      },
      part.length,
    );
    done += part.length;
    if (!(await context.progress(done, round.e164s.length))) return { done: false };
  }
  return {
    done: true,
    result: done === 1 ? 'one e-mail is on its way' : `${done.toLocaleString('en-US')} e-mails are on their way`,
  };
}
