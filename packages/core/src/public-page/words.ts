/** Languages in which a page speaks to people; what a business writes on it is its own. */
export const PAGE_LANGUAGES = ['en', 'es'] as const;
export type PageLanguage = (typeof PAGE_LANGUAGES)[number];
export const LANGUAGE_NAMES: Record<PageLanguage, string> = { en: 'English', es: 'Spanish' };

/** What a page says by itself; `{…}` is filled in. */
export interface PageWords {
  mobile: string;
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
}

export const PAGE_WORDS: Record<PageLanguage, PageWords> = {
  en: {
    mobile: 'Your mobile number',
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
  },
  es: {
    mobile: 'Su número de móvil',
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
  },
};

/** A sentence with its gaps filled in; a gap that nothing is known for stays. */
export function filledWords(sentence: string, gaps: Record<string, string>): string {
  return sentence.replace(/\{(\w+)\}/g, (whole, name: string) =>
    Object.hasOwn(gaps, name) ? (gaps[name] ?? '') : whole,
  );
}
