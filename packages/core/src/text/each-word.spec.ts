import { inShort } from '../testing/findings.js';
import { composeText, namesSender, reviewText, STOP_LINE, type Envelope, type TextContext } from './compose.js';
import { filteredLink, findLinks, isSharedHost } from './links.js';
import { fieldsUsed, mergeText, parseMerge, reviewMerge } from './merge.js';
import { promotionalWords } from './promotion.js';
import { segmentText, swapToGsm } from './segments.js';
import { otherUse } from './use.js';

const ENVELOPE: Envelope = { nameLine: 'Saltmarsh Ferries', stopLine: true };
const CONTEXT: TextContext = { purpose: 'informational', transactional: false, override: '', registered: null };
const review = (text: string, over: Partial<TextContext> = {}, envelope: Partial<Envelope> = {}) =>
  inShort(reviewText(text, { ...CONTEXT, ...over }, { ...ENVELOPE, ...envelope }), () => text);

describe('a text as it is composed', () => {
  it('is trimmed, opened and ended once', () => {
    expect(composeText('  Late.  ', ENVELOPE, {})).toBe(`Saltmarsh Ferries: Late. ${STOP_LINE}`);
    expect(composeText('Late.', { ...ENVELOPE, stopLine: false }, {})).toBe('Saltmarsh Ferries: Late.');
    expect(composeText('Late. Text STOP to end', ENVELOPE, {})).toBe('Saltmarsh Ferries: Late. Text STOP to end');
    expect(composeText('SALTMARSH-FERRIES says: late', { ...ENVELOPE, stopLine: false }, {})).toBe(
      'SALTMARSH-FERRIES says: late',
    );
  });
  it('of a one-way sender ends with its signature instead', () => {
    const one = { ...ENVELOPE, signature: 'To leave: saltmarsh.example/no' };
    expect(composeText('Late.', one, {})).toBe('Saltmarsh Ferries: Late. To leave: saltmarsh.example/no');
    expect(composeText('Late. To leave: saltmarsh.example/no', one, {})).toBe(
      'Saltmarsh Ferries: Late. To leave: saltmarsh.example/no',
    );
    expect(composeText('Late.', { ...ENVELOPE, signature: '' }, {})).toBe(`Saltmarsh Ferries: Late. ${STOP_LINE}`);
  });
  it('names its sender by whole words, case and marks apart', () => {
    expect(namesSender('Saltmarsh  ferries!', 'SALTMARSH FERRIES')).toBeTrue();
    expect(namesSender('Fähren: los', 'Fahren')).toBeFalse();
    expect(namesSender('the Saltmarshferries', 'Saltmarsh Ferries')).toBeFalse();
    expect(namesSender('Saltmarsh Ferriesmen', 'Saltmarsh Ferries')).toBeFalse();
    expect(namesSender('anything', '')).toBeFalse();
    expect(namesSender('anything', ' - ')).toBeFalse();
  });
});

