import { isZone } from './zone-name.js';

describe('the name of a time zone', () => {
  it('is one of the IANA’s database, not an abbreviation, an offset or a made-up place', () => {
    for (const name of ['America/New_York', 'America/Argentina/Buenos_Aires', 'Pacific/Honolulu', 'Europe/Dublin'])
      expect(isZone(name)).withContext(name).toBeTrue();
    for (const name of ['', 'EST', 'UTC', '+05:00', 'America/Quillmere', 'America/', '/', 'America/New York'])
      expect(isZone(name)).withContext(name).toBeFalse();
  });
});
