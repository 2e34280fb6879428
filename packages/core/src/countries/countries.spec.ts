import { isDay } from '../porting/business-days.js';
import { placeOf } from '../phone/area-codes.js';
import { DEFAULT_HOURS, sendWindow } from '../hours/send-window.js';
import { COUNTRY_RULES } from './countries.data.js';
import { countryByDial } from './countries.js';
import { reviewSenderId, reviewSignature, senderIdIn } from './sender-id.js';

describe('countries and sender IDs', () => {
  it('ships at least 25 countries, each once, with source and date of checking and zones that exist', () => {
    expect(COUNTRY_RULES.length).toBeGreaterThanOrEqual(25);
    expect(new Set(COUNTRY_RULES.map((c) => c.code)).size).toBe(COUNTRY_RULES.length);
    for (const c of COUNTRY_RULES) {
      expect(c.source).withContext(c.code).not.toBe('');
      expect(isDay(c.checked)).withContext(c.code).toBeTrue();
      for (const zone of c.zones) expect(() => new Intl.DateTimeFormat('en', { timeZone: zone })).not.toThrow();
      expect(c.kinds.some((k) => k === 'sender ID'))
        .withContext(`${c.code}: sender IDs work just where they are allowed`)
        .toBe(c.senderId !== 'not allowed');
    }
  });

  it('knows a country by its calling code, the longest first, and never Delaware for Germany', () => {
    expect(countryByDial('+353209101234')?.code).toBe('IE');
    expect(countryByDial('+35212345678')?.code).toBe('LU');
    expect(countryByDial('+999123')).toBeUndefined();
    expect(placeOf('+447700900123', '')).toEqual({ country: 'GB', zones: ['Europe/London'], states: ['country GB'] });
    // Sunday noon in Berlin is closed there, while the same moment is open in London.
    const sunday = Date.UTC(2027, 2, 14, 12);
    const at = (e164: string) => sendWindow(placeOf(e164, ''), DEFAULT_HOURS, sunday).open;
    expect([at('+4930233456'), at('+447700900123')]).toEqual([false, true]);
  });

  it('checks a sender ID as it is typed', () => {
    const codes = (t: string): string[] => reviewSenderId(t).map((f) => f.code);
    expect(codes('SALTMARSH')).toEqual([]);
    expect(codes('Salt & Sea-1')).toEqual(['sender-id-long']);
    expect(codes('')).toEqual(['sender-id-empty']);
    expect(codes('12345')).toEqual(['sender-id-no-letter']);
    expect(codes('Fähre')).toEqual(['sender-id-character']);
    expect(codes(' SALT')).toEqual(['sender-id-spaces']);
    expect(reviewSenderId('SALTMARSH FERRIES')[0]?.span).toEqual({ start: 11, end: 17 });
  });

  it('has three kinds of countries, and never the United States or Canada', () => {
    expect(['GB', 'AU', 'US', 'CA', 'XX'].map(senderIdIn)).toEqual([
      'free',
      'to register',
      'not allowed',
      'not allowed',
      'not allowed',
    ]);
  });

  it('wants a signature that says how to stop and where', () => {
    expect(reviewSignature('Stop or reply: saltmarsh.example/stop')).toEqual([]);
    expect(reviewSignature('Stop: +44 7700 900123')).toEqual([]);
    expect(reviewSignature('saltmarsh.example').length).toBe(1);
    expect(reviewSignature('Reply STOP to end.').length).withContext('no reply can arrive').toBe(1);
  });
});
