// What a campaign's words are searched for (rules.md, A2P 10DLC and its siblings).
export const PHONE = /(?:\+?1[ .-]?)?(?:\(\d{3}\)|\b\d{3})[ .-]?\d{3}[ .-]\d{4}\b/g;
export const FORBIDDEN =
  /\b(?:casino|gambling|betting|sports ?book|cannabis|marijuana|cbd|kratom|payday loans?|debt (?:relief|consolidation|settlement)|credit repair|get rich|work from home and earn|lead (?:gen(?:eration)?|resale)|crypto(?:currency)? (?:investment|signals))\b/i;
export const AGE =
  /\b(?:beer|wine|whisk(?:e)?y|vodka|liquor|alcohol|brewery|tobacco|cigars?|cigarettes?|vap(?:e|ing)|firearms?|ammunition|guns?)\b/i;
/** Words that name a place where people agree. */
export const PLACE =
  /\b(?:page|site|website|web ?form|form|checkout|counter|desk|paper|phone|call|calling|keyword|text(?:ing)? (?:the word )?[A-Z]{3,}|app|kiosk|sign-?up sheet|register|till|qr code|in person|booth)\b|\b(?:[a-z0-9-]+\.)+[a-z]{2,}(?:\/\S*)?/i;
/** In one sentence: that it makes agreement a condition, in any of its wordings. */
export const CONDITION =
  /\b(?:by (?:buying|purchasing|ordering|booking|signing|registering|creating|using|visiting).*\b(?:agree|consent|opt)|(?:must|required to|have to|need to) (?:agree|consent|opt in)|consent is (?:required|a condition)|automatically (?:opted|enrolled|subscribed|added)|(?:purchase|purchasing|order|ordering|booking|check(?:ing)?[- ]?out|sign(?:ing)?[- ]?up|payment) (?:means|implies|includes|counts as).*\b(?:agree|consent|opt)\w*|(?:everyone|everybody|anyone|all) who (?:buys?|orders?|books?|signs? up|registers?).*\b(?:agrees?|consents?|(?:is|are) (?:opted|signed|enrolled)|gets?|receives?)|condition of (?:any )?(?:purchase|sale|booking|service|membership))\b/is;
/** In one sentence: that it denies this. */
export const NOT_A_CONDITION = /\b(?:not|never|no)\b[^.!?]{0,20}\bcondition of\b/i;
export const BOUGHT =
  /\b(?:(?:bought|purchased|rented|acquired|third[- ]party|partner(?:['’]s|s['’])?) (?:\w+ )?(?:lists?|leads?|contacts?|numbers?|databases?)|(?:lists?|leads?|contacts?|numbers?|databases?) (?:that |which )?(?:(?:we|were|was|are|is) )?(?:bought|purchased|rented|acquired)|(?:data|list) (?:broker|vendor|provider)s?)\b/gi;
