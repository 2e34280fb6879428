/** Words that are in any text and say nothing of its subject. */
const COMMON = new Set(
  'about after again also back been before being both call come does done down each even ever every find from give good have hello here into just keep know like look made make more most much must name need next only open other over please reply said same send some soon stop such take tell text than thank thanks that their them then there these they this those time today tomorrow until upon used very want week well were what when where which while will with within would your yours help ends monday tuesday wednesday thursday friday saturday sunday january february march april june july august september october november december'.split(
    ' ',
  ),
);

/** A word without its ending, roughly: `fares` and `fare`, `sailing` and `sails`. */
const stem = (word: string): string => word.replace(/(?<!s)s$/, '').replace(/(?:ing|ie|ed|e|y)$/, '');

/** A text of fewer words on its subject says too little to tell. */
const LEAST = 4;

/** The words of a text that speak of its subject, without endings. */
function subjectWords(text: string): Set<string> {
  const words =
    text
      .toLowerCase()
      .replace(/\[[^\]]*\]|https?:\/\/\S+|\S+\.[a-z]{2,}\S*/g, ' ')
      .match(/\p{L}{4,}/gu) ?? [];
  return new Set(words.filter((w) => !COMMON.has(w)).map(stem));
}

/**
 * How far a text has moved from what a campaign was registered with: the share of its subject's words that neither
 * description nor samples have, from 0 (all of them are there) to 1 (none is). Null for a text that says too little to
 * tell. What a business is called is no subject. source: rules.md, reputation and deliverability (content drift).
 */
export function driftFrom(
  text: string,
  registered: { description: string; samples: readonly string[] },
  nameLine: string,
): number | null {
  const name = subjectWords(nameLine);
  const said = new Set([...subjectWords(text)].filter((w) => !name.has(w)));
  if (said.size < LEAST) return null;
  const known = subjectWords([registered.description, ...registered.samples].join(' '));
  return [...said].filter((w) => !known.has(w)).length / said.size;
}

/** From here on a text speaks of something else than what was registered; measured on invented texts of both kinds. */
export const DRIFTED = 0.85;
