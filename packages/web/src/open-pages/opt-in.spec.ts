import { countVisit, sendOnce, tellHeight, type SaidToSite } from './opt-in';

const form = (): HTMLFormElement => {
  const f = document.createElement('form');
  f.setAttribute('action', '/join/heron');
  f.innerHTML = '<input id="phone">';
  document.body.append(f);
  return f;
};

describe('the script of an opt-in page', () => {
  let f: HTMLFormElement;
  beforeEach(() => {
    sessionStorage.clear();
    f = form();
  });
  afterEach(() => f.remove());
  const type = (): unknown => f.querySelector('input')?.dispatchEvent(new Event('input', { bubbles: true }));

  it('counts a visit once, and its beginning once, also when the page is loaded again', () => {
    const counted: string[] = [];
    const visit = (): void => countVisit(f, sessionStorage, (step) => counted.push(step));
    visit();
    expect(counted).toEqual(['seen']);
    type();
    type();
    expect(counted).toEqual(['seen', 'begun']);
    f.remove();
    f = form();
    visit();
    type();
    expect(counted).toEqual(['seen', 'begun']);
  });

  it('counts where the browser keeps nothing', () => {
    const counted: string[] = [];
    countVisit(f, null, (step) => counted.push(step));
    type();
    expect(counted).toEqual(['seen', 'begun']);
  });

  it('lets a form be sent once', () => {
    sendOnce(f);
    const sent = (): boolean => {
      const e = new Event('submit', { cancelable: true });
      f.dispatchEvent(e);
      return !e.defaultPrevented;
    };
    expect([sent(), sent(), sent()]).toEqual([true, false, false]);
  });

  it('tells a site how high the page is, and when it has been filled in', () => {
    const page = document.implementation.createHTMLDocument('');
    page.body.innerHTML = '<form></form>';
    const said: SaidToSite[] = [];
    tellHeight(page, (s) => said.push(s));
    page.body.innerHTML = '<h1>Look at your phone</h1>';
    tellHeight(page, (s) => said.push(s));
    expect(said.map((s) => s.longGate.joined)).toEqual([false, true]);
    expect(said.every((s) => Number.isInteger(s.longGate.height))).toBeTrue();
  });
});
