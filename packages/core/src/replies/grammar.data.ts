/**
 * The grammar of replies as data: keywords, courtesies, and patterns with the weight each carries. All are compared
 * with cleaned words: lower case, no accents, no apostrophes, a space at either end (see dress.ts).
 * source: 47 CFR 64.1200(a)(10); the carriers' keyword lists; written for this, measured by `npm run replies`.
 * checked: 2026-11-26
 */

/** Keywords by what they mean alone or among their like. */
export const KEYWORDS: Readonly<Record<string, 'stop' | 'start' | 'help' | 'yes' | undefined>> = Object.assign(
  Object.create(null) as object,
  {
    stop: 'stop', stopall: 'stop', unsubscribe: 'stop', cancel: 'stop', end: 'stop', quit: 'stop', revoke: 'stop', optout: 'stop',
    start: 'start', unstop: 'start',
    help: 'help', info: 'help', ayuda: 'help', informacion: 'help',
    yes: 'yes', yep: 'yes', yeah: 'yes', yup: 'yes', y: 'yes', si: 'yes',
  } as const,
);

/** Courtesies around a keyword that change nothing of it. */
export const FILLERS: ReadonlySet<string> = new Set(
  'please thanks thank you now sir maam hi hey hello ok just immediately asap already kindly all bro dude man lol ugh omg no nah nope por favor ya gracias reply everyone guys me need i more again necesito'.split(
    ' ',
  ),
);

/** Bare words to stop of other languages, cleaned. */
export const FOREIGN_STOPS: ReadonlySet<string> = new Set(
  [
    // Spanish
    'alto', 'basta', 'baja', 'parar', 'pare', 'paren', 'cancelar', 'detener', 'salir', 'terminar', 'anular', 'remover', 'quitar', 'desuscribir', 'basta ya', 'baja inmediata', 'para ya', 'no mas', 'suficiente', 'no molestar', 'no contactar',
    // French
    'arret', 'arreter', 'arretez', 'arretez sil vous plait', 'stopper', 'desabonner', 'se desabonner', 'desinscrire', 'desinscription', 'desabonnement', 'resilier', 'annuler', 'fin', 'plus de messages',
    // Portuguese
    'sair', 'cancele', 'descadastrar', 'desinscrever', 'encerrar', 'nao quero', 'nao enviar', 'chega',
    // German
    'stopp', 'stoppen', 'abmelden', 'abbestellen', 'aufhoren', 'aufhoeren', 'kundigen', 'kuendigen', 'ende', 'austragen', 'bitte stoppen', 'bitte abmelden', 'bitte aufhoren', 'keine nachrichten mehr',
    // Chinese
    '停止', '停', '退订', '退訂', '取消', '取消订阅', '取消訂閱', '不要', '拒收', '停發', '停发', '不要再发了', '不要再發了', '别发了', '別發了',
    // Vietnamese
    'dung', 'dung lai', 'ngung', 'ngung lai', 'huy', 'huy bo', 'tu choi', 'thoi', 'khong nhan nua', 'dung gui',
    // Tagalog
    'hinto', 'tigil', 'itigil', 'ihinto', 'tama na', 'tigil na', 'itigil na', 'ihinto na po', 'huwag na', 'ayoko na', 'alisin', 'alisin mo ako',
    // Korean
    '중지', '정지', '그만', '그만하세요', '수신거부', '수신 거부', '해지', '거부', '취소', '중단', '그만 보내세요', '스톱',
  ],
);

/** Short ways to say yes. */
export const YES_WORDS =
  /^(?:(?:hi|ok|oh|well|please) )?(?:yes|yep|yeah|yup|y|si|claro que si)(?: (?:yes|sure|please|thanks|thank you|sir|maam|ok|i agree|agreed|i do|of course|definitely|absolutely|sign me up|i want to join|id like to join|i would like that|id like that|to the texts|confirm|confirmed|claro|acepto|quiero|por favor|gracias|si|lets do it|count me in|i am in|im in|go ahead|to all|i would))*$/;

const GERUND =
  '(?:texting|messaging|contacting|sending|bothering|spamming|harassing|writing|calling|emailing|annoying|bugging|pestering|hounding|blowing up|soliciting|advertising|marketing|promoting|bombarding|flooding|stalking|blasting|trying to (?:reach|contact|text|sell)|text (?:me|us|this)|txt|getting|receiving)';
const BASE =
  '(?:text|message|contact|send|write|bother|spam|harass|call or text|text or call|call|solicit|hit me up|reach out|bug|annoy|pester|disturb|dm|advertise|market|blow up)';
const WHO =
  '(?:me|us|him|her|them|it|my (?:number|phone|cell|mobile|name|info|information|data|contact|details)|this (?:number|phone|cell|mobile|line|contact)|the number|our (?:number|phone)|number|these|those)';
const TEXTS = '(?:texts?|messages?|text messages?|msgs|texting|messaging|communications?|spam|contact|mail|subscriptions?|notifications from you)';
const LIST =
  '(?:lists?|mailing|texts?|messages?|database|records?|system|subscription|rotation|directory|file|contacts|phonebook|here|this|it|these|end)';
const TAIL =
  '(?: (?:it|this|that|please|now|already|thanks|thank|you|texting|sending|contacting|messaging|getting|receiving|me|us|these|those|right|immediately|for|good|ever|forever|all|man|bro|asap|ok|today|everything|yesterday|twice|times|time|once|before|and|still|here|i|beg|sir|maam|texts|messages|the|your))*';

export interface WishPattern {
  re: RegExp;
  /** Confidence that it is a wish to stop. */
  weight: number;
  /** It is one also where the sentence ends with a question mark ("can you stop texting me?"). */
  questionToo: boolean;
}
const w = (weight: number, source: string, questionToo = false): WishPattern => ({ re: new RegExp(source), weight, questionToo });

