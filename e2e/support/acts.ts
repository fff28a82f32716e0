import type { ElementHandle, Page } from 'puppeteer-core';
import type { App } from './app';
import { patiently } from './patience';

/**
 * Presses what is named so: a button, a link, what folds. A screen that is drawn anew may put another
 * node in the place of the one found, before it is pressed, or hide what was there: then it is looked for again,
 * as long as anything is waited for. A press that throws has not touched the page, so nothing is pressed twice.
 */
export const pressing =
  (page: () => Page) =>
  async (words: string): Promise<void> => {
    const end = Date.now() + patiently(30_000);
    for (;;) {
      const found = await page().waitForFunction(
        (text) =>
          [...document.querySelectorAll('button, summary, a')].find((node) =>
            node.textContent?.trim().startsWith(text),
          ),
        {},
        words,
      );
      try {
        const node = found.asElement() as unknown as ElementHandle<HTMLElement>;
        await node.evaluate(standsStill);
        const open = await node.evaluate(isOpen);
        await node.click();
        // A page that scrolls of itself at that moment moves what folds from under the pointer: nothing was pressed.
        if (open === null || (await node.evaluate(isOpen)) !== open) return;
        throw new Error('it was not met');
      } catch (thrown) {
        if (Date.now() > end) throw new Error(`“${words}” cannot be pressed`, { cause: thrown });
        await new Promise((resolve) => setTimeout(resolve, 200));
      }
    }
  };

/** Resolves when a node is where it was a frame before. */
const standsStill = (node: Element): Promise<void> =>
  new Promise((resolve) => {
    const look = (before: string) =>
      requestAnimationFrame(() => {
        const now = JSON.stringify(node.getBoundingClientRect());
        if (now === before) resolve();
        else look(now);
      });
    look('');
  });

/** Of what folds: whether it is open. Null: it is something else. */
const isOpen = (node: Element): boolean | null =>
  node.tagName === 'SUMMARY' && node.isConnected ? (node.parentElement as HTMLDetailsElement).open : null;

/** Chooses an option of the field that is labelled so, both by how they begin. */
export const choosing =
  (page: () => Page) =>
  async (label: string, option: string): Promise<void> => {
    const found = await page().waitForFunction(
      (name) =>
        [...document.querySelectorAll('label')]
          .filter(({ textContent }) => textContent?.startsWith(name))
          .map(({ htmlFor }) => document.getElementById(htmlFor))
          .find((one) => one instanceof HTMLSelectElement),
      {},
      label,
    );
    const select = found.asElement() as unknown as ElementHandle<HTMLSelectElement>;
    const value = await select.evaluate(
      ({ options }, words) => [...options].find(({ text }) => text.startsWith(words))!.value,
      option,
    );
    await select.select(value);
  };

/** The API with a key of the observatory’s. What is refused throws. */
export async function apiOf(
  app: App,
): Promise<(method: string, path: string, body?: object) => Promise<Record<string, unknown>>> {
  const key = await app.apiKey();
  return async (method, path, body) => {
    const response = await fetch(`${app.web}/api/v1${path}`, {
      method,
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    const said = (await response.json()) as Record<string, unknown>;
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${JSON.stringify(said)}`);
    return said;
  };
}
