import { readFileSync } from 'node:fs';
import { accessDocument, accessTable } from './access.js';
import { ALL_ENDPOINTS } from './endpoint.js';
import './index.js';

const CELLS = (line: string): string[] => line.split('|').map((c) => c.trim());

describe('the table of who may what', () => {
  it('has a row for every endpoint, as docs/access.md says it; a new endpoint is added there on purpose', () => {
    const kept = readFileSync(new URL('../../../docs/access.md', import.meta.url), 'utf8');
    const rows = (text: string): string[] =>
      text
        .split('\n')
        .filter((l) => l.startsWith('|') && !/^\|[\s|:-]+$/.test(l))
        .map((l) => CELLS(l).join('|'));
    expect(rows(kept)).toEqual(rows(accessDocument()));
  });

  it('lets nobody who is not signed in do anything but what is public', () => {
    for (const { endpoint, may } of accessTable())
      expect(may.nobody)
        .withContext(endpoint.id)
        .toBe(endpoint.access === 'public');
  });

  it('names a business in the path of everything that needs a role, but for what concerns no business', () => {
    const without = ALL_ENDPOINTS.filter(
      (e) => ['viewer', 'coordinator', 'administrator'].includes(e.access) && !e.path.includes(':businessId'),
    );
    expect(without.map((e) => e.id).sort()).toEqual(['businesses.add', 'clock.move', 'registration.start']);
  });

  it('keeps what lifts a hold, opens the gate or gives a number away from coordinators', () => {
    const may = new Map(accessTable().map((r) => [r.endpoint.id, r]));
    for (const id of ['ports.runbook', 'guard.lock', 'guard.pin', 'contacts.decideFaults', 'people.edit', 'pages.edit'])
      expect(may.get(id)?.may.coordinator).withContext(id).toBeFalse();
    for (const id of ['reviews.decide', 'intakes.begin'])
      expect([may.get(id)?.may.coordinator, may.get(id)?.stricter?.coordinator])
        .withContext(id)
        .toEqual([true, false]);
    expect(may.get('consent.recordWish')?.may.coordinator).toBeTrue();
    expect(may.get('clock.move')?.may.viewer).toBeFalse();
    for (const id of ['ports.document', 'ports.letter']) expect(may.get(id)?.may.viewer).withContext(id).toBeTrue();
  });
});