/** What a person asks for who wants no more texts, heaviest first within each kind. */
export const WISHES: readonly WishPattern[] = [
  // stop + doing it
  w(0.97, ` (?:stop|stopall|quit|cease|discontinue|halt|stopped|desist from) (?:(?:the|your|all|any|with|from|ever|please|always|constantly|damn|fucking|freaking) )*${GERUND}\\b`, true),
  w(0.95, ` (?:stop|stopall|quit|cease|end|discontinue|halt|kill) (?:(?:the|these|those|this|all|of|your|my|with|any|it|that|sending|damn|stupid|annoying|unwanted|more|bullshit|freaking|fucking) )*${TEXTS}\\b`, true),
  w(0.93, ` (?:stop|quit|end|cease) (?:it|this|that|these|those|them|everything|all|all of (?:it|this|these|them)|with (?:this|these|it|that)|me from)\\b(?! (?:summer|winter|week|morning|afternoon|evening|year|season|time|bus|boat|ferry|noise))`),
  w(0.92, ` (?:can|could|would|will|wont|cant|wouldnt|please) (?:you|u|yall|someone|somebody|ya|you guys|you people|they)(?: \\w+){0,2} (?:stop|quit)${TAIL} $`, true),
  w(0.9, ` (?:please|just|kindly|must|should|so|then|said|say|saying|to|texted|replied|reply|sent|typed|make|makes|it|this|these|them|texts|messages|omg|ugh|bro|dude|man|seriously|honestly|god|hey|hi|hello|thanks|you|no|nope|nah|welcome|and|yes|luck|but|enough|ok|me|want|lol|work|away|back|again|friend|sorry|text|texting|warning|notice|mas|request|message|respectfully|lets|stopped|damn|sick|mad) stop${TAIL} $`),
  w(0.88, ` (?:stop|unsubscribe)(?: stop| please| now| pls)+ `),
  w(0.9, ` (?:asked|told|begging|beg|tell|ask|telling|asking|need|want|wanted|wish|prefer|like|love|request|demand|expect|order)(?: you| u| yall| them| these| this| it| for)?(?: \\w+){0,3} to (?:stop\\b(?! (?:by|in|at|over|smoking|drinking))|(?:end|cease|quit) (?:these|this|all|the texts|the messages|texts|messages|it|texting|contact))`),
  w(0.9, ` (?:said|texted|replied|sent|typed|say|wrote|answered|responded)(?: with| the word)? stop\\b`),
  w(0.84, `^ (?:stop|stopall)(?: \\w+){1,14} $`),
  w(0.84, `^ (?:unsubscribe|optout)(?: \\w+){1,10} $`),
  // do not
  w(0.97, ` (?:dont|do not|do nt|never|no longer|dont ever|must not|should not|may not|shall not|refrain from|please not)(?: (?:ever|please|you|dare|keep|again|even|need|try|want you|want u|to))* ${BASE}\\b`),
  w(0.9, ` (?:dont|do not) (?:you dare|even think|keep)(?: \\w+){0,2} ${BASE.slice(0, -1)}|texting|messaging|sending)`),
  w(0.96, ` no more (?:of )?(?:(?:these|this|your|any|damn|stupid|of|more|freaking|annoying|random) )*(?:texts?|messages?|text messages?|texting|messaging|communications?|contact|spam|notifications)\\b`),
  w(0.82, `^ (?:(?:please|ok|no|thanks|enough) )*no more(?: (?:please|thanks|thank|you|of|these|this|ever|for|me|ok|texting|okay|it|them|now|more))* $`),
  w(0.9, `^ (?:please )?no (?:texts?|messages|texting|communication|communications|solicitations?|soliciting|contact|spam)(?: (?:to|for|on|this|my|phone|number|cell|line|please|thanks|me|anymore|allowed|wanted))* $`),
  w(0.9, ` (?:do|does|will) not accept (?:solicitations?|texts?|messages?)\\b| not authorized to (?:text|contact|message)\\b| no authorization to\\b| not accept text`),
  w(0.85, `^ (?:(?:ok|thats|that|is|please|its) )*enough(?: (?:already|now|please|is|enough|of|this|it|thanks))* $`),
  w(0.88, ` enough (?:with|of) (?:the|these|this|your|all|it|already|texting)\\b`),
  // remove me
  w(0.95, `(?<! i| we| always| often| never| to not) (?:remove|delete|erase|unlist|unenroll|unregister|deregister|purge|deactivate|forget about|forget|lose|drop|ditch|scrub|exclude|removing|deleting|unsubscribing|unsubscribe|disenroll|omit|withdraw|block) ${WHO}\\b(?! (?:ticket|umbrella|bag|order|photo|booking|reservation))`, true),
  w(0.95, ` (?:take|get|scratch|strike|pull|want|keep|drop|leave|cut|taken|cross|wipe|clear|removed?|delete|deleted|erase) (?:(?:me|us|him|her|them|it|my|this|our|the|name|number|phone|cell|info|information|mobile|wife|husband|son|daughter|mom|dad|kid|kids|to|be|numbers|contact|off|out|please|of|completely|right) )*(?:off|out|from|of)(?: (?:of|from))* (?:(?:your|the|this|that|these|all|any|ur|my|yalls|text|texting|contact|contacts|mailing|message|sms|call|calling|email|phone|distribution|stupid|damn|damned) )*${LIST}\\b`, true),
  w(0.93, `^ (?:(?:please|just|kindly|ok|hi|hello|can|could|would|you|u) )*(?:take|get|drop) (?:me|us|him|her|my number|this number|it|my name) off(?: (?:please|thanks|now|of|this|these|here|it|ok|asap|list|thank|you))* $`, true),
  w(0.9, ` (?:be|being|get|been|like to be|wish to be|want to be|need to be|asked to be|asking to be) (?:removed|taken off|deleted|unsubscribed|taken out|dropped|unlisted|opted out|left alone)\\b`, true),
  w(0.93, ` appreciate being removed| (?:third|second|final|last|another) request to be| take off my (?:number|name|phone)| take (?:my|this) (?:number|name|phone) off\\b| off (?:the|your|this|ur|yalls) (?:text |mailing |damn |stupid )?list\\b`, true),
  w(0.86, ` (?:please|kindly|just|pls) (?:remove|delete|unsubscribe|disconnect|take (?:it|me|us|this|him|her|them|mine) (?:off|out))(?: (?:it|this|me|us|him|her|them|from|your|the|list|lists|system|records|now|thanks|thank|you|asap|number|immediately))* $| take (?:it|me|us|this|him|her|them) off(?: please| now| thanks)* $`, true),
  w(0.85, ` (?:i |just )?want (?:off|out)\\b(?! of town| for)`),
  w(0.8, `^ (?:(?:please|just|ok) )*(?:remove|delete|off|remove me|out)(?: (?:please|now|thanks|asap|thank|you))* $`),
  w(0.94, ` (?:unsubscribe|unsubscribing|unsubscribed|unsub|optout|opting out|opted out|opt (?:me|us|him|her|this number|my number) out|opt out)\\b`),
  // no wish for them
  w(0.92, ` (?:dont|do not|didnt|no longer|never|doesnt|not) (?:want|wish|need|care|like|desire|wanna|appreciate|wanted|asked?)(?: (?!ticket|window)\\w+){0,5} (?:texts?|texted|texting|messages?|messaged|contacted|spam|spammed|hear from (?:you|yall|u|this)|bothered|communications?|solicitations?|solicited|robo\\w*)\\b`, true),
  w(0.88, ` (?:dont|do not|no longer|never) (?:want|need|wish|like|wanna)(?: (?:to|get|receive|have|be|getting|receiving|see|any|more|of))* (?:these|this|them|it|anything|any|any more|anymore|those|your (?:texts|messages|crap|stuff|junk|service|services))(?: (?:anymore|please|thanks|texts?|messages?|at all|any more|ever|again|from you|from u|now|stuff|either|things?|here|thank you))* $`),
  w(0.8, `^ (?:(?:i|we|please|im|just|really) )*(?:dont|do not) want(?: (?:any|it|them|this|these|more|anymore|to|please|thanks|none|no|of))* $`),
  w(0.86, ` no longer (?:wish|want|need|require|desire|care)\\b(?! (?:a|the) (?:ticket|seat|table|cabin|booking))`),
  w(0.84, ` (?:not|no longer|never|isnt|aint|arent|uninterested|nt) (?:at all |really |even |that )?(?:interested|intrested|intersted|interest)(?: (?:anymore|thanks|thank|you|at|all|in|this|these|it|texts|your|any|please|sorry|ty|so|ever|remove|me|longer|now|whatsoever|company|business|product|service|services|products|messages|receiving|getting|being|on|list|the|contacted|anything|what|yall|offer|sell|are|selling|offering))* $| uninterested\\b`),
  w(0.82, ` no interest(?: (?:in|anymore|thanks|at|all|this|these|your|texts|any|whatsoever|sorry))* $`),
  w(0.82, ` (?:done|finished|fed up|sick|tired|sick and tired|over it|had enough) (?:with|of) (?:these|this|your|the|getting|all|yall|you|u)\\b`),
  w(0.84, ` count me out\\b| not for me\\b| take a hike\\b`),
  w(0.77, `^ (?:im|i am) out $`),
  // no consent
  w(0.9, ` (?:never|didnt|did not|havent|dont remember|dont recall|do not remember|do not recall) (?:ever )?(?:sign(?:ed|ing)?(?: \\w+)? up|signup|signed on|subscribed?|subscribing|agree[ds]?|opt(?:ed|ing)? in|optin|consent(?:ed)?|request(?:ed)?|ask(?:ed)? for (?:this|these|it|texts|any)|authoriz\\w+|authoris\\w+|register(?:ed)?|enroll(?:ed)?|join(?:ed)?)\\b(?! for the| the class| the workshop)`),
  w(0.93, ` (?:dont|do not|didnt|did not|never|without|no)(?: (?:have|had|give|gave|given|granted|got|you|u|yall|anyone|anybody))* (?:my |any |the |a )?(?:permission|consent|authorization|approval)\\b`),
  w(0.9, ` (?:never|didnt|did not) (?:give|gave|given)(?: you| u| yall| anyone| them| out)?(?: \\w+)? (?:my|this) (?:number|phone|cell|info)\\b`),
  w(0.97, ` (?:revok\\w+|withdraw\\w*|withdrew|retract\\w*|rescind\\w*)(?: \\w+){0,3} (?:consent|permission|authorization|approval|optin|opt in)\\b| (?:consent|permission) (?:is |has been |was )?(?:hereby )?(?:withdrawn|revoked)\\b`),
  w(0.92, ` (?:do not|dont|never) (?:consent|authorize|authorise|permit|agree) (?:to|this|these|you|any|texts)\\b`),
  w(0.85, ` tcpa\\b| do not call (?:list|registry|register)\\b| dnc (?:list|registry)\\b| (?:the )?fcc\\b| (?:the )?ftc\\b| attorney general\\b`),
  w(0.83, ` legal action\\b| (?:ill|i will|going to|gonna|we will|well|can|could|and) sue\\b| my (?:lawyer|attorney)\\b| pressing charges\\b| call the (?:cops|police)\\b`),
  w(0.85, ` (?:want|wants?|need) (?:nothing|none|no part|no more|no)(?: \\w+){0,3} (?:with|of|from) (?:you|yall|u|your|this|it|these|them)\\b| (?:dont|do not) want (?:nothing|none|any(?:thing)?|any part|no part|no more)(?: \\w+){0,2} (?:of|from) (?:this|it|you|yall|u|your|these)\\b| nothing to do with (?:you|your|this|yall)\\b`),
  w(0.85, ` (?:rather|prefer|would|could|can|please|should|kindly)(?: \\w+){0,2} not (?:to )?(?:be |get |receive |have )?(?:texted|text|texting|messaged?|contact(?:ed)?|send|get|receive|these|this|any|bothered|bother)\\b`, true),
  w(0.87, ` (?:no|zero|any) (?:further|additional|other|future|more|unsolicited)(?: \\w+){0,2} (?:texts?|messages?|contact|communications?|texting|sms|emails|solicitations?)\\b| without (?:my|any) (?:consent|permission)\\b`),
  w(0.84, ` (?:not|dont|do not|never|nobody|nothing|refrain|abstain|desist|cease)(?: (?!yet|got|gotten|came|come|see|saw|find|found|problem|worries|reception|signal|about|have|had|did|when|if|until|before|after|my (?:text|message)|your (?:text|message)|know|think|mind|understand|why|forget|hesitate|need to|sure|only|getting|receiving|receive|get)\\w+){0,3} (?:texts|texting|text me|text this|text us|messaging|message me|message us|contact me|contact this|contact us|sms|communicate|solicit\\w*|spam\\w*|reach out|reply to this)\\b`),
  w(0.9, ` (?:get rid of|disregard|discard|wipe|trash|toss|pull|yank|expunge|block|remove|delete|lose|take) (?:my|this|our|his|her|the) (?:number|name|phone|cell|info|information|contact|data|file|record)s?\\b| (?:take|pull|get) (?:my|our|his|her) name (?:out|off)\\b| opt (?:me|us|him|her|this) out\\b`, true),
  w(0.86, `^ (?:(?:im|i am|i|please|am|requesting|request|number|for|list|the|from|want|my|immediate|this|a|would like|like|id|need|your|demand|asking|to) )*(?:removal|opt out|deletion|unsubscription)\\b| (?:request|requesting|demand|demanding|want|need|requested|demanded)(?: \\w+){0,2} (?:removal|deletion)\\b`),
  w(0.84, `^ (?:please )?(?:removed?|take off|off|taken off|remove from|out of|delete from)(?: (?:the|your|this|my|list|lists|please|now|number|thanks|asap))* $`),
  w(0.86, `^ (?:please |kindly )?(?:discontinue|deactivate|terminate|desist|disenroll|disable|unlist|blacklist|delist)(?: (?:service|services|number|please|account|texts|my|now|immediately|me|this|these|all|contact|subscription))* $`),
  w(0.84, `^ (?:blocked|blocking|reported|reporting)(?: (?:and|blocked|reported|you|u|this|number|spam|as|bye|now|deleted|blocking|reporting))* $`),
  w(0.87, ` (?:spamming|harassing|stalking|pestering|bombarding|hounding|robo ?text\\w*) (?:me|us|my|people|this|everyone)\\b`),
  w(0.82, ` (?:attorney|lawyer|lawsuit|suing|small claims|legal (?:counsel|department|team|proceedings))\\b(?! (?:is|was|said|appointment|friend))`),
  w(0.93, ` (?:stop|cancel|end|no more|unsubscribe from|unsubscribe me from|turn off|quit|discontinue)(?: (?:the|your|these|all|my|sending|me|of|this|any|with))* (?:alerts|reminders|notifications|updates|notices|offers|promos|promotions|ads|deals|coupons|newsletters?|blasts)\\b`),
  w(0.87, ` (?:can|could) we (?:please )?stop (?:this|it|these|the texts|texting|the messages)\\b| (?:can|could|would|will) (?:this|it|these|the texts|the messages) (?:please )?stop\\b`, true),
  w(0.85, ` sold (?:the|our|my) (?:business|company|shop|store|restaurant|practice)\\b| (?:changed|switched|got) (?:her|his|their) (?:number|phone)\\b| (?:used to be|was) (?:my|his|her|their|an?|[a-z]+s)(?: \\w+)? (?:number|phone)\\b| (?:number|phone|line) (?:reassigned|recycled|transferred)\\b| not my (?:number|phone|account|name)(?: anymore)?\\b| (?:dont|do not) know (?:that|this|any such|the) person\\b`),
  w(0.62, `^ (?:sorry )?not (?!yet|now|today|tonight|tomorrow|sure|bad|really|really|me|at|for|in|a|an|the|my|much|that|this|too|so|necessarily|exactly|quite|working|coming|going|yes|interested|really|necessary|possible|available|home|good|great|ok|on|if|until|till|even|only|just|all|funny|nice|cool|worth|happening|gonna|feeling|well|ready|there|here|open|you|it|true|fair|long|many|anymore|raining|urgent|required|needed|applicable|far|close|busy|late|early)[a-z]{3,}(?: here| sorry)? $`),
  // somebody else
  w(0.87, ` (?:have|got|texting|texted|reached|with|messaging|calling|contacting|has|is|its|dialed|u got|be) the wrong\\b(?! (?:boat|pier|date|time|day|quay|size|seat|class|order|address|ticket|bus|price))| wrong (?:number|person|people|contact|guy|lady|phone|recipient|party|dude)\\b(?! (?:of|on|for|in)\\b)`),
  w(0.88, ` (?:not|isnt|no longer|never was|wasnt|aint|is not) (?:my |the )?(?:[a-z]+s|his|her|their|hers|theirs|right|correct) (?:number|phone|cell|mobile|line)\\b(?! (?:to|for))`),
  w(0.87, ` (?:person|owner|one|guy|woman|man|lady) you(?: are|re)? (?:looking for|texting|trying|want|wanted|after)\\b| not (?:the|that) (?:person|owner|one|guy|lady|man|woman)\\b`),
  w(0.79, ` (?:this|that) (?:is not|isnt|aint|is no longer) (?!good|fair|working|spam|a|an|the|ok|right|funny|true|my|what|how|it|about|for|on|in|at|an?|correct|cool|nice|enough|urgent|possible|helpful|clear|very|so|too|easy|happening|due|open|available|acceptable|where|why|who|when|me|us|you|your|his|her|their)[a-z]{2,} $`),
  w(0.76, `^ (?:sorry |no |hi )?(?:im|i am|its) not (?!sure|going|able|home|there|coming|ready|in|at|a|an|the|here|on|interested|feeling|available|worried|mad|kidding|seeing|certain|free|well|happy|too|so|that|very|really|late|done|finished|from|good|allowed|driving|working|your|using|getting|buying|paying|hungry|angry|alone|asking|complaining|joking|bad|far|near|familiar|picky|busy|early|fast|off|out|up|great|fond|impressed|surprised|with|around|today|tomorrow|yet|ok|open|raining|cold|fun|fair|much|clear|you|it|him|me|quite)[a-z]{2,} $`),
  w(0.87, ` (?:no longer|doesnt|does not|dont|do not|never|not)(?: (?:have|has|had|own|owns|use|uses|carry|carries|answer|belongs?|this|that|the|to|his|her|my|same|him|her|any|got|is|with|on|at|here|there|a))* (?:number|phone|cell|line)\\b(?! (?:yet|case|charger|with me|right now))(?<!(?:have|got|know) (?:your|the|a|her|his|their) (?:number|phone|cell|line))`),
  w(0.86, ` (?:no longer|doesnt|does not|dont|do not|never) (?:live|lives|living|work|works|working|reside|resides|stay|stays|shop|bank|fly|ride|bike|train|study|go|come|do business|employed|associated|affiliated|belong)(?: (?:to|at|for|with|in|on|this|that|the|here|there|him|her|us|you|yall|them|company|store|address|your|\\w+))? ?(?:here|there|anymore|any longer|any more|us|you|company)\\b`),
  w(0.86, ` (?:nobody|no one|noone|no such person|no body|not anyone|there isnt (?:any|an|a) \\w+|no \\w+) (?:(?:here|lives|at|this|number|is|works|has|called) )*(?:by that name|by this name|by the name|named|with that name|called that|of that name)\\b| no such person\\b| dont know (?:any|anyone|anybody|a|an|this|that) (?:named |called |by |person|[a-z]+ $)`),
  w(0.78, ` there(?:s| is| aint| isnt) no [a-z]+ (?:here|at this number|at this phone|living here|in this (?:house|family))\\b(?<!there is no (?:wifi|parking|seat|table|food|coffee|power|water|one|room|signal|dock|boat) here)`),
  w(0.85, ` (?:new|different|another) owner\\b| belongs? to (?:someone|somebody|another|a different)\\b| (?:just|recently) (?:got|received|bought|acquired|changed to|switched to) (?:this|a new) (?:number|phone|line|cell)\\b| new number not (?:her|him|hers|his)\\b| number (?:was|has been|is|got) (?:reassigned|recycled|changed hands|given to)\\b| has changed hands\\b`),
  w(0.88, ` (?:passed away|deceased|is dead|shes dead|hes dead|theyre dead|has died|is no longer (?:with us|alive|living)|has passed(?! the| by| through)|died (?:in|last|on|this|two|years?|recently|of|yesterday|a)|(?:husband|wife|mother|mom|mum|father|dad|son|daughter|brother|sister|uncle|aunt|grand\\w+|he|she|owner|friend|person you are texting|partner) (?:just |has |recently |sadly )?(?:died|passed(?! the| by| a| his| her| my| out| it| that| you| me| us| him| them| over)))\\b`),
  w(0.84, ` (?:business|company|shop|restaurant|bakery|salon|practice|firm|we)(?: is| has| are| have| was| were| been| now| just| permanently)* (?:closed|shut down|out of business|dissolved|gone|shuttered|defunct|bankrupt)(?: down| permanently| for good| last \\w+| in \\w+| the \\w+| our \\w+| up| now| forever| years ago)* $| out of business\\b| closed (?:the|our|my|down the|down our) (?:business|company|shop|store|restaurant|practice)\\b| (?:closed|shut) (?:down )?(?:permanently|for good)\\b`),
  w(0.87, ` (?:no longer|not|arent|never been|never was|never were|aint|isnt|wasnt|quit being|stopped being)(?: (?:a|your|an|longer|current|been|even|one|of|yours|the))* (?:customers?|clients?|members?|subscribers?|patients?|students?|guests?|buyers?|employees?|volunteers?)\\b`),
  w(0.86, ` no need for (?:these|this|them|texts|your|any|messages|it)\\b| (?:dont|do not|no longer|didnt) need (?:these|this|them|your (?:texts|messages|service|services|help)|texts|messages|the (?:texts|messages)|any (?:texts|messages|more))\\b`),
  // anger, threats
  w(0.93, ` leave (?:me|us|my phone|him|her|them|this number|my (?:wife|husband|mom|kids?|family|mother))(?: \\w+){0,3} alone\\b| leave me be\\b`),
  w(0.86, `^ (?:(?:please|just|now|omg|ugh|no|hey|ok|dude|bro|seriously) )*(?:go away|get lost|buzz off|beat it|shut up|shut it|knock it off|cut it out|f off|fuck off|fuck you|fck off|screw you|screw off|piss off|bug off|eff off|gtfo|stfu|foh|quit it|lay off|back off|get a life|go to hell|get out|get bent|scram|kick rocks|take a hike|drop dead)(?: (?!for|on|to the|this weekend|next|from|mode)\\w+){0,5} $`),
  w(0.83, ` (?:fuck|screw|piss|bugger|eff|fck) (?:off|you|u|yourself|yall)\\b| go to hell\\b`),
  w(0.85, ` (?:block|blocking|blocked|blacklist\\w*) (?:you|this number|ur number|u|yall|your number|this sender|these texts|this)\\b| (?:you are|youre|ur|you have been|consider yourself) blocked\\b`),
  w(0.86, ` (?:report|reporting|reported) (?:you|this|u|as (?:spam|junk)|it|yall|your (?:number|company|business)|these|to the)\\b(?! lost| bag)`),
  w(0.86, `^ (?:(?:this|is|its|thats|that|total|pure|just|more|such|complete|youre|you|are|obvious|junk|and|all|hate|the|stupid|another) )*(?:spam|spammer|spammers|scam|scammer|scammers|junk)(?: (?:text|texts|message|alert|bot|again|go|away|much|mail|ers))* $`),
  w(0.87, ` (?:is|are|its|consider(?: this)?) (?:pure |just |total |considered |basically |illegal )?(?:spam|harassment|unwanted|unsolicited)\\b| harass(?:ing|ment|ed)\\b| unwanted (?:texts?|messages?)\\b| unsolicited\\b`),
  w(0.9, ` (?:turn|shut|switch|cut) (?:off )?(?:these|this|those|the texts|the text messages|text messages|texts|messages|my texts|all texts|sms|your texts|all (?:of )?(?:this|these|messages))(?: (?:texts|messages|off|please|down|thing|number))*\\b`),
  w(0.9, ` (?:disable|deactivate|suspend|block|discontinue|terminate) (?:these|all|texts?|this (?:number|service|subscription)|messages?|sms|my (?:number|texts|subscription|account|service)|the (?:texts|service|messages))\\b`),
  w(0.85, ` do not disturb\\b| dont disturb\\b`),
  w(0.93, ` cancel (?:(?:the|my|all|these|this|your|our|any|of|please|everything|text|sms|messages?|membership|weekly|daily|future|further|incoming) )*(?:subscription|subscriptions|texts?|messages?|sms|notifications|text alerts|alerts|reminders|updates|offers|messaging|texting|membership texts|service texts|enrollment|opt in)\\b`),
  w(0.85, `^ (?:please |just )?cancel (?:me|us|everything|all|it all|all of it|my number|this number)\\b`),
  w(0.6, `^ (?:please )?cancel(?: (?:this|it|that|these|them))(?: please| now| thanks)* $`),
  w(0.85, `^ (?:please |just |kindly )?(?:cease|desist|discontinue|cease and desist)(?: (?:please|now|immediately|all|and|desist|contact|at|once|texts|this|these|messages))* $| cease and desist\\b`),
  // Spanish
  w(0.95, ` (?:no|ya no|nunca|jamas|ni|tampoco)(?: (?:me|nos|le|les|lo|mas|vuelvan|vuelva|vuelvas|a|quiero|queremos|deseo|que|sigan|siga|sigas|ustedes|por|favor|volver|nada|te|se))* (?:mand(?:en|e|es|ar\\w*|ando)|envi(?:en|e|es|ar\\w*|ando|a|an)|escrib(?:an|a|as|ir\\w*|iendo)|tex?te(?:en|e|es|ar\\w*)|contact(?:en|e|es|ar\\w*)|molest(?:en|e|es|ar\\w*)|llam(?:en|e|es|ar\\w*)|jod(?:an|as|a|er)|busquen|hable(?:n|s)|hablen|insist(?:an|a|as)|mandemen|mandarme)\\b`),
  w(0.95, ` (?:dej(?:en|e|a|ar|es|aran|ara|enme|eme|ame)|par(?:en|e|a|ar|aran|ara)|ces(?:en|e|ar)|termin(?:en|e|ar)) (?:ya )?(?:con |de )(?:mand|envi|escrib|molest|text|contact|llam|jod|hacer|fregar|chingar|fastidiar|insist|esto|estos|los mensajes|tantos)\\w*`, true),
  w(0.92, ` (?:no|ya no|tampoco) (?:quiero|queremos|deseo|deseamos|necesito|necesitamos|requiero|pienso)(?: (?!ventana|cebolla|boleto)\\w+){0,5} (?:mensajes?|textos?|mensajitos|nada (?:de ustedes|de esto|mas|suyo)|nada|contacten|escriban|manden|envien|molesten|de ustedes|saber de ustedes|msjs?|comunicaciones|spam)\\b`),
  w(0.87, `^ (?:(?:por|favor|yo|ya|hola|gracias|pero) )*no (?:quiero|deseo|queremos)(?: (?:mas|nada|esto|estos|gracias|ya|eso|recibir|recibirlos|recibirlo|por|favor|saber|nada))* $`),
  w(0.96, ` (?:no|ni un|ya no|sin) (?:mas|otro)(?: \\w+){0,2} (?:mensajes?|textos?|msjs?|correos|spam)\\b`),
  w(0.9, `^ (?:(?:ya|por|favor|estuvo|bueno|basta|hola|please) )*no mas(?: (?:por|favor|gracias|ya|please|basta|thanks|nunca))* $`),
  w(0.95, ` (?:dar|darme|darnos|darse|den|denme|dennos|deme|denos|dame|danos|dese|doy|me den|me de|quiero|quisiera|solicito|pido|necesito|favor|la|mi|tramitar)(?: (?:de|la|mi|dar|darme|me|una|su|que|den|por|favor|inmediatamente))* baja\\b(?! temporada)`),
  w(0.95, ` (?:cancel|anul|termin|suspend|suspenda|interrump|deten|desactiv|elimin|bloque|quit)\\w*(?: (?:la|mi|los|las|estos|esta|este|todos|todas|sus|el|su|de|mis|ya|con|envio))* (?:suscripcion|suscripciones|mensajes?|textos?|esto|msjs?|servicio)\\b`, true),
  w(0.85, ` (?:apagu|apag|par|deteng|deten|deje|ces)\\w* (?:esto|estos|los mensajes|los textos|ya|por favor|eso|inmediatamente|con esto)\\b(?! en)`),
  w(0.95, ` (?:quit|saqu|sac|borr|elimin|remuev|remov|retir|olvid|pierd|descart|excluy)\\w*(?: (?:me|nos|mi|el|la|este|de|su|tu|esta|esa|mis|ese|por|favor|ya|numero|telefono|celular|nombre|datos|su))* (?:lista|listas|base de datos|base|registros?|sistema|numero|telefono|celular|contactos|grupo|archivos?)\\b`, true),
  w(0.92, ` (?:quiten|quite|quita|quitar|saquen|saque|saca|sacar|borren|borre|borra|borrar|eliminen|elimine|elimina|eliminar|remuevan|remueva|remover|retiren|retire|desuscriban|desuscriba|desubscriban|desuscribir|desubscribir|desinscriban|den)(?:me|nos)\\b(?! (?:la|el|los|las|un|una) )`, true),
  w(0.93, ` (?:desu(?:s|bs)crib\\w*|desinscrib\\w*|desafili\\w*)\\b`),
  w(0.85, ` (?:no|ya no|nada) (?:me |nos )?(?:estoy |estamos |esta )?(?:interes(?:a|an|ada|ado|adas|ados))(?: (?:gracias|por|favor|esto|nada|mas|ya|para|lo|que|venden|ofrecen|su|servicio|sus|servicios|mensajes|en|absoluto|recibir|estos|textos))* $`),
  w(0.9, ` (?:nunca|jamas|yo no|no)(?: (?:me|les|le|los|nos|te|yo|he|recuerdo))* (?:suscrib(?:i|ido|imos|irme)|registr(?:e|ado|amos|arme)|inscrib(?:i|ido|irme)|autori[cz](?:e|o|ado)|ped(?:i|ido) (?:esto|estos|nada|mensajes|sus|que)|acept(?:e|ado)|solicit(?:e|ado))\\b`),
  w(0.92, ` (?:no|nunca|sin)(?: (?:di|doy|dimos|tienen|tiene|tienes|les|le|di|mi|he|dado|con|cuentan|el|te))* (?:permiso|autorizacion|consentimiento)\\b| no les di mi numero\\b| no autorizo\\b`),
  w(0.97, ` (?:retiro|revoco|cancelo|anulo|revocar|retirar) (?:mi|el|todo) (?:consentimiento|permiso|autorizacion)\\b`),
  w(0.88, ` (?:numero|persona|telefono|celular) (?:es )?(?:equivocad[oa]|incorrect[oa]|erroneo)\\b(?! en (?:el|la|mi))| (?:se|te) (?:equivoc\\w+|confund\\w+) (?:de|con el|con la) (?:numero|persona)\\b| equivocad[oa]s? de (?:numero|persona)\\b`),
  w(0.87, ` (?:numero|telefono|celular) (?:ya )?no (?:es|pertenece|le pertenece)\\b| ya no (?:tiene|usa|ocupa|es dueno de|es dueña de) (?:este|ese|el) (?:numero|telefono|celular)\\b| no es (?:el|su|mi) (?:numero|telefono) de\\b| cambio de dueno\\b`),
  w(0.78, ` no soy (?!bueno|buena|malo|mala|de|el|la|un|una|tan|muy|capaz|yo|tu|su|mi|experto|experta|fan|alergico|alergica|vegano|vegana)[a-z]+(?: \\w+)? $| no soy (?:esa|la|el) (?:persona|que)\\b`),
  w(0.86, ` (?:no|ya no|ninguna?|nadie)(?: (?:vive|hay|trabaja|existe|conozco|conocemos|se|llama|aqui|a|nadie|ninguna?|alguien|persona))* (?:con ese nombre|con este nombre|llamad[oa]|asi aqui|que se llame)\\b| ya no (?:vive|trabaja|labora|esta) (?:aqui|ahi|alli|con nosotros|en)\\b| ya no viv(?:o|imos) (?:ahi|alli|aqui|en)\\b| (?:aqui )?no vive (?:ningun|ninguna|nadie|aqui)\\b`),
  w(0.87, ` (?:fallecio|ha fallecido|falleci\\w+|murio(?! (?:mi|el|la) (?:telefono|celular|bateria|carro|coche))|ya murio|esta muert[oa]|descansa en paz|difunt[oa])\\b`),
  w(0.83, ` (?:negocio|empresa|tienda|restaurante|compania|local)(?: ya)?(?: se)? (?:cerro|esta cerrad[oa]|quebro|no existe)\\b| (?:cerramos|cerre|cerraron) (?:el|la|nuestro|nuestra|mi) (?:negocio|empresa|tienda|restaurante)\\b`),
  w(0.87, ` (?:ya )?no (?:soy|somos|es)(?: mas)?(?: su| un| una)? (?:clientes?|client[ea]s?|miembros?|soci[oa]s?|usuari[oa]s?|alumn[oa]s?)\\b`),
  w(0.88, ` ya no (?:los|las|lo|la) (?:necesito|quiero|necesitamos|requiero)\\b| no (?:necesito|necesitamos)(?: mas| estos| sus| recibir)* (?:mensajes?|textos?|esto)\\b`),
  w(0.93, ` dej\\w*(?: de)? (?:en paz|tranquil[oa]s?)\\b`),
  w(0.85, ` (?:vayanse|larguense|callense|larguese|larg(?:a|u)\\w*|no jod\\w+|vayan a la|vete|chinguen|a la verga|dejen de joder|ya chole|que fastidio)\\b`),
  w(0.86, ` (?:es|son|como|puro) (?:puro |un )?(?:spam|acoso|hostigamiento|basura)\\b| spam\\b(?= por favor| ya| basta)| (?:voy|vamos) a (?:reportar|denunciar|bloquear|demandar)(?:los|las|lo|la|te|les)?\\b(?! (?:un|una|mi|el|la|que))| (?:los|las|lo|te|les) (?:voy|vamos|reporto|denuncio|bloqueo|bloquee|reporte)(?: a)?(?: (?:reportar|denunciar|bloquear|demandar))?\\b(?= | $)(?<= (?:los|las|lo|te|les) (?:reporto|denuncio|bloqueo|bloquee|reporte)| (?:reportar|denunciar|bloquear|demandar))`),
  w(0.92, ` (?:dije|dijimos|pedi|pedimos|he dicho|he pedido|pido|digo|decir|decirles|repito|suplico|ruego|quiero|exijo|favor|necesito)(?: (?:que|de|ya|les|por|favor|tres|mil|veces|a|ustedes))* (?:paren|pararan|pare|parar|basta|alto|stop|no mas|cesen|dejen de)\\b`),
  w(0.93, ` (?:quiero|quisiera|deseo|necesito|me gustaria) (?:salir|salirme|quitarme|borrarme|eliminarme|que me (?:quiten|saquen|borren|eliminen|den de baja|dejen))\\b(?! (?:a|el|tarde|temprano|manana))| favor de (?:no|quitar\\w*|borrar\\w*|eliminar\\w*|sacar\\w*|dejar|parar|cancelar (?:los|mi suscripcion|estos))\\b`),
  w(0.9, ` fuera de (?:la|su|esta) lista\\b| no (?:mandar|enviar|escribir|contactar|molestar|llamar)(?: mas| nada| por favor)?\\b`),
  w(0.86, `^ (?:(?:ya|ok|bueno|por|favor) )*(?:fue |es |estuvo |esta )?(?:suficiente|bueno ya|basta|alto|paren|pare|para ya|parenle|parale|ya estuvo|ya basta)(?: (?:ya|por|favor|no|mas|con|esto|gracias|please|los|mensajes|de|textos|tantos))* $`),
  w(0.85, ` (?:basta|suficiente|harto|harta|cansad[oa]) (?:de|con) (?:los|tantos|estos|sus|tus|mensajes|textos|esto|recibir|que)\\b`),
  w(0.92, ` (?:quiero|quisiera|deseo|necesito|me gustaria|prefiero) (?:dejar de recibir|no recibir|que dejen|que paren|que ya no)\\b| dejar de recibir (?:mensajes|textos|esto|estos|sus)\\b| prefiero no (?:recibir|que)\\b| no me gusta recibir\\b`),
  w(0.84, ` (?:esta|este|ese|eso) (?:ya )?no es (?:maria|mi (?:numero|telefono|celular)|el numero|la persona|[a-z]+ $)| ya no es mi (?:numero|telefono|celular)\\b| no conozco (?:a )?(?:esa|esta|ninguna|ese|nadie|a)\\b| (?:deje|dejamos) de ser client\\w+| no (?:fastidi\\w+|chinguen|insistan|friegu\\w+)\\b`),
  w(0.62, `^ (?:(?:yo|hola|por|favor|ya|solo) )*(?:quiero|quisiera|deseo|necesito) (?:cancelar|anular|salir)(?: (?:por|favor|ya|gracias))* $`),
  // others, within a sentence
  w(0.95, `不要(?:再)?(?:发|發|联系|聯繫|发送)|别(?:再)?(?:发|联系)|退[订訂]|取消(?:订阅|訂閱)|停止(?:发送|發送)`),
  w(0.93, ` (?:arretez|cessez|ne (?:me |m)?(?:envoyez|ecrivez|contactez) plus|plus de (?:sms|messages)|desabonnez|retirez moi|pare de (?:mandar|enviar)|parem de|nao (?:me )?(?:mande|envie|quero (?:mais|receber))|keine (?:sms|nachrichten)(?: mehr)?|nicht mehr (?:schreiben|senden)|horen sie auf|bitte abmelden)\\b`),
];

