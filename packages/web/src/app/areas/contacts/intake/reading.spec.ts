import { guessColumns, looksLikeHeader } from './columns';
import { readPhone } from './reading';

describe('columns', () => {
  it('are guessed by heading, then by what stands in them, each use once', () => {
    expect(guessColumns(['Surname', 'Given name', 'Mobile phone', 'Other phone', 'E-mail', 'State'], [])).toEqual([
      'lastName',
      'firstName',
      'phone',
      'further',
      'email',
      'stateCode',
    ]);
    expect(
      guessColumns(
        ['', '', ''],
        [
          ['Ada', 'ada@post.example', '(201) 555-0171'],
          ['Bo', 'bo@post.example', '201 555 0172'],
        ],
      ),
    ).toEqual(['ignore', 'email', 'phone']);
  });
  it('know a heading row from a first contact', () => {
    expect(looksLikeHeader(['Name', 'Phone'], ['Ada', '2015550171'])).toBe(true);
    expect(looksLikeHeader(['Ada', '2015550171'], ['Bo', '2015550172'])).toBe(false);
  });
});

describe('a cell', () => {
  it('is ok, to look at, or refused with its reason', () => {
    expect(readPhone('(201) 555-0171')).toEqual({ outcome: 'ok', reason: '', e164: '+12015550171' });
    expect(readPhone("'2015550171")).toEqual({ outcome: 'ok', reason: '', e164: '+12015550171' });
    expect(readPhone('201-555-0171 x9')).toEqual(
      jasmine.objectContaining({ outcome: 'look', reason: 'an extension was kept apart' }),
    );
    expect(readPhone('2.01E+09')).toEqual(jasmine.objectContaining({ outcome: 'refused', e164: '' }));
    expect(readPhone('')).toEqual({ outcome: 'refused', reason: 'There is no number.', e164: '' });
  });
});
