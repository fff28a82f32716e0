import { readFileSync } from 'node:fs';
import { announce } from '@/db/delivery/texts';
import { addAccount } from '@/services/access/create-workspace';
import { signIn } from '@/services/access/sessions';
import { addCrowd } from '@/services/testing/crowd';
import { createProgram } from '@/services/programs/create-program';
import { must } from '@/services/testing/people';
import { scratchDatabase } from '../e2e/support/app';
import { Works } from '../e2e/support/works';
import { quantile, round, say } from './report';

const PORT = 4660;
const WEB = PORT + 8;
const READERS = 500;
const CHANGES = 20;
const EVERY_MS = 2_000;
/** Of a clock tick of the kernel (`/proc/<pid>/stat`). */
const TICK_MS = 10;

/** Five hundred pages that stay open while something changes: when each is told, and what that costs the pages' process. */
export async function benchReaders(): Promise<void> {
  const works = await Works.start(PORT, await scratchDatabase('bench_readers'));
  const leave = new AbortController();
  try {
    const { ctx, within } = await works.house('readers');
    const workspaceId = await within(async (scope) => {
      const program = must(await createProgram(ctx, scope, { name: 'Sky', purpose: 'utility' }, 'bench'));
      await addCrowd(scope, program.id, 1_000, { name: 'readers' });
      return scope.workspaceId;
    });
    const [email, password] = ['reader@example.org', 'a reader of the bench'];
    await addAccount(ctx, workspaceId, { email, name: 'Reader', password, role: 'teammate' });
    const token = must(await signIn(ctx, email, password, { address: 'bench', userAgent: 'bench' }));
    await works.startWeb(WEB);
    const told: number[][] = [];
    let began = 0;
    await Promise.all(
      Array.from({ length: READERS }, () =>
        listen(token, leave.signal, () => told.at(-1)?.push(performance.now() - began)),
      ),
    );
    const spent = cpuMs(works.web!.pid!);
    const from = performance.now();
    for (let i = 0; i < CHANGES; i++) {
      told.push([]);
      began = performance.now();
      await within((scope) => announce(scope, false));
      await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
    }
    const share = (cpuMs(works.web!.pid!) - spent) / (performance.now() - from);
    say('a change told to open pages', {
      ...{ readers: READERS, changes: CHANGES },
      ...{ all_told: told.every((each) => each.length === READERS) },
      ...{ last_told_p50_ms: lastOf(told, 0.5), last_told_p95_ms: lastOf(told, 0.95), asked_ms: 1_000 },
      ...{ web_of_a_core: round(share), asked_of_a_core: 0.6 },
    });
    await readAgain(token, works.web!.pid!);
  } finally {
    leave.abort();
    await works.close();
  }
}

const lastOf = (told: readonly number[][], share: number): number =>
  round(
    quantile(
      told.map((each) => Math.max(...each)),
      share,
    ),
  );

/** Keeps a page open as a browser does; `nudged`: something changed. */
async function listen(token: string, signal: AbortSignal, nudged: () => void): Promise<void> {
  const { body } = await fetch(`http://127.0.0.1:${WEB}/live`, {
    ...{ signal, headers: { cookie: `wren_session=${token}` } },
  });
  const reader = body!.pipeThrough(new TextDecoderStream()).getReader();
  // The first line says that it stands.
  await reader.read();
  void (async () => {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      if (value.includes('event: change')) nudged();
    }
  })().catch(() => {});
}

/** What follows where all of them look at the inbox: each reads its page again. */
async function readAgain(token: string, pid: number): Promise<void> {
  const read = () =>
    fetch(`http://127.0.0.1:${WEB}/inbox`, {
      headers: { cookie: `wren_session=${token}`, rsc: '1' },
    }).then((response) => response.text());
  await read();
  const spent = cpuMs(pid);
  const from = performance.now();
  await Promise.all(Array.from({ length: READERS }, read));
  const took = performance.now() - from;
  say('all of them read the inbox again', {
    ...{ readers: READERS, all_after_ms: round(took), each_ms: round((cpuMs(pid) - spent) / READERS) },
  });
}

function cpuMs(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) * TICK_MS;
}
