const WORD = '(?:STOP|END|QUIT|CANCEL|UNSUBSCRIBE|OPTOUT|OPT[- ]OUT|REVOKE|ALTO|BAJA|PARAR|SALIR)';
const anyCase = (re: string): string => re.replace(/(?<!\\)[A-Za-z]/g, (c) => `[${c.toUpperCase()}${c.toLowerCase()}]`);
const ANY_CASE_WORD = anyCase(WORD);
const ASK =
  '(?:[Rr]eply|[Rr]espond|[Tt]ext|[Tt]xt|[Ss]end|[Aa]nswer|[Mm]essage|[Ww]rite|REPLY|TEXT|TXT|SEND|[Rr]esponda|[Rr]esponde|[Ee]nv[ií]e|[Ee]nv[ií]a|[Mm]ande|[Mm]anda|[Ee]scriba|[Ee]scribe|[Cc]onteste|[Cc]ontesta)';
const ENDS = anyCase(
  '(?:end|stop|quit|cancel|opt|unsub\\w*|leave|out|no more|be removed|finish|not (?:get|receive)|cancelar|salir|terminar|darse?|dejar|no recibir)',
);

const WAYS: readonly RegExp[] = [
  // "Reply STOP", "text us the word “stop”": the word in capitals or in quotes, a little way behind the asking.
  new RegExp(`\\b${ASK}\\b[^.!?\\n]{0,24}?(?:\\b${WORD}\\b|[“"'‘«]\\s*${ANY_CASE_WORD}\\s*[”"'’»])`, 'u'),
  // "reply stop to end": any case where the word follows the asking at once, and says what it does or ends there.
  new RegExp(
    `\\b${ASK}(?:\\s+(?:back|with|us|the word|con|la palabra))*\\s+${ANY_CASE_WORD}\\b(?=\\s*(?:$|[.!,;)\\n]|(?:to|para|a)\\b))`,
    'u',
  ),
  // "STOP to end", "Stop=end", "stop2quit".
  new RegExp(
    `(?:^|[.!?;:,(\\n]\\s*|\\b(?:or|and|msg)\\s+)${ANY_CASE_WORD}\\s*(?:=|2|\\bto\\b|\\bpara\\b)\\s*${ENDS}\\b`,
    'u',
  ),
  new RegExp(`\\b${WORD}\\s*(?:=|2|\\bto\\b|\\bpara\\b|\\bends?\\b)\\s*(?:${ENDS}\\b|texts?\\b|$)`, 'u'),
];

/**
 * True when the text tells how to stop: it asks for a stop word to be sent, or says what the word does. The mere word
 * ("one stop to the harbour", "non-stop to Aldersund", "text us when you stop by") is none.
 */
export function showsStop(text: string): boolean {
  return WAYS.some((re) => re.test(text));
}