/** Words in which a stop word means something else; taken out before wishes are looked for. */
export const HARMLESS = new RegExp(
  [
    ` (?:bus|ferry|next|last|first|pit|full|non|train|tram|boat|truck|rest|short|one|two|three|each|every|which|what|a|my|another|door|shuttle|harbou?r|quay|pier|final|same|wrong|right|subway|water|whistle|trolley|the next|the last|lunch|fuel|per) stops?(?= )`,
    ` the stop(?= (?:is|was|at|near|by|on|in|sign|for|before|after|closest|where|with|and) )`,
    ` stops (?=at|near|by|in|here|there|running|serving|raining|for|on)`,
    ` stop(?:s|ped|ping)? (?:by|in|at(?! once)|over|off|for(?! good| ever| now| the love| christ| gods)|near|there|along|outside|and (?:see|get|pick|look|think|grab|shop|say|talk|visit)|the (?:boat|car|bus|presses|bridge|works|sale|early|new|evening|rain|music|ferry|train|construction|class|car|world|clock|bleeding|leak|\\d+\\w*)|sign|light|payment|orders?|watch|motion|loss|on (?:mill|main|the way|my way|saturday|sunday|monday|friday|third|first)|worrying|apologi[sz]ing|being|thinking|laughing|smiling|crying|raining|snowing|smoking|drinking|eating|lifting|working|running|serving|charging|impressing|doing what|making|complaining|talking|growing|believing|loving|me if you|short|and think)(?= )`,
    ` (?:boat|ferry|bus|watch|clock|car|engine|train|rain|snow|music|we|they|fog|wind|heart|he|she|it) stopped(?= )`,
    ` (?:cant|cannot|couldnt|wont|wouldnt|didnt|doesnt|shouldnt|havent|not going to|will not|could not|can not|would not|did not|does not) stop(?:ped|ping)?(?= (?!texting|messaging|sending|contacting|spamming|bothering|harassing))`,
    ` (?:rain|snow|storm|wind|music|baby|dog|kids|fog|bleeding|noise|crying|coughing)(?: \\w+){0,2} (?:to )?stops?(?= )`,
    ` (?:when|where|what time|how often|does|do|did|will|would) (?:it|the \\w+|rain|they|this bus|that|a \\w+|boats|ferries|we|sailings|your (?!texts|messages)\\w+|storm|anything)(?: \\w+){0,2} stop(?= (?!texting|messaging|sending|contacting))`,
    ` (?:when|where|what time)(?: (?!are|will you|do you keep|u )\\w+){0,3} stops?(?= (?!texting|messaging|sending|contacting))`,
    ` (?:the word|mean by|called|named|a) (?:stop|alto|end|quit)(?= )`,
    ` (?:petition|vote|plan|trying|try|want|like|love|hate|need|have|had|going|used)(?: \\w+){0,2} to stop (?:the|smoking|drinking|for|by|at|in|coming|eating|lifting|and|on|off|over|it from)(?= )`,
    ` wrong number (?:of|on|for|in)(?= )`,
    ` (?:typed|put in|dialed|entered|printed|wrote) (?:in )?the wrong number(?= )`,
    ` (?:phone|battery|car|laptop|cell|engine|wifi|connection|plant|plants|seeds|flashlight) (?:has |just )?died(?= )`,
    ` (?:remove|take|put|get|drop|move|scratch|cross)(?: \\w+){1,3} (?:from|off|on|out of) (?:the |my |that |your |our |this )?(?:\\d\\S*|waiting list|waitlist|wait list|rota|schedule|booking|order|reservation|roster|class|workshop|hold|shift|guest list|(?:mon|tues|wednes|thurs|fri|satur|sun)day\\w*)(?= )`,
    ` (?:go|going|went|gone|be|get) away (?:for|on|this|next|to|with|from|in|until|over)(?= )`,
    ` (?:wont|will not|didnt|doesnt|never) go away(?= )`,
    ` (?:is|was|are) the \\w+ closed(?= )`,
    ` closed on the(?= )`,
    ` report(?:ed|ing)? (?:a|the|my|an|that|some)(?= )`,
    ` (?:numero|persona) equivocad[oa] en(?= )`,
    ` no mas (?:de|era|queria|pregunto|dos|una?|por|para)(?= )`,
    ` (?:con eso|con esto|me) basta| basta con(?= )`,
    ` (?:pare|paren|para|paran) (?:en|el (?:barco|autobus|bus)|la lluvia|dos|tres|cuatro|mi|manana|que|llevar)(?= )`,
    ` (?:no )?para de (?:llover|reir|nevar)(?= )`,
    ` (?:planta|voz|marea|temporada|muy|mas) baja| baja temporada| voz alta(?= )`,
    ` (?:antes de|despues de|hora para|a que hora)(?: \\w+){0,3} para(?= )`,
  ].join('|'),
  'g',
);

