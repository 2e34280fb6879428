import { existsSync } from 'node:fs';
import puppeteer, { type Browser } from 'puppeteer-core';

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--force-color-profile=srgb',
];

/** Headless Chromium, Debian's where no other is named by CHROME_BIN. */
export async function launch(): Promise<Browser> {
  const executablePath = [
    process.env['CHROME_BIN'],
    '/usr/bin/chromium',
    '/usr/bin/chromium-browser',
    '/usr/bin/google-chrome',
  ].find((f) => f && existsSync(f));
  if (!executablePath) throw new Error('No Chromium found: install it, or name it in CHROME_BIN.');
  return puppeteer.launch({ executablePath, args: FLAGS, headless: true });
}
