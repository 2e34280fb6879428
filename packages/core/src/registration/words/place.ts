/** Words that name a place where people agree. */
const PLACE =
  /\b(?:page|site|website|web ?form|form|checkout|counter|desk|till|card|sheet|paper|phone|call|calling|keyword|text(?:ing)? (?:the word )?[A-Z]{3,}|app|portal|account|kiosk|sign-?up sheet|register|qr code|in person|booth|contract|list (?:at|by) the)\b|\b(?:[a-z0-9-]+\.)+[a-z]{2,}(?:\/\S*)?/i;

/** True where “how people agree” names the place: a page, a form, a counter, a call, a keyword. */
export const namesPlace = (agreement: string): boolean => PLACE.test(agreement);
