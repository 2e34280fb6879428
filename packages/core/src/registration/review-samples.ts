import { parse } from 'tldts';
import { finding, type Finding, type Span } from '../finding/finding.js';
import { findLinks, isSharedHost } from '../text/links.js';
import { segmentText } from '../text/segments.js';
import { showsStop } from '../text/stop-way.js';
import { otherUse } from '../text/use.js';
import { namesBusiness, type About, type CampaignDraft } from './campaign-draft.js';
import { hostOf } from './review-brand.js';
import { useCase } from './terms.data.js';
import { phonesIn } from './words/phones.js';
import { adultsOnly, forbiddenSubject, lendingWords } from './words/subjects.js';

/** The sample messages, each by itself. */
export function reviewSamples(c: CampaignDraft, names: About): Finding[] {
  const out: Finding[] = [];
  const use = useCase(c.useCase);
  const filled = c.samples.filter((s) => s.trim() !== '').length;
  const wanted = use?.samples ?? 1;
  if (filled < wanted) {
    out.push(
      finding(
        'samples-too-few',
        `samples.${Math.min(filled, c.samples.length)}`,
        `${use?.label ?? 'This use'} asks for ${wanted} sample${wanted === 1 ? '' : 's'}; there ${filled === 1 ? 'is' : 'are'} ${filled}.`,
        'Add a sample message.',
      ),
    );
  }
  if (c.samples.length > 5)
    out.push(finding('samples-too-many', 'samples.5', 'At most five samples.', 'Take one away.'));
  const shown = c.samples.some((s) => showsStop(s));
  const brandHost = names.website === undefined ? null : hostOf(names.website);
  const site = brandHost === null ? null : siteOf(brandHost);
  c.samples.forEach((sample, i) => {
    const field = `samples.${i}`;
    const text = sample.trim();
    if (text === '') return;
    const whole = { start: 0, end: sample.length };
    if (text.length < 20)
      out.push(
        finding(
          'sample-short',
          field,
          `The sample has ${text.length} of at least 20 characters.`,
          'Write a whole message.',
          whole,
        ),
      );
    if (text.length > 1024)
      out.push(finding('sample-long', field, 'The sample is longer than 1,024 characters.', 'Shorten it.'));
    if (!namesBusiness(text, names)) {
      const end = Math.max(1, sample.search(/[.!?]/) + 1 || sample.length);
      out.push(
        finding('sample-no-name', field, 'The sample doesn’t name the business.', `Begin with “${names.nameLine}:”`, {
          start: 0,
          end,
        }),
      );
    }
    if (use?.needsStop && (c.useCase === 'marketing' ? !showsStop(text) : !shown && i === 0)) {
      out.push(finding('sample-no-stop', field, 'It shows no way to stop.', 'End with “Reply STOP to end.”', whole));
    }
    if (onlyPlaceholders(text, names)) {
      out.push(
        finding(
          'sample-only-placeholders',
          field,
          'The sample is nothing but placeholders.',
          'Write the words people will read; a bracketed variable is fine.',
          whole,
        ),
      );
    }
    for (const link of findLinks(sample)) {
      if (isSharedHost(link.host)) {
        out.push(
          finding(
            'sample-shared-shortener',
            field,
            'Networks filter links on hosts that many senders share.',
            'Use a link on your own domain.',
            { start: link.start, end: link.end },
          ),
        );
      }
      if (site !== null && !link.bareAddress && !isSharedHost(link.host) && siteOf(link.host) !== site)
        out.push(
          finding(
            'sample-link-off-domain',
            field,
            `The link leads to ${link.host}; the brand’s site is ${site}. Reviewers decline what does not fit together.`,
            `Link to a page on ${site}.`,
            { start: link.start, end: link.end },
          ),
        );
      if (link.bareAddress) {
        out.push(
          finding('sample-bare-ip', field, 'A link to a bare IP address is filtered.', 'Use your own domain.', {
            start: link.start,
            end: link.end,
          }),
        );
      }
    }
    const bad = forbiddenSubject(sample);
    if (bad)
      out.push(
        finding(
          'forbidden-subject',
          field,
          `“${bad.words}” is a subject the carriers forbid.`,
          'Such texts cannot be registered.',
          bad,
        ),
      );
    const age = adultsOnly(sample);
    if (age && !c.ageRestricted)
      out.push(
        finding(
          'age-gate-undeclared',
          field,
          `“${age.words}” needs the declaration “age-restricted”.`,
          'Declare it, and check ages where people agree.',
          age,
        ),
      );
    const lends = lendingWords(sample);
    if (lends && !c.lending && !bad)
      out.push(
        finding(
          'lending-undeclared',
          field,
          `“${lends.words}” needs the declaration “lending”.`,
          'Declare it, or take it out.',
          lends,
        ),
      );
    const other = otherUse(sample, { useCase: c.useCase, subUses: c.subUses });
    if (other)
      out.push(
        finding(
          'sample-other-use',
          field,
          `These words belong to ${other.label}; the campaign is for ${other.registeredFor.toLowerCase()}.`,
          'Take them out, or choose the use that covers both.',
          other,
        ),
      );
    if (segmentText(text).parts.length > 2)
      out.push(
        finding(
          'sample-many-segments',
          field,
          `It takes ${segmentText(text).parts.length} segments; networks filter long texts sooner, and each is paid for.`,
          'Shorten it to two at most.',
          whole,
        ),
      );
  });
  return out;
}

