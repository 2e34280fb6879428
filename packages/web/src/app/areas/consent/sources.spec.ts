import type { CameBy, Refused } from '@long-gate/contracts';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { SourcesPage } from './sources';

const WEEKS = 26;
const none = Array.from({ length: WEEKS }, () => 0);
const way = (over: Partial<CameBy>): CameBy => ({
  way: 'web page',
  via: 'rye',
  name: 'Rye club',
  asked: 40,
  agreed: 30,
  soon: 3,
  later: 1,
  ended: 0,
  ripe: 20,
  stayed: 17,
  byWeek: none,
  ...over,
});
const refused: Refused = {
  how: 'reply',
  n: 4,
  stayed: { 'never in': 1, 'a month': 3, 'a year': 0, longer: 0 },
  byWeek: none,
};

describe('ways in and out', () => {
  let p: OpenPage;
  const open = async (over: { at?: string; ways?: CameBy[]; refusals?: Refused[] } = {}): Promise<void> => {
    p = await openPage(
      SourcesPage,
      {
        'consent.sources': (asked: { query: { weeks: number } }) => ({
          from: '2026-09-14',
          weeks: asked.query.weeks,
          ways: over.ways ?? [
            way({}),
            way({ way: 'keyword', via: 'key_1', name: '', asked: 2, agreed: 2, ripe: 0, stayed: 0 }),
          ],
          refusals: over.refusals ?? [refused],
        }),
        'consent.source-people': {
          items: [
            {
              e164: '+12125550101',
              name: 'Ada Fenn',
              contactId: 'con_1',
              at: 1_800_000_000_000,
              since: null,
              endedAt: null,
            },
            { e164: '+12125550102', name: '', contactId: null, at: 1_790_000_000_000, since: null, endedAt: null },
          ],
          next: null,
        },
      },
      over.at ? { at: over.at } : {},
    );
  };
  afterEach(() => closePage(p));

  it('says of each way how many agreed and stayed, with how sure that is, and where it is too early to say', async () => {
    await open();
    expect(p.text()).toContain('Opt-in page: Rye club');
    expect(p.text()).toContain('30 of 40 (75.0%, likely 59.8–85.8%)');
    expect(p.text()).toContain('17 of 20 (85.0%, likely 64.0–94.8%)');
    expect(p.text()).toContain('too early to say');
  });

  it('opens each count to its people, those of no contact any more too', async () => {
    await open();
    await p.press('Opt-in page: Rye club');
    expect(p.url()).toContain('open=web%20page%7Crye');
    await p.press('left within a month');
    expect(p.api.of('consent.source-people').map((x) => x.query)).toEqual([
      { purpose: 'promotional', weeks: 26, of: 'soon', way: 'web page', via: 'rye', limit: 100 },
    ]);
    expect(p.text()).toContain('Ada Fenn');
    expect(p.text()).toContain('no contact any more');
  });

  it('is for notices as well, and over another while, by its address', async () => {
    await open({ at: '/page?purpose=informational&weeks=13' });
    expect(p.api.of('consent.sources').map((x) => x.query)).toEqual([{ purpose: 'informational', weeks: 13 }]);
  });

  it('leads from a count of refusals to their events', async () => {
    await open();
    const link = p.host.querySelector<HTMLAnchorElement>('a[href*="how=reply"]');
    expect([link?.textContent.trim(), link?.search]).toEqual([
      '4',
      '?kind=revoked,declined&how=reply&purpose=promotional&from=2026-09-14',
    ]);
  });

  it('says where nobody was asked', async () => {
    await open({ ways: [], refusals: [] });
    expect(p.text()).toContain('Nobody was asked in this time.');
    expect(p.text()).not.toContain('Who refuses');
  });
});
