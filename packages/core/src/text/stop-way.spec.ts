import { showsStop } from './stop-way.js';

describe('the way to stop in a text', () => {
  for (const text of [
    'Reply STOP to end.',
    'Text STOP to opt out',
    'reply stop to unsubscribe',
    'Reply “stop” to end.',
    'To opt out, text back QUIT.',
    'Send the word STOP to this number',
    'STOP to end',
    'Stop=end',
    'HELP for help, STOP to cancel.',
    'Txt STOP2END',
    'Responda ALTO para cancelar',
    'Envíe STOP para no recibir más',
    'Reply HELP for help or STOP to end.',
  ])
    it(`is told by “${text}”`, () => expect(showsStop(text)).toBe(true));
  for (const text of [
    'One stop to the harbour',
    'The next stop is Aldersund',
    'Non-stop to the islands',
    'Text us when you stop by',
    'Reply when the rain stops',
    'We stop to refuel at ten',
    'Send your claim by the end of May',
    'The bus goes from the stop to the quay',
    'Reply to cancel your booking or to end your trip early',
    'One stop to end of the line',
  ])
    it(`is not told by “${text}”`, () => expect(showsStop(text)).toBe(false));
});