/** A sentence in which these stand is no wish to stop, whatever else it says. */
export const NO_WISH: readonly RegExp[] = [
  / (?:dont|do not|please dont|never|not|shouldnt|should not|please never|dont ever|not going to|no need to|wouldnt want you to|hate for you to) (?:ever |you dare |please )?(?:stop|quit|unsubscribe|optout|cancel|end|remove (?:me|my|us)|take me off|delete me|drop me|let this end|change)\b(?! texting this)(?!.* (?:i|we) (?:dont|do not) want)/,
  / (?:dont|do not|didnt|did not|never|not)(?: (?:want|mean|wish|like|intend|going|trying|plan|to|you|have|i|meant|really))* (?:unsubscribe|optout|opt out|text stop|say stop|send stop|reply stop|be removed|be taken off|be unsubscribed|leave the list|stop getting|stop receiving)\w*\b/,
  / why (?:did|was|were|am|have|has|would)(?: (?:you|i|u|we|my|they|yall|number|been|it|me|the))* (?:remove|removed|stop|stopped|unsubscribe|unsubscribed|delete|deleted|taken|dropped|cut)\b/,
  /(?<! you| u| do| yall| to| they| why| dont| not| stop) keep (?:texting|sending|them coming|these coming|me (?:on|in|posted)|it coming|messaging|up|on sending)\b/,
  / did i (?:unsubscribe|optout|opt out|text|cancel|say)\b/,
  / (?:by accident|by mistake|accidentally|just kidding|kidding|jk|pocket text|pocket dial|butt dial|ignore (?:that|my last|my)|meant to|wasnt me|autocorrect)\b/,
  / (?:text|texting|message|write|email) (?:me |us )?instead\b| instead of calling\b/,
  / (?:dont|never|do not) (?:text and drive|forget|worry|hesitate|let me|miss|lose|call (?:me )?(?:before|after|until|at|during|just|only))\b/,
  / why (?:dont|didnt|cant|wont|havent) (?:you|u|they|yall|we) (?:just )?(?:text|send|message|contact|call|write|let|tell|give|post)\b/,
  /^ (?:i|we) (?:dont|never|do not) (?:really |usually |often |know how to )?(?:text|write|call|message|send)(?! (?:me|us))\b/,
  / thanks for not\b| thank you for not\b/,
  / (?:dont|do not|never|didnt)(?: ever)? want (?:these|this|them|it|you|the texts|the messages|that|anything)? ?to (?:stop|end)\b/,
  / making me (?:blush|laugh|smile|cry|hungry)\b| (?:youre|you are) too (?:kind|sweet|funny|much|nice)\b| blush\w*\b| had me (?:laughing|crying)\b/,
  / (?:love|enjoy|like) (?:these|your|getting|the|receiving) (?:texts|messages|alerts|updates)\b(?!.* (?:but|please))/,
  / no (?:paren?|dejen?|pares|dejes|pare|deje) de (?:mand|envi|escrib|avis)\w+| no (?:paren?|pares)(?: \w+){0,3} $| no quiero (?:darme de baja|cancelar|salir|que me (?:den de baja|quiten|borren|saquen))| no me (?:den de baja|de de baja|quiten|borren|saquen|eliminen|quite|borre)\b| que no pare\b| sigan (?:mandando|enviando|escribiendo)\b/,
  / por (?:error|accidente|equivocacion)\b| por que me (?:borraron|quitaron|sacaron)\b/,
  / mejor (?:escrib|text|mand|por texto|mensaje)\w*| texto mejor\b/,
  / no me (?:mandaron|enviaron|escribieron|han|ha|llego|llegaron|llamaron|contactaron) /,
];

