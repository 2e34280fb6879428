import type { SiteDevice, SitePlace } from '@long-gate/core';
import type { SaidToSite } from './opt-in';

/** How a page's form is shown on a site; the server writes it into the script it hands out. */
export interface OnSite {
  slug: string;
  title: string;
  close: string;
  place: SitePlace;
  devices: SiteDevice;
  paths: readonly string[];
  afterSeconds: number;
  afterDown: number;
  againDays: number;
}
/** The same, and where we are, as `https://texts.example`: where the script itself came from. */
export type Placed = OnSite & { origin: string };

const DAY_MS = 86_400_000;
const PHONE = '(max-width: 640px)';

/** Whether an address of the site is one of these: `*` stands for anything, also nothing. None named: all are. */
export function isAmong(path: string, paths: readonly string[]): boolean {
  const exact = (s: string): string => s.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replaceAll('*', '.*');
  return paths.length === 0 || paths.some((p) => new RegExp(`^${exact(p)}$`).test(path));
}

/** Whether a visitor who closed the form, or joined, is left alone. @param remembered what was kept of it, or null. */
export function isLeftAlone(remembered: string | null, now: number, againDays: number): boolean {
  if (remembered === null) return false;
  if (remembered === 'joined') return true;
  return now - Number(remembered) < againDays * DAY_MS;
}

/** How far down a page of this height one has read, in hundredths; a page without more to see is read to its end. */
export function readDown(top: number, window_: number, whole: number): number {
  return whole <= window_ ? 100 : Math.round(((top + window_) / whole) * 100);
}

/** Set by script, which the strictest policy of a site for styles allows, where a `style` in HTML is refused. */
function style(el: HTMLElement, rules: Record<string, string>): void {
  for (const [name, value] of Object.entries(rules)) el.style.setProperty(name, value);
}

function frameOf(o: Placed, at: string): HTMLIFrameElement {
  const frame = document.createElement('iframe');
  frame.src = `${o.origin}/join/${o.slug}?in=frame&at=${encodeURIComponent(at)}`;
  frame.title = o.title;
  frame.loading = 'lazy';
  style(frame, { width: '100%', height: '420px', border: '0', display: 'block' });
  return frame;
}

/** Storage of the site; null where the visitor's browser gives none. */
function siteMemory(): Storage | null {
  try {
    return localStorage;
  } catch {
    return null;
  }
}

/** Shows the form on this site, where and when it is meant to. @param script where it stands in the page. */
export function show(o: Placed, script: HTMLScriptElement | null): void {
  if (!isAmong(location.pathname, o.paths)) return;
  if (o.devices !== 'all' && (o.devices === 'phones') !== matchMedia(PHONE).matches) return;
  const memory = siteMemory();
  const key = `long-gate ${o.slug}`;
  const at = location.origin + location.pathname;
  const listen = (frame: HTMLIFrameElement, most: () => number): void => {
    addEventListener('message', (e: MessageEvent<Partial<SaidToSite> | null>) => {
      const said = e.source === frame.contentWindow && e.origin === o.origin ? e.data?.longGate : undefined;
      if (!said) return;
      style(frame, { height: `${Math.min(said.height, most())}px` });
      if (said.joined) memory?.setItem(key, 'joined');
    });
  };
  if (o.place === 'in the page') {
    const frame = frameOf(o, at);
    listen(frame, () => 4000);
    script?.after(frame);
    return;
  }
  if (o.againDays > 0 && isLeftAlone(memory?.getItem(key) ?? null, Date.now(), o.againDays)) return;
  whenItsTime(o, () => openSheet(o, frameOf(o, at), listen, () => memory?.setItem(key, String(Date.now()))));
}

/** After so long, or so far down, whichever comes first; at once where neither is given. */
export function whenItsTime(o: Pick<OnSite, 'afterSeconds' | 'afterDown'>, then: () => void): void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const once = (): void => {
    clearTimeout(timer);
    removeEventListener('scroll', scrolled);
    then();
  };
  const scrolled = (): void => {
    if (readDown(scrollY, innerHeight, document.documentElement.scrollHeight) >= o.afterDown) once();
  };
  if (o.afterSeconds === 0 && o.afterDown === 0) return then();
  if (o.afterSeconds > 0) timer = setTimeout(once, o.afterSeconds * 1000);
  if (o.afterDown > 0) {
    addEventListener('scroll', scrolled, { passive: true });
    scrolled();
  }
}

/** A sheet above the page, which Escape, its button and a press beside it close. */
function openSheet(
  o: Placed,
  frame: HTMLIFrameElement,
  listen: (frame: HTMLIFrameElement, most: () => number) => void,
  closed: () => void,
): void {
  const sheet = document.createElement('dialog');
  sheet.setAttribute('aria-label', o.title);
  style(sheet, {
    padding: '0',
    border: '0',
    width: 'min(420px, 94vw)',
    'max-width': '94vw',
    'max-height': '94vh',
    overflow: 'auto',
    background: '#fff',
  });
  const close = document.createElement('button');
  close.type = 'button';
  close.textContent = o.close;
  style(close, {
    display: 'block',
    'margin-left': 'auto',
    'min-height': '44px',
    padding: '0 16px',
    border: '0',
    background: 'none',
    color: '#1d2a2f',
    font: '16px system-ui, sans-serif',
    'text-decoration': 'underline',
    cursor: 'pointer',
  });
  close.addEventListener('click', () => sheet.close());
  sheet.addEventListener('click', (e) => {
    if (e.target === sheet) sheet.close();
  });
  sheet.addEventListener('close', () => {
    closed();
    sheet.remove();
  });
  frame.loading = 'eager';
  listen(frame, () => Math.round(innerHeight * 0.94) - 44);
  sheet.append(close, frame);
  document.body.append(sheet);
  sheet.showModal();
}
