import type { Browser } from 'puppeteer-core';
import { launch } from '../browser.js';
import { Person, Running } from '../running.js';
import { Screen } from './screen.js';

/** The demo, running by itself: a browser in which its administrator is signed in, and the same person at the API. */
export class Desk {
  private constructor(
    readonly running: Running,
    readonly browser: Browser,
    readonly person: Person,
    readonly screen: Screen,
  ) {}

  static async open(): Promise<Desk> {
    const [running, browser] = await Promise.all([Running.start({ demo: true }), launch()]);
    const person = await new Person(running.url).signIn('administrator');
    const screen = await Screen.open(browser, running.url);
    await screen.press('Sign in as administrator');
    await screen.see('To decide');
    return new Desk(running, browser, person, screen);
  }

  /** The id of a business, by its name line. */
  business(nameLine: string): string {
    const id = this.person.businesses.find((b) => b.nameLine === nameLine)?.id;
    if (!id) throw new Error(`no business ${nameLine}`);
    return id;
  }

  /** Goes to a page of a business. */
  async at(nameLine: string, page: string): Promise<void> {
    await this.screen.page.goto(`${this.running.url}/b/${this.business(nameLine)}/${page}`, { waitUntil: 'load' });
  }

  async close(): Promise<void> {
    await this.browser.close();
    await this.running.stop();
  }
}
