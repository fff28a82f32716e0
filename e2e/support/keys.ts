import type { Page } from 'puppeteer-core';
import { patiently } from './patience';

/** What a person at the keyboard does and sees. */
export interface Keys {
  /** Waits until the page shows these words; fails with what it shows instead. */
  see(words: string, patience?: number): Promise<void>;
  press(...keys: string[]): Promise<void>;
  /** Moves the focus by Tab until it stands on something whose name begins so: no mouse. */
  tabTo(name: string): Promise<void>;
  type(text: string): Promise<void>;
}

export function keysOf(page: Page): Keys {
  return {
    async see(words, patience = 40_000) {
      try {
        await page.waitForFunction(
          (text) => document.body.innerText.includes(text),
          { timeout: patiently(patience) },
          words,
        );
      } catch {
        throw new Error(
          `"${words}" is not on ${page.url()}:\n${await page.evaluate(() => document.body.innerText)}`,
        );
      }
    },
    async press(...keys) {
      for (const one of keys) await page.keyboard.press(one as 'Enter');
    },
    async tabTo(name) {
      const seen: string[] = [];
      for (let i = 0; i < 160; i++) {
        await page.keyboard.press('Tab');
        const here = await page.evaluate(nameOfFocus);
        if (here.startsWith(name)) return;
        seen.push(here.slice(0, 30));
      }
      throw new Error(`Tab never reached "${name}" on ${page.url()}: ${[...new Set(seen)].join(' | ')}`);
    },
    type: (text) => page.keyboard.type(text),
  };
}

/** Runs in the page. */
function nameOfFocus(): string {
  const node = document.activeElement as HTMLElement | null;
  const id = node?.id;
  const label = id ? document.querySelector(`label[for="${CSS.escape(id)}"]`)?.textContent : null;
  const by = node?.getAttribute('aria-labelledby');
  return (
    node?.getAttribute('aria-label') ??
    (by ? document.getElementById(by)?.textContent : null) ??
    label ??
    node?.closest('label')?.textContent ??
    node?.innerText ??
    ''
  ).trim();
}