/** Questions about stopping, and limits of hours or number: shown, and no stop. */
export const ASKS_HOW = new RegExp(
  [
    `(?:^| (?:so|and|but|ok|hi|hello|hey|sorry|also|or|please|question)) (?:how (?:do|can|could|would|to|does|should)|what (?:happens|if|does|is|would)|is there|where (?:do|can)|do (?:i|we)|(?:can|may|could|should) (?:i|we)(?! (?:please )?(?:be|get|have|opt out please|unsubscribe please))|will|if (?:i|we) (?:text|reply|type|say|send|respond|write|click|unsubscribe|opt|optout|cancel|stop)|does)(?: \\w+){0,8} (?:stop|unsubscribe|optout|opt out|unsubscribing|turn (?:these|this|them) off|off (?:this|the|your) list|removed from|get off|cancel (?:the |these |my )?(?:texts|messages|alerts|subscription))\\b`,
    ` (?:text|message|call|contact|write)(?: me| us)? (?:only )?(?:before|after|until|between|during|on weekends|at night|so early|so late|that late)\\b`,
    ` only (?:before|after|between) \\d| (?:fewer|less) (?:texts|messages|often)\\b| (?:text|texts|message)(?: me)? less\\b| too (?:many|early|late|often)(?: \\w+){0,2} (?:texts|messages|text)\\b| too many (?:texts|messages)\\b`,
    ` (?:como|donde) (?:me doy|cancelo|puedo|hago|salgo|se cancela|me salgo|me quito|paro)\\b| puedo (?:darme|cancelar los|salir de la)\\b| que pasa si\\b| si (?:escribo|respondo|mando|contesto|pongo) (?:stop|alto|baja)\\b| que significa (?:stop|alto)\\b`,
    ` (?:escrib|mand|text|llam)\\w* (?:antes|despues) de\\b| (?:menos|demasiados) (?:mensajes|textos)\\b`,
  ].join('|'),
);

