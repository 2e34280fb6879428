import type { Browser, Page } from 'puppeteer-core';
import { PATIENCE_MS } from '../running.js';

/** A page as a person uses it: by words and labels. */
export class Screen {
  readonly errors: string[] = [];
  private constructor(readonly page: Page) {
    page.on('pageerror', (e) => this.errors.push(String(e)));
    page.on('console', (m) => {
      // A refused request shows in the console too; that is no fault of the page.
      if (m.type() === 'error' && !m.text().includes('Failed to load resource')) this.errors.push(m.text());
    });
  }

  static async open(browser: Pick<Browser, 'newPage'>, url: string, width = 1280): Promise<Screen> {
    const page = await browser.newPage();
    await page.setViewport({ width, height: 800 });
    page.setDefaultTimeout(PATIENCE_MS);
    const screen = new Screen(page);
    await page.goto(url, { waitUntil: 'load' });
    return screen;
  }

  /**
   * Presses the first enabled button or link with these words. It looks again and again, since often only the words of
   * a button change.
   */
  async press(words: string): Promise<void> {
    const q = JSON.stringify(words);
    await this.pressed(
      `//*[(self::a or self::button or @role='button' or @role='menuitem') and not(@disabled) and contains(normalize-space(.), ${q})]`,
    ).catch(async () => {
      const text = await this.page.evaluate(() => document.body.innerText.replace(/\s+/g, ' ').slice(0, 900));
      throw new Error(`nothing to click says ${q} at ${this.page.url()}. Seen: ${text}`);
    });
  }

  /** Clicks what the selector finds, once it is there; the page may draw itself anew meanwhile. */
  async tap(selector: string): Promise<void> {
    await this.pressed(selector);
  }

  /**
   * Clicks the first one found, in the same breath in which it is found a second time: a page that reckons anew may
   * disable it in between, and a link that was just drawn leads nowhere until Angular's next turn, which nobody who
   * looks first could notice.
   * @param what a selector, or an XPath, which begins with a slash.
   */
  private async pressed(what: string): Promise<void> {
    await this.page.waitForFunction(
      async (w) => {
        const find = (): HTMLElement | null =>
          w.startsWith('/')
            ? (document.evaluate(w, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE)
                .singleNodeValue as HTMLElement | null)
            : document.querySelector<HTMLElement>(w);
        const first = find();
        if (!first) return false;
        // Angular's turn was asked for when the link was drawn, and so comes before this one.
        await new Promise((resolve) => setTimeout(resolve, 20));
        const again = find() === first;
        if (again) first.click();
        return again;
      },
      { polling: 100 },
      what,
    );
  }

  async see(words: string, ms = PATIENCE_MS): Promise<void> {
    await this.page
      .waitForFunction(
        (w) => (document.body.innerText ?? '').replace(/\s+/g, ' ').includes(w),
        { timeout: ms, polling: 150 },
        words,
      )
      .catch(async () => {
        const text = await this.page.evaluate(() => document.body.innerText.replace(/\s+/g, ' ').slice(0, 1800));
        throw new Error(`“${words}” is not to be seen at ${this.page.url()}. Seen: ${text}`);
      });
  }

  async sees(words: string): Promise<boolean> {
    return this.page.evaluate((w) => (document.body.innerText ?? '').replace(/\s+/g, ' ').includes(w), words);
  }

  async gone(words: string): Promise<void> {
    await this.page.waitForFunction(
      (w) => !(document.body.innerText ?? '').replace(/\s+/g, ' ').includes(w),
      { polling: 150 },
      words,
    );
  }

  /** Writes into the field with this id, replacing what stands in it. */
  async fill(id: string, text: string): Promise<void> {
    const el = await this.page.waitForSelector(`[id="${id}"]`);
    await el?.evaluate((e, value) => {
      const field = e as HTMLInputElement;
      field.focus();
      field.value = value;
      field.dispatchEvent(new Event('input', { bubbles: true }));
      field.dispatchEvent(new Event('change', { bubbles: true }));
      field.blur();
    }, text);
  }

  /** Chooses the option that contains these words. */
  async choose(selector: string, words: string): Promise<void> {
    await this.page.waitForFunction(
      (s, w) => Array.from(document.querySelector<HTMLSelectElement>(s)?.options ?? []).some((o) => o.text.includes(w)),
      { polling: 100 },
      selector,
      words,
    );
    await this.page.$eval(
      selector,
      (e, w) => {
        const select = e as HTMLSelectElement;
        select.value = Array.from(select.options).find((o) => o.text.includes(w))?.value ?? '';
        select.dispatchEvent(new Event('change', { bubbles: true }));
      },
      words,
    );
  }

  async go(path: string): Promise<void> {
    const base = this.page.url().split('/').slice(0, 5).join('/');
    await this.page.goto(`${base}/${path}`, { waitUntil: 'load' });
  }

  async text(selector: string): Promise<string> {
    await this.page.waitForSelector(selector);
    return this.page.$eval(selector, (e) => (e as HTMLElement).innerText.replace(/\s+/g, ' ').trim());
  }
}
