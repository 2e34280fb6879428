import type { Browser } from 'puppeteer-core';

interface HandsetText {
  text: string;
  direction: string;
  peer: string;
}

/** Somebody's phone, as the simulated outside shows it on screen. */
export class Handset {
  /**
   * @param outside address of the simulated outside.
   * @param e164 the phone's own number.
   */
  constructor(
    private readonly outside: string,
    private readonly e164: string,
  ) {}

  /** What stands on it, the first first. */
  async texts(): Promise<HandsetText[]> {
    const answer = await fetch(`${this.outside}/handset/phones/${encodeURIComponent(this.e164)}`);
    return ((await answer.json()) as { texts: HandsetText[] }).texts;
  }

  /** Types a text to a number and sends it, as a thumb would. */
  async write(browser: Browser, to: string, text: string): Promise<void> {
    const page = await browser.newPage();
    await page.goto(`${this.outside}/handset?number=${encodeURIComponent(this.e164)}&to=${encodeURIComponent(to)}`);
    await page.waitForSelector('#text');
    await page.type('#text', text);
    await page.click('button[type=submit]');
    await page.waitForFunction(
      (t) => Array.from(document.querySelectorAll('li.out')).some((li) => li.textContent?.includes(t)),
      {},
      text,
    );
    await page.close();
  }
}
