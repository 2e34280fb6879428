/** What a page of ours says to the page of another site that shows it. */
export interface SaidToSite {
  longGate: { height: number; joined: boolean };
}

type Count = (step: 'seen' | 'begun') => void;

/** Tells once in a visit that the page was seen, and once that somebody began to fill it in. */
export function countVisit(form: HTMLFormElement, memory: Storage | null, count: Count): void {
  const once = (step: 'seen' | 'begun'): void => {
    const key = `long-gate ${form.getAttribute('action') ?? ''} ${step}`;
    if (memory?.getItem(key)) return;
    memory?.setItem(key, '1');
    count(step);
  };
  once('seen');
  form.addEventListener('input', () => once('begun'), { once: true });
}

/** The second press of a button that has been pressed does nothing. */
export function sendOnce(form: HTMLFormElement): void {
  let sent = false;
  form.addEventListener('submit', (e) => {
    if (sent) e.preventDefault();
    sent = true;
  });
}

/** Tells the site how high the page is, whenever that changes, so that it needs no scroll bar of its own there. */
export function tellHeight(page: Document, tell: (said: SaidToSite) => void): void {
  const joined = page.querySelector('form') === null;
  const say = (): void => tell({ longGate: { height: Math.ceil(page.body.getBoundingClientRect().height), joined } });
  new ResizeObserver(say).observe(page.body);
  say();
}

/** Storage of this visit; null where the browser gives none, as in a frame of another site it may. */
function visitMemory(): Storage | null {
  try {
    return sessionStorage;
  } catch {
    return null;
  }
}

export function begin(page: Document): void {
  const form = page.querySelector('form');
  const slug = /^\/join\/([^/]+)/.exec(location.pathname)?.[1];
  if (form && slug) {
    countVisit(form, visitMemory(), (step) => {
      void fetch(`/api/v1/public/pages/${slug}/looks`, {
        method: 'POST',
        keepalive: true,
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ step }),
      }).catch(() => undefined);
    });
    sendOnce(form);
  }
  if (window.parent !== window) tellHeight(page, (said) => window.parent.postMessage(said, '*'));
}
