import { PHONE_REFUSALS, type PhoneRefusal } from '../phone/parse-phone.js';
import type { LineType } from '../textability/textability.js';

/** Languages in which a page speaks to people; what a business writes on it is its own. */
export const PAGE_LANGUAGES = ['en', 'es'] as const;
export type PageLanguage = (typeof PAGE_LANGUAGES)[number];
export const LANGUAGE_NAMES: Record<PageLanguage, string> = { en: 'English', es: 'Spanish' };

/** What a page says by itself; `{…}` is filled in. */
export interface PageWords {
  phone: string;
  firstName: string;
  lastName: string;
  email: string;
  ifYouLike: string;
  what: string;
  send: string;
  leave: string;
  privacy: string;
  terms: string;
  toMend: string;
  look: string;
  onItsWay: string;
  code: string;
  done: string;
  noMore: string;
  paused: string;
  pausedWhy: string;
  notHere: string;
  notHereWhy: string;
  close: string;
  needed: string;
  noEmail: string;
  changed: string;
  chooseOne: string;
  /** Asked for too often. */
  often: string;
  /** The same of leaving, which a text does at once. */
  leaveOften: string;
  /** What is wrong with a number as it was written. */
  phoneFaults: Record<PhoneRefusal, string>;
}

export const PAGE_WORDS: Record<PageLanguage, PageWords> = {
  en: {
    phone: 'Your mobile number',
    firstName: 'First name',
    lastName: 'Last name',
    email: 'E-mail',
    ifYouLike: 'if you like',
    what: 'What may we text you?',
    send: 'Send me the confirming text',
    leave: 'Or: no more texts to this number',
    privacy: 'Privacy',
    terms: 'Terms',
    toMend: 'Please look at this again',
    look: 'Look at your phone',
    onItsWay:
      'If this number can get texts, one is on its way to {shown} from {from}, once a day at most. Reply YES to it within 72 hours to join. Without your YES nothing changes.',
    code: 'Show this code:',
    done: 'Done',
    noMore: '{business} sends no more texts to {shown}. If you change your mind, text START to the number you know.',
    paused: 'Nobody can join here at the moment',
    pausedWhy: '{business} has paused this page. No more texts to your number: that works as ever.',
    notHere: 'This page is not here',
    notHereWhy: 'The address may be written wrongly, or the page was taken away.',
    close: 'Close',
    needed: 'This is needed.',
    noEmail: 'This is no e-mail address.',
    changed: 'The words of this page have changed. Read them again, then send it.',
    chooseOne: 'Choose at least one kind of text.',
    often: 'This was asked for often enough today. Try again tomorrow.',
    leaveOften: 'This was asked for often enough from here today. Text STOP to {from}: that works at once.',
    phoneFaults: PHONE_REFUSALS,
  },
  es: {
    phone: 'Su número de móvil',
    firstName: 'Nombre',
    lastName: 'Apellido',
    email: 'Correo electrónico',
    ifYouLike: 'si lo desea',
    what: '¿Qué mensajes desea recibir?',
    send: 'Envíenme el mensaje de confirmación',
    leave: 'O bien: no más mensajes a este número',
    privacy: 'Privacidad',
    terms: 'Términos',
    toMend: 'Revise lo siguiente',
    look: 'Mire su teléfono',
    onItsWay:
      'Si este número puede recibir mensajes, uno va en camino a {shown} desde {from}, como máximo uno al día. Responda YES en un plazo de 72 horas para inscribirse. Sin su YES nada cambia.',
    code: 'Muestre este código:',
    done: 'Listo',
    noMore: '{business} ya no enviará mensajes a {shown}. Si cambia de opinión, envíe START al número que ya conoce.',
    paused: 'Por el momento nadie puede inscribirse aquí',
    pausedWhy: '{business} ha puesto esta página en pausa. Dejar de recibir mensajes funciona como siempre.',
    notHere: 'Esta página no está aquí',
    notHereWhy: 'Puede que la dirección esté mal escrita o que la página se haya retirado.',
    close: 'Cerrar',
    needed: 'Este dato es necesario.',
    noEmail: 'Esto no es una dirección de correo electrónico.',
    changed: 'El texto de esta página ha cambiado. Léalo de nuevo y envíelo después.',
    chooseOne: 'Elija al menos un tipo de mensaje.',
    often: 'Hoy ya se ha pedido bastantes veces. Inténtelo de nuevo mañana.',
    leaveOften: 'Desde aquí hoy ya se ha pedido bastantes veces. Envíe STOP al {from}: vale desde ese momento.',
    phoneFaults: {
      empty: 'Falta el número.',
      'no-digits': 'No contiene cifras.',
      header: 'Esto parece el título de una columna, no un número.',
      'too-short': 'Tiene muy pocas cifras para ser un número de teléfono.',
      'too-long': 'Tiene demasiadas cifras para ser un número de teléfono.',
      'no-such-area-code': 'Ese código de área no existe.',
      'bad-exchange': 'Las tres cifras después del código de área no pueden empezar por 0 ni por 1.',
      'service-code': 'Las tres cifras después del código de área son un código de servicio, como el 911.',
      'premium-rate': 'A un número de tarificación especial no se le pueden enviar mensajes.',
      fictional: 'Esta serie está reservada para la ficción.',
      'exponent-inexact': 'El número está abreviado (…E+…) y le faltan cifras.',
      invalid: 'No es un número que exista en su país.',
    },
  },
};

