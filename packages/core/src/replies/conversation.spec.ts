import { afterWord, ANSWER_WITHIN_MS, HANDLED_AS, standingOf, type Waiting } from './conversation.js';

const AT = Date.UTC(2027, 2, 13, 12);
const quiet: Waiting = { waitsUntil: null, handled: '' };
const asked: Waiting = { waitsUntil: AT - 1, handled: '' };

describe('a conversation', () => {
  it('waits 24 hours from the last word for an answer, and is too late at their end', () => {
    const c = afterWord(quiet, AT, '');
    expect(c).toEqual({ waitsUntil: AT + 24 * 3_600_000, handled: '' });
    expect([AT, AT + ANSWER_WITHIN_MS - 1, AT + ANSWER_WITHIN_MS].map((now) => standingOf(c, now))).toEqual([
      'waiting',
      'waiting',
      'too late',
    ]);
  });

  it('waits for nobody where the word was carried out by itself, whatever it was', () => {
    for (const handled of HANDLED_AS.filter((h) => h !== ''))
      expect(standingOf(afterWord(quiet, AT, handled), AT))
        .withContext(handled)
        .toBe('by itself');
    expect(standingOf(quiet, AT)).toBe('answered');
  });

  it('keeps a question open over HELP and the like, and drops it where nothing may be answered any more', () => {
    for (const handled of HANDLED_AS.filter((h) => h !== 'opt-out'))
      expect(afterWord(asked, AT, handled))
        .withContext(handled)
        .toEqual({ waitsUntil: AT + ANSWER_WITHIN_MS, handled: '' });
    expect(afterWord(asked, AT, 'opt-out')).toEqual({ waitsUntil: null, handled: 'opt-out' });
  });
});
