import type { Span } from '../../finding/finding.js';
import { isDenied, sentencesOf } from './sentences.js';

const DEED =
  '(?:buy|purchas|order|book|sign|register|creat|us|visit|complet|pay|check|join|apply|enroll?|accept|shop|donat|rent|hir|renew|stay|subscrib|download)(?:s|es|ed|ing)?';
const AGREE = '(?:agree\\w*|consent\\w*|opt(?:s|ed|ing)?[- ]?in|permission)';
const LISTED = '(?:added|enroll?ed|subscribed|signed[- ]up|opted[- ]?in|registered|put|included|entered)';
const TEXTED = '(?:texts?|text messag\\w+|sms|messages?|offers?|promotions?|list|programme?|alerts?|newsletter|club)';

/** Ways in which a sentence makes agreement a condition, or takes it as given. */
const WAYS: readonly RegExp[] = [
  // By buying they agree; whoever books is signed up.
  new RegExp(`\\b(?:by|when|once|upon|on|through) ${DEED}\\b.*\\b(?:agrees?|consents?|opts? in|are opted)\\b`, 'is'),
  new RegExp(
    `\\b(?:everyone|everybody|anyone|anybody|all|whoever|any(?: \\w+)?|each(?: \\w+)?|every(?: \\w+)?)\\b(?: who)? (?:\\w+ )?${DEED}\\b.*\\b(?:agrees?|consents?|(?:is|are|gets?|be) (?:\\w+ )?${LISTED}|(?:gets?|receives?) (?:our |the )?(?:\\w+ )?${TEXTED})\\b`,
    'is',
  ),
  new RegExp(
    `\\b(?:purchas\\w+|order\\w*|booking|check(?:ing)?[- ]?out|sign(?:ing)?[- ]?up|registration|payment|use) (?:of \\w+ )?(?:means|implies|includes|counts as|constitutes|is taken as)\\b.*\\b${AGREE}`,
    'is',
  ),
  // They must agree; consent is required; they cannot buy without.
  /\b(?:must|required to|has to|have to|needs? to|obliged to|asked to agree and cannot) (?:first )?(?:agree|consent|opt[- ]in|accept (?:our )?(?:text|sms|message)\w*)/i,
  new RegExp(
    `\\b${AGREE}(?: \\w+){0,6}? (?:is|are|being) (?:required|mandatory|compulsory|obligatory|necessary|needed|a (?:condition|requirement))\\b`,
    'i',
  ),
  new RegExp(
    `\\b(?:cannot|can ?not|can['’]?t|may not|unable to)\\b[^.]{0,60}\\b(?:without|unless)\\b[^.]{0,40}\\b(?:agree|consent|opt|accept)`,
    'i',
  ),
  /\b(?:a |as a )?condition (?:of|for) (?:any |the |your |their )?(?:purchase|sale|booking|service|membership|use|account|treatment|employment|rental)\b/i,
  // Nobody is asked: they are put on the list.
  new RegExp(
    `\\b(?:automatically|by default|thereby|without further ado)\\b(?: \\w+){0,3} ${LISTED}\\b|\\b${LISTED}\\b(?: \\w+){0,8}? (?:automatically|by default)\\b`,
    'i',
  ),
  new RegExp(
    `\\b(?:all|every|each|new)\\b[^.]{0,40}\\b(?:is|are) (?:\\w+ )?${LISTED}\\b[^.]{0,60}\\b(?:when|once|as soon as|on|upon|after|at) (?:they |the )?(?:check|arriv|buy|book|visit|pay|order|register|sign)`,
    'i',
  ),
  new RegExp(
    `\\b(?:box|tick ?box|checkbox|option)\\b[^.]{0,30}\\b(?:is|are|comes?) (?:already |pre-?|by default )+(?:ticked|checked|selected)|\\bpre-?(?:ticked|checked|selected)\\b`,
    'i',
  ),
  // Hidden in other words.
  new RegExp(
    `\\b(?:terms(?: (?:of (?:service|use|sale)|and conditions))?|privacy policy|contract|waiver|agreement|lease|small print)\\b[^.]{0,80}\\b(?:includes?|contains?|covers?|grants?|gives? us|permits?|authoriz\\w+|provides? for)\\b[^.]{0,50}\\b(?:${AGREE}|to (?:send|text|receive|message|be texted))`,
    'i',
  ),
  new RegExp(
    `\\b(?:accept|agree\\w* (?:to|with))\\w* (?:our |the )?(?:terms|privacy policy|conditions|contract)\\b[^.]{0,60}\\b(?:and (?:so|thereby|thus)|which|means|includes?)\\b`,
    'i',
  ),
];
/** What makes it a free choice after all: the act is the agreeing itself. */
const OWN_ACT =
  /\b(?:repl(?:y|ies|ied|ying) (?:with )?(?:yes|y)\b|tick(?:s|ed|ing)?\b|choos\w*|chose\b|may (?:leave|choose)\b|separate(?:ly)? (?:box|asked)\b|box of its own\b)/i;

/** The sentences that make agreement a condition, hide it or take it as given; not those that deny it. */
export function conditions(text: string): Span[] {
  return sentencesOf(text).flatMap(({ text: sentence, start }) => {
    const made = WAYS.some((re) => {
      const m = re.exec(sentence);
      if (!m) return false;
      if (/\b(?:without|unless)\b/i.test(m[0]) && /^(?:cannot|can ?not|can['’]?t|may not|unable)/i.test(m[0]))
        return true;
      if (isDenied(sentence, { start: m.index, end: m.index + m[0].length }, 24)) return false;
      return !(
        OWN_ACT.test(sentence) &&
        !/\b(?:automatically|by default|pre-?ticked|required|must|condition|already)\b/i.test(m[0])
      );
    });
    return made ? [{ start, end: start + sentence.length }] : [];
  });
}