describe('a text under review', () => {
  it('is there', () => {
    expect(review('')).toEqual(['text-empty text']);
    expect(review('   ')).toEqual(['text-empty text']);
    expect(review('The 9:10 is late.')).toEqual([]);
  });
  it('is told which characters cost a segment more, where they stand, and what a swap would save', () => {
    const findings = reviewText('It’s late.', CONTEXT, ENVELOPE);
    expect(inShort(findings, () => 'It’s late.')).toEqual(['forces-ucs2 text “’”']);
    expect(findings[0]?.message).toContain('“’”');
    const long = 'It’s late, so very late. '.repeat(5).trim();
    const saved = reviewText(long, CONTEXT, ENVELOPE)[0];
    expect(saved?.code).toBe('forces-ucs2');
    const whole = composeText(long, ENVELOPE, {});
    const less = segmentText(whole).parts.length - segmentText(swapToGsm(whole) ?? '').parts.length;
    expect(less).toBeGreaterThan(0);
    expect(`${saved?.message} ${saved?.fix}`).toContain(String(less));
  });
  it('of three segments or more is told so, of two it is not', () => {
    const of = (n: number) => review('y'.repeat(n)).some((f) => f.startsWith('many-segments'));
    const room = 153 * 2 - composeText('', ENVELOPE, {}).length - 1;
    expect([of(room - 5), of(room + 40)]).toEqual([false, true]);
  });
  it('has a purpose, which its words do not deny', () => {
    expect(review('See you.', { purpose: null })).toEqual([]);
    expect(review('20% off all crossings', { purpose: null })).toEqual([]);
    expect(review('Now: 20% off all crossings')).toEqual(['purpose-contradicted text “20% off”']);
    expect(review('Now: 20% off', { override: '   ' })).toEqual(['purpose-contradicted text “20% off”']);
    expect(review('Now: 20% off', { override: 'The fare the court ordered.' })).toEqual([
      'purpose-overridden text “20% off”',
    ]);
    expect(review('Now: 20% off', { purpose: 'promotional', override: 'not needed, but there' })).toEqual([]);
    expect(review('See you.', { purpose: 'promotional', transactional: true })).toEqual([
      'transactional-promotional transactional',
    ]);
    expect(review('See you.', { transactional: true })).toEqual([]);
    expect(review('See you.', { purpose: 'conversational' })).toEqual(['purpose-conversational purpose']);
  });
  it('keeps to the use its number is registered for, or says why not', () => {
    const registered = { useCase: 'account-notification', subUses: [] };
    const text = 'Your verification code is waiting';
    expect(review(text, { registered })).toEqual(['use-not-registered text “verification code”']);
    expect(reviewText(text, { ...CONTEXT, registered }, ENVELOPE)[0]?.message).toContain('verification code');
    expect(
      review(text, { registered, override: 'Agreed with the registrar.' }).some((f) =>
        f.startsWith('use-not-registered'),
      ),
    ).toBeFalse();
  });
  it('points at links that networks filter, and only at those', () => {
    expect(review('See saltmarsh.example and bit.ly/3x today')).toEqual(['link-filtered text “bit.ly/3x”']);
  });
});

describe('links', () => {
  const links = (text: string) => findLinks(text).map((l) => text.slice(l.start, l.end));
  it('are found as people write them, and nothing else is taken for one', () => {
    expect(links('see saltmarsh.example/f4 or www.northbank.example')).toEqual([
      'saltmarsh.example/f4',
      'www.northbank.example',
    ]);
    expect(links('HTTPS://Saltmarsh.Example/A?b=c.')).toEqual(['HTTPS://Saltmarsh.Example/A?b=c']);
    expect(links('write to office@saltmarsh.example')).toEqual([]);
    expect(links('nothing here')).toEqual([]);
    expect(findLinks('http://192.0.2.7/x')[0]?.bareAddress).toBeTrue();
    expect(findLinks('saltmarsh.example')[0]?.bareAddress).toBeFalse();
  });
  it('are not made of two sentences that lack a space', () => {
    expect(links('The boat is late.Is anybody there')).toEqual([]);
    expect(links('Late today.So sorry')).toEqual([]);
    expect(links('The boat is late.It leaves at nine')).toEqual([]);
    expect(links('See Northbank.example/It for more')).toEqual(['Northbank.example/It']);
    expect(links('see www.late.it for more')).toEqual(['www.late.it']);
  });
  it('on hosts that many share are known also below them', () => {
    expect([
      isSharedHost('bit.ly'),
      isSharedHost('www.bit.ly'),
      isSharedHost('saltmarsh.example'),
      isSharedHost('notbit.ly'),
      isSharedHost(''),
    ]).toEqual([true, true, false, false, false]);
  });
  it('that are filtered are named first to last', () => {
    const text = 'see saltmarsh.example, then bit.ly/a, then 192.0.2.7';
    const first = filteredLink(text);
    expect(first && text.slice(first.start, first.end)).toBe('bit.ly/a');
    expect(filteredLink('see saltmarsh.example')).toBeNull();
  });
});

