import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { TextLinksPage } from './text-links';

const KEPT = {
  domain: 'texts.ferries.example',
  pageId: 'pag_1',
  version: 3,
  pages: [
    { id: 'pag_1', title: 'Crossing alerts', live: true },
    { id: 'pag_2', title: 'Fare offers', live: false },
  ],
};
const DISPATCHES = [
  {
    dispatchId: 'dsp_1',
    title: 'Winter timetable',
    lastAt: Date.UTC(2027, 2, 10, 16),
    sent: 1200,
    opened: 300,
    kept: 40,
    joined: 25,
    awaited: 3,
    ended: 7,
    open: 1125,
  },
  {
    dispatchId: '',
    title: '',
    lastAt: Date.UTC(2027, 2, 9, 16),
    sent: 1,
    opened: 1,
    kept: 1,
    joined: 0,
    awaited: 0,
    ended: 0,
    open: 0,
  },
];

describe('links in texts', () => {
  let p: OpenPage;
  const open = async (o: { role?: string; kept?: object; rows?: object[]; save?: unknown } = {}): Promise<void> => {
    const items = o.rows ?? DISPATCHES;
    p = await openPage(
      TextLinksPage,
      {
        'textLinks.get': { ...KEPT, ...o.kept },
        'textLinks.list': { items, next: null, total: items.length },
        'textLinks.save': o.save ?? (({ body }: Asked) => ({ ...KEPT, ...(body as object), version: 4 })),
        'textLinks.withdraw': { withdrawn: 1125 },
      },
      { role: o.role ?? 'administrator' },
    );
  };
  afterEach(() => closePage(p));
  const said = (): string => p.text().replace(/\s+/g, ' ');

  it('shows the link as every text carries it, without its key, and how much of a text it takes', async () => {
    await open();
    expect(said()).toContain('https://texts.ferries.example/t/****************, 48 characters');
    await p.fill('domain', 'f.example');
    expect(said()).toContain('https://f.example/t/****************, 36 characters');
  });

  it('says by dispatch what came of them, and leads to it', async () => {
    await open();
    expect(said()).toContain('Winter timetable');
    expect(said()).toContain('1,200');
    expect(p.host.querySelector('a[href="/b/biz_1/dispatch/dsp_1"]')).not.toBeNull();
    expect(said()).toContain('answers and tests, of no dispatch');
    expect(said()).withContext('all of the tests were answered').not.toContain('Take back 0');
  });

  it('saves a change of what was shown, and says at the field what the server refuses', async () => {
    await open({
      save: () => {
        throw new ApiProblem(422, 'refused', 'Networks filter links on lnk.example.', [
          { field: 'domain', message: 'Networks filter links on lnk.example, which many senders share.' },
        ]);
      },
    });
    await p.fill('domain', 'lnk.example');
    await p.press('Save');
    expect(p.api.of('textLinks.save').map((a) => [a.version, a.body])).toEqual([
      [3, { domain: 'lnk.example', pageId: 'pag_1' }],
    ]);
    expect(said()).toContain('which many senders share.');
    expect(p.host.querySelector<HTMLInputElement>('#domain')?.value).toBe('lnk.example');
    await p.press('As it was');
    expect(p.host.querySelector<HTMLInputElement>('#domain')?.value).toBe('texts.ferries.example');
  });

  it('asks before links are taken back, and takes back those of that dispatch', async () => {
    await open();
    p.yes = false;
    await p.press(/Take back 1,125/);
    expect(p.questions[0]?.line).toContain('1,125 links of “Winter timetable” will lead nowhere');
    expect(p.api.of('textLinks.withdraw')).toEqual([]);
    p.yes = true;
    await p.press(/Take back 1,125/);
    expect(p.api.of('textLinks.withdraw').map((a) => a.body)).toEqual([{ dispatchId: 'dsp_1' }]);
  });

  it('says what to do first where there is no page, and how a text comes by a link where none has one', async () => {
    await open({ kept: { domain: '', pageId: '', version: 0, pages: [] }, rows: [] });
    expect(said()).toContain('There is no opt-in page yet');
    expect(said()).toContain('choose “Insert link to their page”');
    await p.press('Save');
    expect(p.api.of('textLinks.save')).toEqual([]);
  });

  it('lets who may only read change and take back nothing', async () => {
    await open({ role: 'viewer' });
    expect(said()).toContain('An administrator changes it.');
    expect(said()).not.toContain('Take back');
    expect(p.host.querySelector<HTMLInputElement>('#domain')?.disabled).toBeTrue();
  });
});
