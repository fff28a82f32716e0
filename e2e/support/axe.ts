import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';

const axePath = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

interface AxeResult {
  violations: { id: string; nodes: { target: string[]; failureSummary?: string }[] }[];
}

/**
 * What axe finds wrong on a page in the light and in the dark theme, in words; empty when nothing is. A page that is drawn anew
 * while it is looked at may be without its title for a moment: what is wrong is so at a second look.
 */
export async function violations(page: Page): Promise<string[]> {
  await page.addScriptTag({ path: axePath });
  const found = await look(page);
  if (found.length === 0) return found;
  const again = await look(page);
  return found.filter((one) => again.includes(one));
}

/** The theme changes colours and nothing else, so the dark one is asked for those. */
async function look(page: Page): Promise<string[]> {
  const found: string[] = [];
  for (const [theme, rules] of [
    ['dark', ', runOnly: { type: "rule", values: ["color-contrast", "link-in-text-block"] }'],
    ['light', ''],
  ] as const) {
    await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: theme }]);
    const result = (await page.evaluate(
      `axe.run(document, { resultTypes: ["violations"]${rules} })`,
    )) as AxeResult;
    for (const { id, nodes } of result.violations)
      found.push(...nodes.map((node) => `${theme}: ${id} at ${node.target.join(' ')}`));
  }
  return found;
}