/** A host without what stands before its registered name, as the public suffix list has it: `go.quay.example` is of `quay.example`. */
function siteOf(host: string): string {
  return parse(host).domain ?? host.replace(/^www\./, '');
}

/** What stands for words that come later, in any brackets. */
const PLACEHOLDER = /\[[^\]]*\]|\{\{?[^}]*\}?\}|<[^>]*>|\([A-Z_ ]+\)|%[A-Za-z_ ]+%|#[A-Za-z_]+#|_{2,}|x{3,}/g;

/** True for a sample whose placeholders leave no words of its own beside the name and the line on stopping. */
function onlyPlaceholders(text: string, names: About): boolean {
  let left = text.replace(PLACEHOLDER, ' ');
  if (left === text) return false;
  for (const name of [names.legalName, names.nameLine]) if (name !== '') left = left.replaceAll(name, ' ');
  const own = left.replace(
    /(?:\b(?:reply|text|txt|send|answer)\s+)?(?:with\s+)?\b(?:STOP|HELP|UNSUBSCRIBE|QUIT|END)\b[^.!?,;\n]*/gi,
    ' ',
  );
  return own.replace(/[^\p{L}]+/gu, '').length < 8;
}

/** What is declared and what the samples show must agree, both ways. */
export function reviewDeclared(c: CampaignDraft): Finding[] {
  const out: Finding[] = [];
  const first = (find: (sample: string) => Span | null): (Span & { field: string }) | null => {
    for (const [i, sample] of c.samples.entries()) {
      const m = find(sample);
      if (m) return { field: `samples.${i}`, start: m.start, end: m.end };
    }
    return null;
  };
  const link = first((sample) => findLinks(sample)[0] ?? null);
  const some = c.samples.some((s) => s.trim() !== '');
  if (c.hasLinks && !link && some)
    out.push(
      finding(
        'link-declared-but-absent',
        'hasLinks',
        'Links are declared, but no sample carries one.',
        'Show the link in a sample, or declare none.',
      ),
    );
  if (!c.hasLinks && link)
    out.push(
      finding(
        'link-undeclared',
        link.field,
        'The sample carries a link, but none is declared.',
        'Declare links, or take it out.',
        { start: link.start, end: link.end },
      ),
    );
  const phone = first((sample) => phonesIn(sample)[0] ?? null);
  if (c.hasPhones && !phone && some)
    out.push(
      finding(
        'phone-declared-but-absent',
        'hasPhones',
        'Phone numbers are declared, but no sample carries one.',
        'Show one in a sample, or declare none.',
      ),
    );
  if (!c.hasPhones && phone)
    out.push(
      finding(
        'phone-undeclared',
        phone.field,
        'The sample carries a phone number, but none is declared.',
        'Declare phone numbers, or take it out.',
        { start: phone.start, end: phone.end },
      ),
    );
  if (c.useCase === 'mixed' && (c.subUses.length < 2 || c.subUses.length > 5))
    out.push(finding('sub-uses-count', 'subUses', 'A mixed campaign names two to five uses.', 'Name them.'));
  return out;
}
