// Takes the pictures of docs/screenshots from a running application with the demo: `npx tsx scripts/pictures.ts [folder] [name …]`.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { openBrowser, signIn } from '../e2e/support/browser';

const base = process.env.WREN_URL ?? 'http://localhost:4400';
const [folder = 'docs/screenshots', ...names] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });
const { browser, close } = await openBrowser();
const page = await browser.newPage();
await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: process.env.WREN_THEME ?? 'light' }]);
await signIn(page, base, 'marek@juniper-gap.example.org');
/** The id of a program by its name. */
async function programCalled(name: string): Promise<string> {
  await page.goto(`${base}/programs`);
  return page.$$eval(
    'a[href^="/programs/"]',
    (nodes, called) =>
      (nodes.find((node) => node.textContent === called) as HTMLAnchorElement).href.split('/').at(-1)!,
    name,
  );
}
const first = (selector: string) => page.$eval(selector, (node) => (node as HTMLAnchorElement).href);

const VIEWS: [string, () => Promise<void>][] = [
  ['today', async () => void (await page.goto(base))],
  ['inbox', async () => void (await page.goto(`${base}/inbox`))],
  [
    'broadcast',
    async () => (
      await page.goto(`${base}/results/works?days=120`),
      void (await page.goto(
        await page.$$eval(
          'main td a',
          (nodes) =>
            (nodes.find((node) => node.textContent === 'Late meteor alert') as HTMLAnchorElement).href,
        ),
      ))
    ),
  ],
  [
    'draft',
    async () => {
      await page.goto(`${base}/sends/new`);
      await page.waitForSelector('.cm-content');
      await page.type('input[placeholder="Saturn week"]', 'Star party');
      await page.type('.cm-content', 'Juniper Gap Observatory: Hi ');
      await page.$$eval('button', (buttons) =>
        buttons.find((button) => button.textContent === 'first name')?.click(),
      );
      await page.type('.cm-content', ', Saturday is our star party – bring a lamp. Reply STOP to stop.');
      await page.$eval('section[aria-label=Files] select', (node) => {
        const select = node as HTMLSelectElement;
        select.value = [...select.options].find(({ text }) => text.startsWith('dome'))!.value;
        select.dispatchEvent(new Event('change', { bubbles: true }));
      });
      await page.waitForFunction(() => document.body.innerText.includes('picture message'));
      await new Promise((resolve) => setTimeout(resolve, 900));
    },
  ],
  [
    'people',
    async () => {
      await page.goto(`${base}/people`);
      await page.$$eval('nav[aria-label=Segments] button', (buttons) =>
        buttons.find((button) => button.textContent?.includes('missed Saturn week'))?.click(),
      );
      await page.waitForFunction(() => document.body.innerText.includes('everybody'));
      await page.waitForFunction(
        () => !document.querySelector<HTMLElement>('nav[aria-label=Segments]')!.innerText.includes('…'),
      );
      await new Promise((resolve) => setTimeout(resolve, 1_200));
    },
  ],
  [
    'sequence',
    async () => {
      await page.goto(`${base}/programs/sequences`);
      await page.goto(
        await page.$$eval(
          'main td a',
          (nodes) =>
            (nodes.find((node) => node.textContent?.includes('Three months')) as HTMLAnchorElement).href,
        ),
      );
      await page.waitForSelector('[aria-label=Itinerary] li');
      await new Promise((resolve) => setTimeout(resolve, 900));
    },
  ],
  [
    'import',
    async () => (await page.goto(`${base}/people/imports`), void (await page.goto(await first('main td a')))),
  ],
  [
    'drop',
    async () => {
      await page.goto(`${base}/sends/new?channel=voicemail&program=${await programCalled('Dome Members')}`);
      await page.waitForFunction(() => document.querySelectorAll('select').length > 2);
      await page.$$eval('select', (all) => {
        const select = all.find(({ options }) =>
          [...options].some(({ text }) => text.startsWith('A second look')),
        )!;
        select.value = [...select.options].find(({ text }) => text.startsWith('A second look'))!.value;
        select.dispatchEvent(new Event('change', { bubbles: true }));
      });
      await page.waitForFunction(() => document.body.innerText.includes('Calls it brings back'));
      // The calls it brings are the point.
      await page.$$eval('aside h2', (nodes) =>
        nodes.find((node) => node.textContent === 'Clearance report')?.scrollIntoView(),
      );
      await new Promise((resolve) => setTimeout(resolve, 900));
    },
  ],
  [
    'calls',
    async () => {
      await page.goto(`${base}/inbox/calls`);
      await page.waitForSelector('ol[aria-label="To call"]');
    },
  ],
  ['inquiries', async () => void (await page.goto(`${base}/programs/inquiries`))],
  [
    'chat-template',
    async () => {
      await page.goto(`${base}/sends/chat-templates`);
      await page.goto(
        await page.$$eval(
          'main td a',
          (nodes) => (nodes.find((node) => node.textContent === 'sky_week') as HTMLAnchorElement).href,
        ),
      );
    },
  ],
  [
    'thread',
    async () => {
      // Somebody joins by chat now: the window of whoever wrote in the story is closed.
      const bench = process.env.WREN_BENCH_URL ?? 'http://localhost:4401';
      for (const body of ['SKY', 'Is the terrace open on Saturday, too?'])
        await fetch(`${bench}/handsets/owl-7/chats`, {
          ...{ method: 'POST', headers: { 'content-type': 'application/json' } },
          body: JSON.stringify({
            to: 'juniper',
            body,
            profile: { name: 'Wilhelmina Owlet', language: 'en' },
          }),
        }).then(() => new Promise((resolve) => setTimeout(resolve, 2_500)));
      await page.goto(`${base}/inbox`);
      await page.goto(
        await page.$$eval(
          'main td a',
          (nodes) =>
            (nodes.find((node) => node.textContent?.includes('Wilhelmina Owlet')) as HTMLAnchorElement).href,
        ),
      );
      // The editor comes a moment after the page.
      await page.waitForSelector('.cm-content');
    },
  ],
  [
    'person',
    async () => (
      await page.goto(`${base}/people?q=aoife&sort=-last_text`),
      await page.waitForSelector('main td a'),
      void (await page.goto(await first('main td a')))
    ),
  ],
  [
    'program',
    async () => (await page.goto(`${base}/programs`), void (await page.goto(await first('main td a')))),
  ],
  ['results', async () => void (await page.goto(`${base}/results`))],
  ['numbers', async () => void (await page.goto(`${base}/numbers`))],
  ['credits', async () => void (await page.goto(`${base}/credits`))],
  ['registration', async () => void (await page.goto(`${base}/numbers/registration`))],
  [
    'test-bench',
    async () => {
      await page.goto(process.env.WREN_BENCH_URL ?? 'http://localhost:4401');
      await new Promise((resolve) => setTimeout(resolve, 600));
    },
  ],
];

for (const [name, open] of VIEWS) {
  if (names.length > 0 && !names.includes(name)) continue;
  await open();
  await new Promise((resolve) => setTimeout(resolve, 350));
  await page.screenshot({ path: join(folder, `${name}.png`) as `${string}.png` });
}
await close();
