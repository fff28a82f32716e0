import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';

const axePath = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

interface AxeResult {
  violations: { id: string; nodes: { target: string[]; failureSummary?: string }[] }[];
}

/** What axe finds wrong on a page, in words; empty when nothing is. */
export async function violations(page: Page): Promise<string[]> {
  await page.addScriptTag({ path: axePath });
  const result = (await page.evaluate('axe.run(document, { resultTypes: ["violations"] })')) as AxeResult;
  return result.violations.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id} at ${node.target.join(' ')}`),
  );
}