describe('merge fields', () => {
  it('are told apart from the text around them, with their places', () => {
    expect(parseMerge('Hi [firstName|friend], bye')).toEqual([
      jasmine.objectContaining({ kind: 'text', text: 'Hi ' }),
      jasmine.objectContaining({ kind: 'field', name: 'firstName', fallback: 'friend', start: 3, end: 21 }),
      jasmine.objectContaining({ kind: 'text', text: ', bye' }),
    ]);
    expect(parseMerge('[firstName]').map((p) => p.kind)).toEqual(['field']);
    expect(parseMerge('').length).toBe(0);
    expect(parseMerge('plain').map((p) => p.kind)).toEqual(['text']);
  });
  it('are filled with what is there, else with their fallback, else with nothing', () => {
    expect(mergeText('[firstName|friend][lastName]!', {})).toBe('friend!');
    expect(mergeText('[firstName|friend] [lastName]', { firstName: ' Ada ', lastName: 'Quill' })).toBe('Ada Quill');
  });
  it('are listed once each, with the fallback they have', () => {
    expect(fieldsUsed('[firstName|friend] [lastName] [firstName|you] [shoe|x]')).toEqual([
      { name: 'firstName', fallback: 'you' },
      { name: 'lastName', fallback: null },
    ]);
    expect(fieldsUsed('no field')).toEqual([]);
  });
  it('want a fallback, and to be known', () => {
    const said = (text: string) => inShort(reviewMerge(text), () => text);
    expect(said('Hi [firstName|friend]')).toEqual([]);
    expect(said('Hi [firstName] [shoe]')).toEqual([
      'merge-no-fallback text “[firstName]”',
      'merge-unknown-field text “[shoe]”',
    ]);
  });
});

describe('words that make a text promotional', () => {
  it('are the first of them, with their place', () => {
    expect(promotionalWords('Hello. Half-price Tuesdays: 20% off!')).toEqual({
      start: 7,
      end: 17,
      words: 'Half-price',
    });
    expect(promotionalWords('20% off on half-price Tuesdays')).toEqual({ start: 0, end: 7, words: '20% off' });
    expect(promotionalWords('The 9:10 is late')).toBeNull();
    // A voucher one already has is brought along; one that is given is an offer.
    for (const has of ['Please bring a warm coat, good shoes and the voucher.', 'Show your voucher at the desk.'])
      expect(promotionalWords(has)).withContext(has).toBeNull();
    for (const given of [
      'Here is a voucher for your next visit.',
      'Bring a friend. Vouchers for both are at the desk.',
    ])
      expect(promotionalWords(given)).withContext(given).not.toBeNull();
  });
});

describe('words of another use', () => {
  const CODE = 'Your verification code: 481516';
  const of = (text: string, useCase: string, subUses: string[] = []) => {
    const found = otherUse(text, { useCase, subUses });
    return found && `${text.slice(found.start, found.end)}: ${found.label}, not ${found.registeredFor}`;
  };
  it('are named with what the campaign is registered for', () => {
    expect(of(CODE, 'customer-care')).toBe('verification code: codes to sign in with, not Customer care');
    expect(of('Now 20% off', 'two-factor')).toBe('20% off: promotional texts, not Two-factor codes');
    expect(of('Please vote for the ferry', 'customer-care')).toBe('vote for: polling and voting, not Customer care');
    expect(of('Fraud alert: call us', 'customer-care')).toBe('Fraud alert: fraud alerts, not Customer care');
  });
  it('are none where the campaign covers them, or is a mixed one without names, or is not known', () => {
    expect(of(CODE, 'two-factor')).toBeNull();
    expect(of(CODE, 'mixed')).toBeNull();
    expect(of(CODE, 'mixed', ['marketing', 'two-factor'])).toBeNull();
    expect(of(CODE, 'mixed', ['marketing', 'customer-care'])).toBe(
      'verification code: codes to sign in with, not Marketing, Customer care',
    );
    expect(of('Now 20% off', 'mixed', ['marketing'])).toBeNull();
    expect(of(CODE, 'customer-care', ['two-factor']))
      .withContext('only a mixed campaign has sub-uses')
      .not.toBeNull();
    expect(of(CODE, 'low-volume-mixed')).toBeNull();
    expect(of(CODE, 'no such use')).toBeNull();
    expect(otherUse(CODE, null)).toBeNull();
    expect(of(CODE, 'mixed', ['no such use']))
      .withContext('uses in words of its own')
      .toBeNull();
  });
});

describe('characters outside GSM-7', () => {
  it('are each named once, with where they first stand, how often, and what could take their place', () => {
    expect(segmentText('a’b’cЖ').culprits).toEqual([
      { char: '’', at: 1, count: 2, swap: "'" },
      { char: 'Ж', at: 5, count: 1, swap: null },
    ]);
    expect(segmentText('😀’').culprits[1]?.at).withContext('two units stand before it').toBe(2);
    expect(swapToGsm('plain')).toBeNull();
    expect(swapToGsm('a’b')).toBe("a'b");
    expect(swapToGsm('Ж')).toBeNull();
  });
});