/** A sentence with its gaps filled in; a gap that nothing is known for stays. */
export function filledWords(sentence: string, gaps: Record<string, string>): string {
  return sentence.replace(/\{(\w+)\}/g, (whole, name: string) =>
    Object.hasOwn(gaps, name) ? (gaps[name] ?? '') : whole,
  );
}

/** What the page of one person says. */
export interface PersonalWords {
  title: string;
  hello: string;
  about: string;
  which: string;
  kinds: Record<'informational' | 'promotional', string>;
  standings: Record<'in' | 'awaited' | 'out', string>;
  choose: string;
  another: string;
  useNumber: string;
  answers: string;
  leave: string;
  and: string;
  left: string;
  ended: string;
  answersOnly: string;
  asked: string;
  joined: string;
  tooOften: string;
  closed: string;
  kept: string;
  nothing: string;
  again: string;
  over: string;
  overWhy: string;
  same: string;
  chooseFirst: string;
  letters: string;
  endLetters: string;
  lettersEnded: string;
  /** What a line is called to the person whose it is. */
  lines: Record<LineType, string>;
  notReached: string;
  unreachable: string;
  /** Lines cannot be asked about now, which is no matter of the person's. */
  notNow: string;
}
export const PERSONAL_WORDS: Record<PageLanguage, PersonalWords> = {
  en: {
    title: 'Your texts from {business}',
    hello: 'Hello {name},',
    about:
      'This page is for the owner of the number {number}. You decide; nobody else can. It shows what stands now, and you can change it at any time.',
    which: 'Which texts would you like?',
    kinds: { informational: 'Notices', promotional: 'Offers' },
    standings: { in: 'You get these.', awaited: 'Your YES is awaited.', out: 'You do not get these.' },
    choose: 'Let it be so',
    another: 'My mobile number is another one',
    useNumber: 'Use this number, for what is ticked',
    answers: 'Only answers when I write, nothing by itself',
    leave: 'No more texts at all',
    and: ' and ',
    left: 'You get no more texts from us. If you change your mind, text START to the number you know.',
    ended: 'You get no more {kinds}. That works at once.',
    answersOnly: 'We answer when you write or call, and send nothing by itself.',
    asked:
      'For {kinds} one text is on its way to {shown} from {from}, once a day at most. Reply YES to it within 72 hours; without your YES nothing changes.',
    joined: 'From now on you get {kinds}. A text to {shown} says so.',
    tooOften: '{kinds} were asked for often enough today. Try again tomorrow.',
    closed: '{kinds} cannot be asked for at the moment. Try again later.',
    kept: 'You go on getting {kinds}.',
    nothing: 'Nothing was changed.',
    again: 'Back to your page',
    over: 'This link is no longer good',
    overWhy: 'Links like this are good for 30 days and can be taken back. Ask for a new one where it came from.',
    same: 'This is the number we have. Tick what you want instead.',
    chooseFirst: 'Tick at least one kind of text for this number.',
    letters: 'E-mails from {business} about texts',
    endLetters: 'Send me no more of them',
    lettersEnded: 'You get no more e-mails about texts at this address. What you agreed to by text stays as it is.',
    lines: {
      mobile: 'a mobile number',
      landline: 'a landline',
      voip: 'an internet line',
      'toll-free': 'a toll-free number',
      none: 'no number in service',
      unknown: 'a number nobody could tell us about',
    },
    notReached: 'This is {line}: texts do not reach it. Give a mobile number.',
    unreachable:
      'This phone cannot be reached at the moment: it is switched off or out of service. Switch it on and send this again in an hour, or give another number.',
    notNow: 'Numbers cannot be checked at this moment. Nothing is lost: try again in a few minutes.',
  },
  es: {
    title: 'Sus mensajes de {business}',
    hello: 'Hola, {name}:',
    about:
      'Esta página es para quien tiene el número {number}. Usted decide; nadie más puede hacerlo. Muestra lo que vale ahora, y puede cambiarlo cuando quiera.',
    which: '¿Qué mensajes desea?',
    kinds: { informational: 'Avisos', promotional: 'Ofertas' },
    standings: { in: 'Los recibe.', awaited: 'Se espera su YES.', out: 'No los recibe.' },
    choose: 'Que sea así',
    another: 'Mi número de móvil es otro',
    useNumber: 'Usar este número para lo marcado',
    answers: 'Solo respuestas cuando yo escriba, nada por iniciativa de ustedes',
    leave: 'Ningún mensaje más',
    and: ' y ',
    left: 'Ya no recibirá mensajes nuestros. Si cambia de opinión, envíe START al número que ya conoce.',
    ended: 'Ya no recibirá {kinds}. Vale desde este momento.',
    answersOnly: 'Respondemos cuando usted escriba o llame, y no enviamos nada por iniciativa propia.',
    asked:
      'Para {kinds} va en camino un mensaje a {shown} desde {from}, como máximo uno al día. Responda YES en un plazo de 72 horas; sin su YES nada cambia.',
    joined: 'Desde ahora recibirá {kinds}. Un mensaje a {shown} lo confirma.',
    tooOften: '{kinds}: hoy ya se ha pedido bastantes veces. Inténtelo de nuevo mañana.',
    closed: '{kinds}: por el momento no se puede pedir. Inténtelo de nuevo más tarde.',
    kept: 'Seguirá recibiendo {kinds}.',
    nothing: 'No se ha cambiado nada.',
    again: 'Volver a su página',
    over: 'Este enlace ya no vale',
    overWhy: 'Estos enlaces valen 30 días y pueden retirarse. Pida uno nuevo a quien se lo envió.',
    same: 'Es el número que tenemos. Marque arriba lo que desea.',
    chooseFirst: 'Marque al menos un tipo de mensaje para este número.',
    letters: 'Correos de {business} sobre mensajes',
    endLetters: 'No me envíen más',
    lettersEnded: 'Ya no recibirá correos sobre mensajes en esta dirección. Lo que aceptó por mensaje queda como está.',
    lines: {
      mobile: 'un número de móvil',
      landline: 'un teléfono fijo',
      voip: 'una línea de internet',
      'toll-free': 'un número gratuito',
      none: 'un número fuera de servicio',
      unknown: 'un número del que nadie ha podido decirnos nada',
    },
    notReached: 'Es {line}: los mensajes no llegan. Indique un número de móvil.',
    unreachable:
      'Este teléfono no está disponible en este momento: está apagado o sin servicio. Enciéndalo y envíelo de nuevo dentro de una hora, o indique otro número.',
    notNow: 'En este momento no se pueden comprobar números. No se ha perdido nada: inténtelo dentro de unos minutos.',
  },
};

