import { isAmong, isLeftAlone, readDown, show, whenItsTime, type Placed } from './on-site';

const DAY = 86_400_000;
const how = (over: Partial<Placed> = {}): Placed => ({
  origin: 'https://texts.example',
  slug: 'heron',
  title: 'Texts from Heron Lane',
  close: 'Close',
  place: 'above it',
  devices: 'all',
  paths: [],
  afterSeconds: 0,
  afterDown: 0,
  againDays: 30,
  ...over,
});
const sheet = (): HTMLDialogElement | null => document.querySelector('dialog');

describe('a form on another site', () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => {
    sheet()?.remove();
    document.querySelectorAll('iframe[src^="https://texts.example"]').forEach((f) => f.remove());
  });

  it('is shown at the addresses that are named, and everywhere where none is', () => {
    expect(isAmong('/anything', [])).toBeTrue();
    expect(isAmong('/shop', ['/shop/*'])).toBeFalse();
    expect(isAmong('/shop/bread', ['/shop/*'])).toBeTrue();
    expect(isAmong('/shop', ['/shop*', '/about'])).toBeTrue();
    expect(isAmong('/aboutus', ['/about'])).toBeFalse();
    // A dot is a dot.
    expect(isAmong('/axhtml', ['/a.html'])).toBeFalse();
    expect(isAmong('/a.html', ['/a.html'])).toBeTrue();
  });

  it('leaves alone who has closed it for so long, and who has joined for good', () => {
    const now = 1000 * DAY;
    expect(isLeftAlone(null, now, 30)).toBeFalse();
    expect(isLeftAlone(String(now - 29 * DAY), now, 30)).toBeTrue();
    expect(isLeftAlone(String(now - 31 * DAY), now, 30)).toBeFalse();
    expect(isLeftAlone('joined', now, 30)).toBeTrue();
  });

  it('knows how far down one has read', () => {
    expect(readDown(0, 800, 700)).toBe(100);
    expect(readDown(0, 800, 1600)).toBe(50);
    expect(readDown(800, 800, 1600)).toBe(100);
  });

  it('comes after so long or so far down, whichever is first, and once', () => {
    jasmine.clock().install();
    try {
      let came = 0;
      whenItsTime({ afterSeconds: 10, afterDown: 0 }, () => came++);
      jasmine.clock().tick(9_999);
      expect(came).toBe(0);
      jasmine.clock().tick(1);
      expect(came).toBe(1);
      // The page of the specs is read to any depth: it is there at once, and the clock brings it no second time.
      spyOnProperty(document.documentElement, 'scrollHeight').and.returnValue(1);
      whenItsTime({ afterSeconds: 10, afterDown: 50 }, () => came++);
      jasmine.clock().tick(60_000);
      expect(came).toBe(2);
      whenItsTime({ afterSeconds: 0, afterDown: 0 }, () => came++);
      expect(came).toBe(3);
    } finally {
      jasmine.clock().uninstall();
    }
  });

  it('stands where its line stands, with the page that showed it named', () => {
    const line = document.createElement('script');
    line.type = 'text/plain';
    document.body.append(line);
    show(how({ place: 'in the page' }), line);
    const frame = line.nextElementSibling as HTMLIFrameElement;
    expect(frame.src).toBe(
      `https://texts.example/join/heron?in=frame&at=${encodeURIComponent(location.origin + location.pathname)}`,
    );
    expect(frame.title).toBe('Texts from Heron Lane');
    line.remove();
  });

  it('lies above the page as a sheet; closed, it stays away at the next visit', () => {
    show(how(), null);
    expect(sheet()?.open).toBeTrue();
    sheet()?.querySelector('button')?.click();
    return new Promise<void>((done) => {
      setTimeout(() => {
        expect(sheet()).toBeNull();
        show(how(), null);
        expect(sheet()).toBeNull();
        show(how({ againDays: 0 }), null);
        expect(sheet()).withContext('where it is to be shown at every visit').not.toBeNull();
        done();
      }, 50);
    });
  });

  it('is not shown on the other kind of device', () => {
    const narrow = matchMedia('(max-width: 640px)').matches;
    show(how({ devices: narrow ? 'desks' : 'phones' }), null);
    expect(sheet()).toBeNull();
    show(how({ devices: narrow ? 'phones' : 'desks' }), null);
    expect(sheet()).not.toBeNull();
  });

  it('believes what its own frame says, and nobody else', () => {
    show(how(), null);
    const frame = sheet()?.querySelector('iframe');
    const say = (origin: string, source: MessageEventSource | null): void => {
      const data = { longGate: { height: 300, joined: true } };
      dispatchEvent(new MessageEvent('message', { origin, source, data }));
    };
    say('https://evil.example', frame?.contentWindow ?? null);
    say('https://texts.example', window);
    expect(localStorage.getItem('long-gate heron')).toBeNull();
    say('https://texts.example', frame?.contentWindow ?? null);
    expect(localStorage.getItem('long-gate heron')).toBe('joined');
    expect(frame?.style.height).toBe('300px');
  });
});
