import { addSenderNumber } from '@/services/access/create-workspace';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { splitSend, type NewStack } from '@/services/stacks/split';
import { addCrowd } from '@/services/testing/crowd';
import { must } from '@/services/testing/people';
import { Presses } from '@/ui/stacks/presses';
import { scratchDatabase, until } from '../e2e/support/app';
import { ME, Works, type House } from '../e2e/support/works';
import { quantile, round, say } from './report';

const PORT = 4640;
const WEB = PORT + 8;
const DESKS = 30;
const EACH = 250;
/** Each desk leaves some unpressed: nobody may get those. */
const PRESSED = 200;
/** Few at hand, as the page has it. */
const FEW = 12;
const APART_MS = 700;
/** As fast as a key can be pressed: several a second. */
const EVERY_MS = 250;
const BODY = 'Bench: shall we save you a chair on Friday? Reply STOP to stop.';

/**
 * Thirty people press six thousand texts in a minute, each at a desk as the page has it, while the pages and a worker are
 * killed: what was pressed leaves once, what was not never does.
 */
export async function benchHands(): Promise<void> {
  const works = await Works.start(PORT, await scratchDatabase('bench_hands'), 200);
  try {
    const house = await works.house('hands', 1_000_000);
    await works.toNoon();
    const send = await furnish(house);
    await works.startHalves();
    await until(
      () => count(house, `turn_at is not null`),
      (n) => n === DESKS * EACH,
      120_000,
      200,
    );
    const stacks = await house.within(async (scope) =>
      must(await splitSend(house.ctx, scope, send, { how: 'evenly', holders: guests() }, ME)),
    );
    await works.startWeb(WEB);
    const desks = stacks.map(deskOf);
    // A house that has just been started compiles what is first asked for.
    await Promise.all(desks.map((desk) => desk.look()));
    await Promise.all(desks.map((desk) => desk.pressSome(2)));
    for (const desk of desks) desk.forget();
    const began = Date.now();
    await Promise.all(desks.map((desk) => desk.pressSome(PRESSED / 2)));
    const calm = { calm_seconds: round((Date.now() - began) / 1_000), ...took(desks) };
    const second = Promise.all(desks.map((desk) => desk.pressSome(PRESSED / 2)));
    await pause(4_000);
    await works.killWeb();
    await works.startWeb(WEB);
    await pause(3_000);
    await works.killWorker();
    await works.startSender();
    await second;
    const seconds = (Date.now() - began) / 1_000;
    say('texts pressed by hand', {
      ...{ desks: DESKS, pressed: DESKS * PRESSED, seconds: round(seconds), asked_seconds: 60 },
      ...calm,
      asked_ms: 100,
    });
    await check(works, house, new Set(desks.flatMap(({ pressed }) => [...pressed])));
  } finally {
    await works.close();
  }
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

const guests = () =>
  Array.from({ length: DESKS }, (_, i) => ({ guest: `Volunteer ${i + 1}`, hours: 24, sees_numbers: false }));

async function furnish({ ctx, within }: House): Promise<string> {
  return within(async (scope) => {
    await addSenderNumber(ctx, scope, {
      ...{ number: '+17195550110', kind: 'short-code', registration: 'registered', partsPerSecond: 1_000 },
    });
    const program = must(await createProgram(ctx, scope, { name: 'Sky', purpose: 'utility' }, 'bench'));
    await addCrowd(scope, program.id, DESKS * EACH, { name: 'hands' });
    const made = must(
      await createBroadcast(
        ctx,
        scope,
        { program: 'Sky', name: 'By hand', body: BODY, pace: { hands: true } },
        ME,
      ),
    );
    must(await sendBroadcast(ctx, scope, made.id, {}, ME));
    return made.id;
  });
}

type Desk = ReturnType<typeof deskOf>;

/** A desk as the page has it: the next ones at hand, presses on their way in order, a look once they have arrived. */
function deskOf({ url }: NewStack) {
  const path = `http://127.0.0.1:${WEB}${new URL(url!).pathname}/desk`;
  const times: Record<'press' | 'look', number[]> = { press: [], look: [] };
  const pressed = new Set<string>();
  const kept = new Map<string, string>();
  let next: string[] = [];
  const ask = async <T>(act: 'press' | 'look', more: object = {}): Promise<T> => {
    const began = performance.now();
    const response = await fetch(path, { method: 'POST', body: JSON.stringify({ act, ...more }) });
    const answer = (await response.json()) as T;
    if (!response.ok) throw new Error(JSON.stringify(answer));
    times[act].push(performance.now() - began);
    return answer;
  };
  const look = async (): Promise<void> => {
    // Without a line the desk goes on with whom it has at hand.
    const desk = await ask<{ next: { id: string }[] }>('look').catch(() => null);
    if (desk) next = desk.next.map(({ id }) => id);
  };
  const presses = new Presses({
    name: path,
    againMs: 500,
    apartMs: APART_MS,
    send: async (ids) =>
      (await ask<{ pressed: string[] }>('press', { messages: JSON.stringify(ids) })).pressed,
    kept: {
      getItem: (key) => kept.get(key) ?? null,
      setItem: (key, value) => void kept.set(key, value),
      removeItem: (key) => void kept.delete(key),
    },
    settled: () => void (next.filter((id) => !pressed.has(id)).length <= FEW && look()),
  });
  const pressSome = async (many: number): Promise<void> => {
    for (let done = 0; done < many; await pause(EVERY_MS)) {
      const id = next.find((one) => !pressed.has(one));
      if (id === undefined) {
        await look();
        continue;
      }
      pressed.add(id);
      presses.press(id);
      done += 1;
    }
    await until(
      async () => presses.read(),
      ({ waiting, ended }) => waiting.length === 0 || ended !== null,
      60_000,
    );
    presses.stop();
  };
  const forget = () => void Object.assign(times, { press: [], look: [] });
  return { look, pressSome, forget, pressed, times };
}

const took = (desks: readonly Desk[]) => {
  const of = (act: 'press' | 'look', share: number) =>
    round(
      quantile(
        desks.flatMap(({ times }) => times[act]),
        share,
      ),
    );
  return {
    ...{ press_p50_ms: of('press', 0.5), press_p95_ms: of('press', 0.95) },
    ...{ next_p50_ms: of('look', 0.5), next_p95_ms: of('look', 0.95) },
  };
};

const count = async ({ within }: House, which: string): Promise<number> =>
  (
    await within((scope) =>
      scope.rows<{ n: number }>(
        `select count(*)::int as n from message where workspace_id = :workspace and kind = 'broadcast' and ${which}`,
      ),
    )
  )[0]!.n;

async function check(works: Works, house: House, pressed: ReadonlySet<string>): Promise<void> {
  const settled = `state in ('delivered', 'unconfirmed')`;
  await until(
    () => count(house, settled),
    (n) => n >= pressed.size,
    120_000,
    200,
  );
  const gone = await house.within((scope) =>
    scope.rows<{ id: string; address: string; state: string }>(
      `select id, address, state from message where workspace_id = :workspace and kind = 'broadcast' and (submitted_at is not null or state <> 'queued')`,
    ),
  );
  let [once, twice] = [0, 0];
  for (const { address } of gone) {
    const bodies = (await works.bench.texts(address)).filter(({ body }) => body === BODY);
    if (bodies.length === 1) once += 1;
    if (bodies.length > 1) twice += 1;
  }
  say('what was pressed, after the pages and a worker were killed', {
    ...{ pressed: pressed.size, once, twice },
    unconfirmed: gone.filter(({ state }) => state === 'unconfirmed').length,
    never_pressed_and_gone: gone.filter(({ id }) => !pressed.has(id)).length,
  });
}