/** What the page says on which a person gives a number that texts reach. */
export interface NumberWords {
  title: string;
  titleTo: string;
  asks: string;
  confirmed: string;
  asked: string;
  doNothing: string;
  same: string;
}
export const NUMBER_WORDS: Record<PageLanguage, NumberWords> = {
  en: {
    title: 'Your mobile number',
    titleTo: '{name}, your mobile number',
    asks: 'Our texts do not reach the number {number}. Which mobile number shall they go to?',
    confirmed: 'You gave us a number already, and it is confirmed. If it has changed, give us the new one.',
    asked:
      'A text is on its way to {shown} from {from}. Reply YES to it within 72 hours; then our texts go there. Without your YES nothing changes.',
    doNothing: 'If you want no texts, do nothing.',
    same: 'This is the number texts do not reach. Give another one.',
  },
  es: {
    title: 'Su número de móvil',
    titleTo: '{name}, su número de móvil',
    asks: 'Nuestros mensajes no llegan al número {number}. ¿A qué móvil debemos enviarlos?',
    confirmed: 'Ya nos dio un número y está confirmado. Si ha cambiado, indique el nuevo.',
    asked:
      'Va en camino un mensaje a {shown} desde {from}. Responda YES en un plazo de 72 horas y nuestros mensajes irán allí. Sin su YES nada cambia.',
    doNothing: 'Si no desea mensajes, no haga nada.',
    same: 'Es el número al que no llegan los mensajes. Indique otro.',
  },
};
