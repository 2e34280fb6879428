import type { Cleaned } from './dress.js';

/** Words by the part they play in a reply; English and Spanish in the same classes, so that one teaches the other. */
const CLASSES: Readonly<Record<string, string>> = {
  STOP: 'stop stopall quit cease end halt discontinue desist terminate kill stopped stopping ending alto basta paren pare parar pararan dejen deje deja dejar cesen detener detengan cancelar terminar suspender suspendan salir',
  OUT: 'unsubscribe unsubscribed unsubscribing optout opt opted opting revoke withdraw removal baja desuscribir desuscribirme desuscribanme anular deactivate disenroll unenroll disable',
  REMOVE:
    'remove removed removing delete deleted deleting erase take taken get drop lose forget wipe purge pull strike scratch exclude unlist block blocked blocking disregard borren borre borra borrenme borrar quiten quite quita quitenme quitar saquen saquenme sacame saqueme eliminen elimine elimina eliminar eliminenme remuevan olviden olvida',
  MSG: 'text texts texting texted message messages messaging messaged sms contact contacted contacting communication communications subscription blast blasts mensaje mensajes texto textos escribir escriban escriba escribirme mandar manden mande mandarme enviar envien envie enviarme escribiendo mandando contacten suscripcion nachrichten mensagens',
  SEND: 'send sending sent write writing call calling reach bother bothering disturb molesten moleste molestar llamen',
  NEG: 'no not dont never none nothing nobody without cannot cant wont isnt arent didnt doesnt aint ya nunca jamas ni nada ningun ninguna sin tampoco refrain rather further anymore longer nope nah',
  SELF: 'me us my mine this our i im id ive we mi mis nos yo',
  YOU: 'you your yall u ur ustedes su sus usted tu',
  WANT: 'want wish need like care prefer interested interest desire appreciate quiero quisiera deseo necesito interesa interesado interesada prefiero gusta',
  NUM: 'number numbers phone cell mobile line landline cellphone numero telefono celular',
  LIST: 'list lists database system records contacts directory file lista base datos registros data info information details',
  WRONG: 'wrong mistake mistaken equivocado equivocada equivoco equivocaron incorrecto reassigned owner belongs',
  GONE: 'died deceased dead passed fallecio murio closed cerro cerramos moved sold retired customer cliente member business company negocio account holder',
  BAD: 'spam spammer spamming harass harassment harassing scam junk annoying unwanted unsolicited illegal report reported reporting complaint complain lawyer attorney sue fcc ftc tcpa police legal acoso denunciar reportar',
  CONSENT:
    'consent permission authorize authorized authorization agreed agree signed sign subscribed subscribe requested asked consentimiento permiso autorizo autorizacion suscribi registre pedi',
  POLITE: 'please kindly thanks thank appreciate sorry favor gracias bye',
  OFFER:
    'offer offers promo promos promotion promotions promotional deal deals ad ads marketing sale sales coupon coupons discount discounts ofertas oferta promociones publicidad descuentos',
  NOTICE:
    'alert alerts reminder reminders notice notices notification notifications update updates aviso avisos recordatorio recordatorios',
  BOOK: 'booking book order orders ticket tickets appointment reservation class workshop seat seats table trip boat ferry bus sailing crossing flight session spot waitlist rota schedule registration visit cita reserva boleto boletos pedido clase taller barco autobus parada autobus driver',
  PLACE:
    'house store office quay pier dock bakery bank church school museum station street road corner desk counter home kitchen muelle mostrador oficina casa parque',
  THING:
    'umbrella bag hat photo dog cat car onions lemon window door coffee food bread pot pots kiln seeds snow rain storm fog music baby kids weather wine',
  TIME: 'today tomorrow tonight yesterday saturday sunday monday tuesday wednesday thursday friday week weekend month morning evening noon early late hour minutes soon later before after hoy manana noche tarde sabado domingo lunes martes miercoles jueves viernes semana mes antes despues',
  WH: 'when where what which who why how whats wheres whos cuando donde que quien cual como cuanto cuantas porque',
  LOVE: 'love loved great awesome funny lol haha nice beautiful best enjoy happy good excellent encanta encantan jaja bonito excelente',
};
const CLASS_OF: ReadonlyMap<string, string> = new Map(
  Object.entries(CLASSES).flatMap(([name, words]) => words.split(' ').map((w) => [w, name] as const)),
);

const isDigit = (w: string): boolean => w.charCodeAt(0) >= 48 && w.charCodeAt(0) <= 57;

/** What a reply is weighed by: its words, the parts they play, which follow which, and whether it asks. */
export function features(read: Cleaned): string[] {
  const out = new Set<string>();
  for (const clause of read.clauses) {
    const words = clause.words.trim().split(' ');
    const classes = words.map((w) => CLASS_OF.get(w) ?? (isDigit(w) ? 'DIGITS' : ''));
    let before = '^';
    for (let i = 0; i < words.length; i++) {
      const w = words[i] ?? '';
      const part = classes[i] || w;
      out.add(w);
      if (part !== w) out.add(part);
      out.add(`${before} ${part}`);
      before = part;
      if (classes[i] === '') continue;
      for (let k = i + 2; k <= i + 4; k++) if (classes[k]) out.add(`${part} > ${classes[k] ?? ''}`);
    }
    out.add(`${before} $`);
    if (clause.question) out.add('?');
  }
  const length = read.whole.split(' ').length;
  out.add(length <= 1 ? '#1' : length <= 3 ? '#3' : length <= 6 ? '#6' : length <= 10 ? '#10' : '#more');
  return [...out];
}

/** How likely it is a wish to stop, by weights that were learned; 0 to 1. */
export function weigh(read: Cleaned, weights: ReadonlyMap<string, number>): number {
  let sum = weights.get('bias') ?? 0;
  for (const f of features(read)) sum += weights.get(f) ?? 0;
  return 1 / (1 + Math.exp(-sum));
}

/**
 * Learns weights from replies whose answer is known: logistic regression with a quadratic penalty, by stochastic
 * gradient descent in a fixed order, so that the same replies teach the same weights.
 */
export function learn(
  replies: readonly { read: Cleaned; wish: boolean }[],
  { epochs = 60, rate = 0.15, penalty = 2e-4 } = {},
): Record<string, number> {
  const weights = new Map<string, number>([['bias', 0]]);
  const rows = replies.map((r) => ({ f: ['bias', ...features(r.read)], y: r.wish ? 1 : 0 }));
  let seed = 1;
  for (let epoch = 0; epoch < epochs; epoch++) {
    const step = rate / (1 + epoch * 0.05);
    for (let i = rows.length - 1; i > 0; i--) {
      seed = (Math.imul(seed, 1103515245) + 12345) >>> 0;
      const j = seed % (i + 1);
      [rows[i], rows[j]] = [rows[j] as (typeof rows)[number], rows[i] as (typeof rows)[number]];
    }
    for (const { f, y } of rows) {
      let sum = 0;
      for (const x of f) sum += weights.get(x) ?? 0;
      const off = y - 1 / (1 + Math.exp(-sum));
      for (const x of f) {
        const now = weights.get(x) ?? 0;
        weights.set(x, now + step * (off - (x === 'bias' ? 0 : penalty * now * rows.length * 0.02)));
      }
    }
  }
  return Object.fromEntries(
    [...weights].map(([x, v]) => [x, Math.round(v * 100) / 100] as const).filter(([, v]) => Math.abs(v) >= 0.04),
  );
}
