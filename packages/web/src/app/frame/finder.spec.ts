import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatDialogRef } from '@angular/material/dialog';
import { closePage, openPage, type Asked, type OpenPage } from '../../testing/open-page';
import { Finder } from './finder';

let closed = 0;

@Component({
  imports: [Finder],
  providers: [{ provide: MatDialogRef, useValue: { close: () => closed++ } }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-finder />`,
})
class Host {}

describe('the finder', () => {
  let p: OpenPage;
  beforeEach(async () => {
    closed = 0;
    p = await openPage(Host, {
      find: ({ query }: Asked) => ({
        items:
          query['q'] === 'ferr'
            ? Array.from({ length: 25 }, (_, i) => ({
                kind: 'contact',
                title: `Ferris ${i}`,
                detail: '',
                link: `contacts?open=con_${i}`,
              }))
            : [],
      }),
    });
  });
  afterEach(() => closePage(p));

  const field = (): HTMLInputElement => p.host.querySelector('input') as HTMLInputElement;
  const type = async (words: string): Promise<void> => {
    field().value = words;
    field().dispatchEvent(new Event('input', { bubbles: true }));
    await new Promise((r) => setTimeout(r, 150));
    await p.settle();
  };
  const key = async (name: string): Promise<void> => {
    field().dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true }));
    await p.settle();
  };
  const at = (): HTMLElement | null => p.host.querySelector(`[id="${field().getAttribute('aria-activedescendant')}"]`);

  it('goes to a place by a few letters of it and Enter', async () => {
    await type('disp');
    expect(at()?.textContent).toContain('Dispatch');
    await key('Enter');
    expect([p.url(), closed]).toEqual(['/b/biz_1/dispatch', 1]);
  });

  it('keeps what the arrows are at in sight, and says it to who does not see', async () => {
    await type('ferr');
    for (let i = 0; i < 22; i++) await key('ArrowDown');
    expect(at()?.textContent).toContain('Ferris 22');
    const list = p.host.querySelector('ul')?.getBoundingClientRect();
    const mine = at()?.getBoundingClientRect();
    expect(mine?.bottom ?? Infinity).toBeLessThanOrEqual((list?.bottom ?? 0) + 1);
    for (let i = 0; i < 30; i++) await key('ArrowUp');
    expect(at()?.textContent).toContain('Ferris 0');
    expect(at()?.getBoundingClientRect().top ?? 0).toBeGreaterThanOrEqual((list?.top ?? 0) - 1);
  });

  it('says that nothing is found, offers no list then, and goes on when more is typed', async () => {
    await type('xyzzy');
    expect(p.host.querySelector('[role="status"]')?.textContent).toBe('Nothing by these words.');
    expect(p.host.querySelector('[role="listbox"]')).toBeNull();
    expect([field().getAttribute('aria-expanded'), field().getAttribute('aria-activedescendant')]).toEqual([
      'false',
      null,
    ]);
    await key('ArrowDown');
    await key('Enter');
    expect(closed).toBe(0);
    await type('inbox');
    expect(at()?.textContent).toContain('Inbox');
  });
});
