import { parse } from 'tldts';
import { finding, type Finding, type Span } from '../finding/finding.js';
import { namesSender } from '../text/compose.js';
import { findLinks, isSharedHost } from '../text/links.js';
import { showsStop } from '../text/stop-way.js';
import { saysHowOften, saysRates } from '../text/disclosed.js';
import { segmentText } from '../text/segments.js';
import { otherUse } from '../text/use.js';
import { hostOf } from './review-brand.js';
import { useCase, type LegalForm } from './terms.data.js';
import { conditions } from './words/condition.js';
import { isNotEnglish } from './words/language.js';
import { likeness } from './words/likeness.js';
import { phonesIn } from './words/phones.js';
import { namesPlace } from './words/place.js';
import { sharingForMarketing } from './words/sharing.js';
import { strangersLists } from './words/sources.js';
import { adultsOnly, forbiddenSubject, lendingWords } from './words/subjects.js';

export interface CampaignDraft {
  useCase: string;
  /** What is sent, to whom, why. */
  description: string;
  /** How people agree. */
  agreement: string;
  samples: string[];
  subUses: string[];
  hasLinks: boolean;
  hasPhones: boolean;
  ageRestricted: boolean;
  lending: boolean;
  optInMessage: string;
  optOutMessage: string;
  helpMessage: string;
  privacyUrl: string;
  termsUrl: string;
}

/** What a campaign is held against of its business. */
export interface About {
  nameLine: string;
  legalName: string;
  /** Which uses a business may have depends on it; not asked where it is not said. */
  form?: LegalForm;
  /** The brand's site; links elsewhere are found where it is said. */
  website?: string;
  /** The campaigns of the same business that were begun before it. */
  others?: readonly Pick<CampaignDraft, 'description' | 'samples'>[];
}

/** What reviewers decline, found before they see it (rules.md, A2P 10DLC and its siblings). */
export function reviewCampaign(c: CampaignDraft, names: About): Finding[] {
  return [
    ...reviewUse(c, names),
    ...reviewWords(c, names),
    ...reviewSamples(c, names),
    ...reviewDeclared(c),
    ...reviewReplies(c, names),
    ...reviewPages(c),
    ...reviewBeside(c, names),
  ];
}

/** Whether a text names the business, by its name line or its legal name. */
const named = (text: string, names: About): boolean =>
  namesSender(text, names.nameLine) || namesSender(text, names.legalName);

/** Which legal form may have which use (rules.md, A2P 10DLC). */
function reviewUse(c: CampaignDraft, { form }: About): Finding[] {
  const use = useCase(c.useCase);
  if (form === undefined || !use) return [];
  if (use.onlyFor !== undefined && use.onlyFor !== form)
    return [
      finding(
        'use-not-for-form',
        'useCase',
        `“${use.label}” is for a ${use.onlyFor} alone; this is a ${form}.`,
        'Choose another use.',
      ),
    ];
  if (form === 'sole proprietor' && use.onlyFor !== 'sole proprietor')
    return [
      finding(
        'use-not-for-form',
        'useCase',
        `A sole proprietor registers the use “Sole proprietor”, not “${use.label}”.`,
        'Begin the campaign anew with that use.',
      ),
    ];
  return [];
}

/** What a sender does in a description: it sends, tells, asks. */
const SAYS_WHAT =
  /\b(?:sends?|sent|receive|texts?|notif|remind|alert|answer|tell|inform|ask|invite|update|confirm|warn|let\w* \w+ know)/i;

function reviewWords(c: CampaignDraft, names: About): Finding[] {
  const out: Finding[] = [];
  const d = c.description.trim();
  if (d.length < 40)
    out.push(
      finding(
        'description-short',
        'description',
        `The description has ${d.length} of at least 40 characters.`,
        'Say who sends what to whom and why.',
      ),
    );
  else if (d.length > 2048)
    out.push(
      finding('description-long', 'description', 'The description is longer than 2,048 characters.', 'Shorten it.'),
    );
  else if (!isNotEnglish(d) && !SAYS_WHAT.test(d)) {
    out.push(
      finding(
        'description-vague',
        'description',
        'It does not say who sends what to whom.',
        'Begin with: [business] sends … to … so that …',
      ),
    );
  }
  if (d.length > 0 && !named(d, names))
    out.push(
      finding(
        'description-no-name',
        'description',
        'The description does not say who sends: name the business.',
        `Begin with “${names.nameLine} sends …”`,
      ),
    );
  const a = c.agreement.trim();
  if (a.length < 40)
    out.push(
      finding(
        'agreement-short',
        'agreement',
        `“How people agree” has ${a.length} of at least 40 characters.`,
        'Say where people agree and what they read there.',
      ),
    );
  else if (a.length > 2048)
    out.push(
      finding('agreement-long', 'agreement', '“How people agree” is longer than 2,048 characters.', 'Shorten it.'),
    );
  if (a.length > 0 && !namesPlace(a))
    out.push(
      finding(
        'agreement-no-place',
        'agreement',
        'It names no place where people agree.',
        'Name the page, form, counter or keyword.',
      ),
    );
  for (const span of conditions(c.agreement))
    out.push(
      finding(
        'agreement-condition',
        'agreement',
        'Agreement is made a condition. Reviewers decline this; so does the law.',
        'Take the sentence out, and let people choose freely.',
        span,
      ),
    );
  for (const span of strangersLists(c.agreement))
    out.push(
      finding(
        'agreement-bought-list',
        'agreement',
        'People on a bought list have not agreed.',
        'Text only those who agreed with you.',
        span,
      ),
    );
  for (const span of sharingForMarketing(c.agreement))
    out.push(
      finding(
        'numbers-shared',
        'agreement',
        'Numbers go to others for their own marketing. Carriers allow no such agreement.',
        'Say that numbers and consent are shared with nobody for marketing, and keep to it.',
        span,
      ),
    );
  for (const field of ['description', 'agreement'] as const) {
    const bad = forbiddenSubject(c[field]);
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
    if (isNotEnglish(c[field]))
      out.push(
        finding(
          'not-in-english',
          field,
          'Reviewers read English.',
          'Write it in English; samples may be in any language.',
          {
            start: 0,
            end: c[field].length,
          },
        ),
      );
  }
  return out;
}

