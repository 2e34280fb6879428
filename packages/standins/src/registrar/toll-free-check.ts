import type { Reason, TollFreeFiling } from '@long-gate/gateways';
import { BANNED, has, LINK, names, SHARED_HOSTS, SITE } from './words.js';

/** What the toll-free desk declines a number for. */
export function tollFreeReasons(f: TollFreeFiling): Reason[] {
  const out: Reason[] = [];
  const no = (field: string, code: string, message: string): void => void out.push({ field, code, message });
  if (f.description.trim().length < 40 || !names(f.description, f))
    no('description', 'description-no-name', 'It is not said who sends what to whom.');
  if (f.agreement.trim().length < 40) no('agreement', 'agreement-short', 'How people agree is not described.');
  if (f.proof.trim() === '') no('proof', 'proof-missing', 'There is nothing that shows where people agree.');
  if (!SITE.test(f.website.trim())) no('website', 'website-malformed', 'The website cannot be reached.');
  if (f.volume < 1) no('volume', 'volume-missing', 'It is not said how many texts go in a month.');
  const filled = f.samples.filter((s) => s.trim() !== '');
  if (filled.length === 0) no('samples.0', 'samples-too-few', 'There is no sample message.');
  f.samples.forEach((sample, i) => {
    if (sample.trim() === '') return;
    if (!names(sample, f)) no(`samples.${i}`, 'sample-no-name', 'The sample does not say who sends it.');
    if (SHARED_HOSTS.some((h) => sample.toLowerCase().includes(`${h}/`)))
      no(`samples.${i}`, 'sample-shared-shortener', 'The link is on a host that many senders share.');
    if (has(sample, ...BANNED)) no(`samples.${i}`, 'forbidden-subject', 'This subject is not carried.');
  });
  if (f.proof !== '' && !LINK.test(f.proof) && !/^[0-9a-f]{64}$/.test(f.proof))
    no('proof', 'proof-unreadable', 'What shows where people agree cannot be opened.');
  return out;
}