const OFFER =
  '(?:offers?|promos?|promotions?|promotional|promotionals|deals?|ads?|adverts?|advertisements?|advertising|advertise|marketing|sales?|coupons?|specials?|discounts?|newsletters?|fare list|commercials?|solicitation texts|ofertas?|promocion|promociones|publicidad|descuentos?|anuncios|rebajas|propaganda|cupones)';
const NOTICE =
  '(?:alerts?|reminders?|notices?|notifications?|updates?|confirmations?|avisos?|recordatorios?|alertas?|notificaciones|actualizaciones)';
const GENERAL = '(?:texts|messages|everything|all of (?:it|this|these)|mensajes|textos|todo)';
const NEGATION =
  '(?:no|stop|stopall|quit|enough|not|dont|do not|without|unsubscribe|off|out of|optout|opt me out|remove|removed|cancel|leave out|spare|end|never|turn off|skip|less|fewer|hold|drop|sin|basta|dejen|deje|deja|paren|pare|cancelar|cancelen|quitenme|saquenme|quiten|baja|dejar|ni|menos|alto)';
const KEEPS = 'big|keep|but|only|just|still|like|love|fine|forget|miss|lose|about|pero|solo|solamente|menos|yet|getting any|received|problem|problema';
const negated = (what: string, notPast: string): RegExp =>
  new RegExp(` ${NEGATION}(?: (?!(?:${KEEPS}|${notPast}|${GENERAL})\\b)\\w+){0,5} ${what}(?! yet| available| left| found| (?:is|are) (?:fine|ok|good|great|welcome))\\b`);

/** Words that limit a wish to one kind of text, and words that widen it again to all. */
export const RESTRICTED = {
  all: new RegExp(
    ` (?:anything else|any of it|or anything|altogether|whatsoever|everything|of any kind|all of it|all (?:texts|messages)|any (?:texts|messages)|ni nada|o nada mas|todo)\\b| ${OFFER} (?:and|or|nor|y|o|ni)(?: \\w+)? ${NOTICE}\\b(?! (?:are|is))| ${NOTICE} (?:and|or|nor|y|o|ni)(?: \\w+)? ${OFFER}\\b(?! (?:are|is))| ${NOTICE} (?:and|or|nor)(?: \\w+)? ${GENERAL}\\b`,
  ),
  parts: [
    { re: negated(OFFER, NOTICE), purpose: 'promotional' },
    { re: negated(NOTICE, OFFER), purpose: 'informational' },
  ],
} as const;