function reviewSamples(c: CampaignDraft, names: About): Finding[] {
  const out: Finding[] = [];
  const use = useCase(c.useCase);
  const filled = c.samples.filter((s) => s.trim() !== '').length;
  const wanted = use?.samples ?? 1;
  if (filled < wanted) {
    out.push(
      finding(
        'samples-too-few',
        `samples.${Math.min(filled, c.samples.length)}`,
        `${use?.label ?? 'This use'} asks for ${wanted} samples; there ${filled === 1 ? 'is' : 'are'} ${filled}.`,
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
    if (!named(text, names)) {
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
function reviewDeclared(c: CampaignDraft): Finding[] {
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

function reviewReplies(c: CampaignDraft, names: About): Finding[] {
  const out: Finding[] = [];
  for (const [field, text] of [
    ['optInMessage', c.optInMessage],
    ['optOutMessage', c.optOutMessage],
    ['helpMessage', c.helpMessage],
  ] as const) {
    const n = text.trim().length;
    if (n < 20 || n > 320)
      out.push(
        finding(
          'reply-length',
          field,
          `This reply has ${n} characters; 20 to 320 are allowed.`,
          n < 20 ? 'Write it out.' : 'Shorten it.',
        ),
      );
  }
  const optIn = c.optInMessage;
  const lacks = [
    ...(named(optIn, names) ? [] : ['the name']),
    ...(saysHowOften(optIn) ? [] : ['how often']),
    ...(saysRates(optIn) ? [] : ['that rates may apply']),
    ...(/\bHELP\b/.test(optIn) ? [] : ['HELP']),
    ...(/\bSTOP\b/.test(optIn) ? [] : ['STOP']),
  ];
  if (optIn.trim() !== '' && lacks.length > 0)
    out.push(
      finding(
        'optin-message-incomplete',
        'optInMessage',
        `The joining message lacks ${lacks.join(', ')}.`,
        'Add what is missing.',
        { start: 0, end: optIn.length },
      ),
    );
  if (c.optOutMessage.trim() !== '') {
    const span = { start: 0, end: c.optOutMessage.length };
    if (!named(c.optOutMessage, names))
      out.push(
        finding(
          'optout-reply-no-name',
          'optOutMessage',
          'The answer to STOP doesn’t name the business.',
          `Begin with “${names.nameLine}:”`,
          span,
        ),
      );
    if (!/\b(?:no (?:more|further|longer)|not (?:receive|get|send)|won.t)\b/i.test(c.optOutMessage))
      out.push(
        finding(
          'optout-reply-no-end',
          'optOutMessage',
          'It does not say that no more texts will come.',
          'Add “You will get no more texts from us.”',
          span,
        ),
      );
  }
  if (c.helpMessage.trim() !== '') {
    const contact =
      findLinks(c.helpMessage).length > 0 || phonesIn(c.helpMessage).length > 0 || /\S+@\S+\.\S+/.test(c.helpMessage);
    if (!contact)
      out.push(
        finding(
          'help-reply-no-contact',
          'helpMessage',
          'The answer to HELP names no way to reach you.',
          'Add a phone number, e-mail or page.',
          { start: 0, end: c.helpMessage.length },
        ),
      );
  }
  return out;
}

function reviewPages(c: CampaignDraft): Finding[] {
  const out: Finding[] = [];
  if (!hostOf(c.privacyUrl))
    out.push(finding('privacy-page-missing', 'privacyUrl', 'There is no privacy page.', 'Give its web address.'));
  if (!hostOf(c.termsUrl))
    out.push(finding('terms-page-missing', 'termsUrl', 'There is no terms page.', 'Give its web address.'));
  return out;
}

/** How much two campaigns may have in common of all they say. */
const ALIKE = 0.7;
const said = (c: Pick<CampaignDraft, 'description' | 'samples'>): string => [c.description, ...c.samples].join(' ');

/** What a campaign is beside those before it: as many as the legal form has, and each of its own. */
function reviewBeside(c: CampaignDraft, { form, others = [] }: About): Finding[] {
  const out: Finding[] = [];
  if (form === 'sole proprietor' && others.length > 0)
    out.push(
      finding(
        'campaigns-too-many',
        'useCase',
        'A sole proprietor has one campaign.',
        'Keep the one that says what is sent, or register as a company.',
      ),
    );
  if (others.some((o) => likeness(said(c), said(o)) >= ALIKE))
    out.push(
      finding(
        'campaigns-alike',
        'description',
        'It says nearly what another campaign of this business says; reviewers ask why there are two.',
        'Say what sets it apart, or use the other one.',
      ),
    );
  return out;
}
