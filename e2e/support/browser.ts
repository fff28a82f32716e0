import { patiently } from './patience';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import { findChromium } from '../../scripts/places.mjs';

const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--force-color-profile=srgb',
];

/**
 * Debian's Chromium with a profile of its own that goes with it.
 * @param more flags of the browser, such as a microphone that is played
 */
export async function openBrowser(
  more: readonly string[] = [],
): Promise<{ browser: Browser; close: () => Promise<void> }> {
  const profile = mkdtempSync(join(tmpdir(), 'wren-chromium-'));
  const browser = await puppeteer.launch({
    executablePath: findChromium() ?? '/usr/bin/chromium',
    args: [...FLAGS, ...more],
    userDataDir: profile,
    defaultViewport: { width: 1280, height: 800 },
  });
  const close = async () => {
    await browser.close();
    rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
  };
  return { browser, close };
}

/**
 * Looks at what a page shows as a person does: what is not there yet is waited for. A screen that says it is done
 * may draw the row that came of it a moment later.
 */
function lookPatiently(page: Page): void {
  page.setDefaultTimeout(patiently(30_000));
  const look = page.$eval.bind(page);
  page.$eval = (async (selector: string, ...rest: [() => unknown]) => {
    await page.waitForSelector(selector);
    return look(selector, ...rest);
  }) as typeof look;
}

export async function signIn(
  page: Page,
  base: string,
  email: string,
  password = 'clear-skies-tonight',
): Promise<void> {
  lookPatiently(page);
  await page.goto(`${base}/sign-in`, { waitUntil: 'load' });
  await page.type('input[name=email]', email);
  await page.type('input[name=password]', password);
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => location.pathname !== '/sign-in', { timeout: patiently(40_000) });
}
