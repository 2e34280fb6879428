import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { PortDeskPage } from './port-desk';

const port = (id: string, over: object = {}) => ({
  id,
  state: 'draft',
  losingCarrier: 'Harth Telephone',
  numbers: [{ e164: '+16095550110' }, { e164: '+16095550111' }],
  facts: { pinExpires: '' },
  focOn: '',
  lastDayToChange: '',
  letter: { state: 'none', linkExpiresAt: null },
  nextStep: { title: 'Put the request together.', why: 'It is not submitted.' },
  late: false,
  version: 1,
  ...over,
});

describe('the port desk', () => {
  let p: OpenPage;
  const open = async (
    at: string,
    begin: object = { ports: [], refused: [], remarks: [] },
    role = 'administrator',
  ): Promise<void> => {
    p = await openPage(
      PortDeskPage,
      {
        'ports.list': {
          items: [port('a', { focOn: '2027-03-24', state: 'accepted' }), port('b', { state: 'done' })],
          calendarPath: '/calendar/secret.ics',
        },
        'ports.begin': begin,
        'ports.renew-calendar': { done: true },
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));

  it('names each request by its first number and how many more, and draws what falls due', async () => {
    await open('/page');
    expect(p.text()).toContain('+1 609-555-0110 and 1 more');
    expect(p.text()).toContain('Next: +1 609-555-0110 and 1 more lands, Wed 24 Mar.');
    await open2('under way');
  });
  /** Narrowed to one kind of request, by the address. */
  async function open2(show: string): Promise<void> {
    closePage(p);
    await open(`/page?show=${encodeURIComponent(show)}`);
    expect(Array.from(p.host.querySelectorAll('tr[data-row]')).map((r) => r.getAttribute('data-row'))).toEqual(['a']);
  }

  it('begins with what is pasted; one request is gone to at once', async () => {
    await open('/page', { ports: [port('c')], refused: [], remarks: [] });
    await p.press('Bring numbers in');
    await p.fill('numbers', '609-555-0110');
    await p.press('Test and begin');
    expect(p.api.of('ports.begin').map((a) => a.body)).toEqual([{ numbers: '609-555-0110' }]);
    expect(p.url()).toBe('/b/biz_1/numbers/ports/c');
  });

  it('leaves what was refused to be mended, with the reason, and says what was begun', async () => {
    await open('/page?bring=911', { ports: [port('c'), port('d')], refused: [{ raw: '911', why: 'Too few digits.' }] });
    expect(p.host.querySelector<HTMLTextAreaElement>('#numbers')?.value).toBe('911');
    await p.press('Test and begin');
    expect(p.text()).toContain('911: Too few digits.');
    expect(p.host.querySelector<HTMLTextAreaElement>('#numbers')?.value).toBe('911');
    expect(p.said).toEqual(['2 requests begun, one for each losing carrier.']);
    expect(p.url()).toBe('/page?bring=911');
  });

  it('asks for nothing where nothing was written', async () => {
    await open('/page');
    await p.press('Bring numbers in');
    await p.press('Test and begin');
    expect(p.host.querySelector('#numbers-wrong')).not.toBeNull();
    expect(p.api.of('ports.begin')).toEqual([]);
  });

  it('is only read by one who may not act', async () => {
    await open('/page', {}, 'viewer');
    expect(p.text()).not.toContain('Bring numbers in');
  });
});
