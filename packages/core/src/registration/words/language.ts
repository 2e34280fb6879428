const ENGLISH = new Set(
  'the a an and or of to for in on at by with from is are was be we our us you your they their them who that this it its when where how as not no yes will can may has have sends send texts text people customers members about week month year day times'.split(
    ' ',
  ),
);
const OTHER = new Set(
  'el la los las un una y o de del en con por para es son que se su sus al como cuando nos le les más mas sin sobre der die das und oder mit für von zu den dem ein eine ist sind nicht le du des et ou avec pour dans sur aux est sont qui nous vous il per che non sono alla della'.split(
    ' ',
  ),
);

/**
 * Whether a text of some length is written in another language than English, by its commonest words.
 * Reviewers read English; samples may be in any language the texts are in.
 */
export function isNotEnglish(text: string): boolean {
  const words = text.toLowerCase().match(/\p{L}+/gu) ?? [];
  if (words.length < 8) return false;
  const of = (set: ReadonlySet<string>): number => words.filter((w) => set.has(w)).length / words.length;
  return of(OTHER) > 0.15 && of(OTHER) > of(ENGLISH);
}
