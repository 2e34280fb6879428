import { readReply } from './read-reply.js';

describe('readReply', () => {
  const intent = (t: string, lastSent?: string): string => readReply(t, { lastSent }).intent;
  it('knows every opt-out word however it is written', () => {
    for (const t of [
      'STOP',
      'stop',
      ' Stop. ',
      'STOP!!!',
      'ＳＴＯＰ',
      'stop 🛑',
      'Stopall',
      'unsubscribe',
      'Cancel',
      'END',
      'quit',
      'REVOKE',
      'opt out',
      'OPT-OUT',
      'optout',
      'STOP\n--\nSent from my phone',
      'stop help',
      'START STOP',
      'please stop',
    ]) {
      expect(intent(t)).withContext(t).toBe('stop');
      expect(readReply(t).confidence).withContext(t).toBe(1);
    }
  });
  it('hears a clear wish in the person’s own words, in Spanish too, and shows it', () => {
    for (const t of [
      "Please don't text me again",
      'Take me off your list',
      'no more messages please',
      'No me manden más mensajes',
      'Quiero darme de baja',
      'STOP texting me, I mean it',
      'remove me',
      'stop sending these',
    ]) {
      const r = readReply(t);
      expect(r.intent).withContext(t).toBe('stop');
      expect(r.confidence).withContext(t).toBeGreaterThanOrEqual(0.75);
      expect(r.review).toBe(true);
    }
  });
  it('limits a wish to promotional texts when only offers are meant', () => {
    expect(readReply('stop sending me offers')).toEqual(
      jasmine.objectContaining({ purposes: ['promotional'], review: true }),
    );
  });
  it('takes small talk, questions and quoting reactions for what they are', () => {
    for (const t of [
      'Does the ferry stop at Aldersund?',
      "can't stop laughing",
      'see you at the bus stop',
      'Thanks, at the end of the day then',
      'ok',
    ])
      expect(intent(t)).withContext(t).toBe('other');
    expect(
      intent('Liked “Saltmarsh Ferries: late. Reply STOP to end.”', 'Saltmarsh Ferries: late. Reply STOP to end.'),
    ).toBe('other');
  });
  it('takes a list that is named for what is sent to it, and for everything else leaves the wish whole', () => {
    const lists = [
      { name: 'Winter pier evenings', purposes: ['promotional'] },
      { name: 'Crew', purposes: ['informational'] },
      { name: 'Never texted', purposes: [] },
    ] as const;
    const purposes = (t: string): readonly string[] | undefined => readReply(t, { lists }).purposes;
    expect(purposes('please take me off the winter pier evenings list')).toEqual(['promotional']);
    expect(purposes('Remove me from the CREW list')).toEqual(['informational']);
    expect(purposes('remove me from the crew list and from winter pier evenings')).toEqual([
      'informational',
      'promotional',
    ]);
    for (const t of [
      'take me off your list',
      'tell the crew to stop texting me',
      'remove me from the never texted list',
      'take me off the crew list and stop all texts',
      'STOP',
    ]) {
      expect(readReply(t, { lists }).intent).withContext(t).toBe('stop');
      expect(purposes(t)).withContext(t).toBeUndefined();
    }
  });
  it('knows START, HELP, YES and joining words', () => {
    expect(intent('start')).toBe('start');
    expect(intent('UNSTOP')).toBe('start');
    expect(intent('Help?')).toBe('help');
    expect(intent('yes!')).toBe('yes');
    expect(readReply('Ferry', { keywords: ['FERRY'] }).intent).toBe('join');
  });
});
