import { finding, type Finding, type Span } from '../finding/finding.js';
import { namesSender } from '../text/compose.js';
import { findLinks, isSharedHost } from '../text/links.js';
import { showsStop } from '../text/stop-way.js';
import { AGE, BOUGHT, CONDITION, FORBIDDEN, NOT_A_CONDITION, PHONE, PLACE } from './campaign-words.js';
import { hostOf } from './review-brand.js';
import { useCase } from './terms.data.js';

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

interface Names {
  nameLine: string;
  legalName: string;
}

/** What reviewers decline, found before they see it (rules.md, A2P 10DLC and its siblings). */
export function reviewCampaign(c: CampaignDraft, names: Names): Finding[] {
  return [
    ...reviewWords(c, names),
    ...reviewSamples(c, names),
    ...reviewDeclared(c),
    ...reviewReplies(c, names),
    ...reviewPages(c),
  ];
}

function spanOf(m: RegExpExecArray): { start: number; end: number } {
  const lead = /^\s*/.exec(m[0])?.[0].length ?? 0;
  return { start: m.index + lead, end: m.index + m[0].length };
}

/** Whether a text names the business, by its name line or its legal name. */
const named = (text: string, names: Names): boolean =>
  namesSender(text, names.nameLine) || namesSender(text, names.legalName);

function reviewWords(c: CampaignDraft, names: Names): Finding[] {
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
  else if (!/\b(?:send|sends|sent|receive|text|notify|notif|remind|alert|answer|tell|inform)/i.test(d)) {
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
  if (a.length > 0 && !PLACE.test(a))
    out.push(
      finding(
        'agreement-no-place',
        'agreement',
        'It names no place where people agree.',
        'Name the page, form, counter or keyword.',
      ),
    );
  for (const sentence of c.agreement.matchAll(/[^.!?]+[.!?]?/g)) {
    if (!CONDITION.test(sentence[0]) || NOT_A_CONDITION.test(sentence[0])) continue;
    out.push(
      finding(
        'agreement-condition',
        'agreement',
        'Agreement is made a condition. Reviewers decline this; so does the law.',
        'Take the sentence out, and let people choose freely.',
        spanOf(sentence),
      ),
    );
  }
  for (const bought of c.agreement.matchAll(BOUGHT))
    out.push(
      finding(
        'agreement-bought-list',
        'agreement',
        'People on a bought list have not agreed.',
        'Text only those who agreed with you.',
        spanOf(bought),
      ),
    );
  for (const field of ['description', 'agreement'] as const) {
    const bad = FORBIDDEN.exec(c[field]);
    if (bad)
      out.push(
        finding(
          'forbidden-subject',
          field,
          `“${bad[0]}” is a subject the carriers forbid.`,
          'Such texts cannot be registered.',
          spanOf(bad),
        ),
      );
  }
  return out;
}

function reviewSamples(c: CampaignDraft, names: Names): Finding[] {
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
    if (text.replace(/\[[^\]]*\]|\{\{?[^}]*\}?\}|<[^>]*>|_{2,}|x{3,}/gi, ' ').replace(/[^\p{L}]+/gu, '').length < 8) {
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
      if (link.bareAddress) {
        out.push(
          finding('sample-bare-ip', field, 'A link to a bare IP address is filtered.', 'Use your own domain.', {
            start: link.start,
            end: link.end,
          }),
        );
      }
    }
    const bad = FORBIDDEN.exec(sample);
    if (bad)
      out.push(
        finding(
          'forbidden-subject',
          field,
          `“${bad[0]}” is a subject the carriers forbid.`,
          'Such texts cannot be registered.',
          spanOf(bad),
        ),
      );
    const age = AGE.exec(sample);
    if (age && !c.ageRestricted)
      out.push(
        finding(
          'age-gate-undeclared',
          field,
          `“${age[0]}” needs the declaration “age-restricted”.`,
          'Declare it, and check ages where people agree.',
          spanOf(age),
        ),
      );
  });
  return out;
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
  const phone = first((sample) => {
    const m = new RegExp(PHONE.source).exec(sample);
    return m ? spanOf(m) : null;
  });
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

function reviewReplies(c: CampaignDraft, names: Names): Finding[] {
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
    ...(/\b(?:daily|weekly|monthly|month|week|day|frequency|recurring|varies|vary|per|times?)\b/i.test(optIn)
      ? []
      : ['how often']),
    ...(/\brates?\b/i.test(optIn) ? [] : ['that rates may apply']),
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
      findLinks(c.helpMessage).length > 0 ||
      new RegExp(PHONE.source).test(c.helpMessage) ||
      /\S+@\S+\.\S+/.test(c.helpMessage);
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
