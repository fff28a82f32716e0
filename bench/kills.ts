import { addSenderNumber } from '@/services/access/create-workspace';
import { createProgram } from '@/services/programs/create-program';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { createBroadcast, sendBroadcast } from '../src/services/sends/broadcasts';
import { scratchDatabase, until } from '../e2e/support/app';
import { ME, Works, type House } from '../e2e/support/works';
import { adapterAlone } from './delivery';
import { round, say } from './report';

const PORT = 4576;
const PEOPLE = 33_400;
/** There are fewer fictional numbers than texts: everybody gets three, each of another broadcast. */
const BODIES = ['Clear tonight: ', 'Cloud after ten: ', 'The rings at nine: '].map(
  (words) => `${words}https://sky.example.org/tonight`,
);
const KILLS = 3;
/** Counting them takes the database a tenth of a second: looked at ten times a second, it would measure itself. */
const LOOK_MS = 2_000;

/** A hundred thousand texts with links by two workers, one of them killed three times on the way. */
export async function benchKills(): Promise<void> {
  const works = await Works.start(PORT, await scratchDatabase('bench_kills'), 200);
  try {
    const house = await works.house('kills', 10_000_000);
    await works.toNoon();
    const before = await adapterAlone(PORT + 1);
    await furnish(house);
    await works.startTwo();
    const from = Date.now();
    for (const body of BODIES) await send(house, body);
    const kills: number[] = [];
    for (let kill = 0; kill < KILLS; kill++) {
      await until(
        () => left(house),
        (n) => n > ((kill + 1) * PEOPLE * BODIES.length) / (KILLS + 2),
        300_000,
        LOOK_MS,
      );
      await works.killWorker();
      kills.push(await count(house, `state = 'submitting'`));
      await works.startWorker();
    }
    const all = PEOPLE * BODIES.length;
    await until(
      () => left(house),
      (n) => n === all,
      600_000,
      LOOK_MS,
    );
    const settled = () => count(house, `state in ('delivered', 'unconfirmed')`);
    await until(settled, (n) => n === all, 60_000, LOOK_MS);
    const seconds = (Date.now() - from) / 1_000;
    const unconfirmed = await count(house, `state = 'unconfirmed'`);
    const alone = (before + (await adapterAlone(PORT + 1))) / 2;
    await silencePasses(works);
    const got = await onHandsets(works);
    say('a hundred thousand texts with links, two workers, one killed three times', {
      ...{ texts: all, seconds: round(seconds), texts_per_second: Math.round(all / seconds) },
      ...{
        ratio_to_adapter: round(all / seconds / alone),
        asked: 0.34,
        on_the_way_at_kills: kills,
        unconfirmed,
      },
      ...{
        delivered: await count(house, `state = 'delivered'`),
        people_with_each_once: got.once,
        twice: got.twice,
      },
    });
  } finally {
    await works.close();
  }
}

const furnish = ({ ctx, within }: House): Promise<void> =>
  within(async (scope) => {
    await addSenderNumber(ctx, scope, {
      ...{
        number: '+17195550110',
        kind: 'short-code',
        registration: 'registered',
        partsPerSecond: 1_000_000,
      },
    });
    const program = await createProgram(ctx, scope, { name: 'Sky', purpose: 'utility' }, 'bench');
    if (!program.ok) throw new Error('refused');
    await addCrowd(scope, program.value.id, PEOPLE, { name: 'kills' });
  });

const send = ({ ctx, within }: House, body: string): Promise<void> =>
  within(async (scope) => {
    const made = await createBroadcast(ctx, scope, { program: 'Sky', name: body.slice(0, 12), body }, ME);
    if (!made.ok || !(await sendBroadcast(ctx, scope, made.value.id, {}, ME)).ok) throw new Error('refused');
  });

const count = async ({ within }: House, which: string): Promise<number> =>
  (
    await within((scope) =>
      scope.rows<{ n: number }>(
        `select count(*)::int as n from message where workspace_id = :workspace and ${which}`,
      ),
    )
  )[0]!.n;

const left = (house: House): Promise<number> =>
  count(house, `submitted_at is not null or state in ('unconfirmed', 'delivered')`);

/** What the carrier never took is known not to have come when its validity is over, and leaves then. */
async function silencePasses({ bench }: Works): Promise<void> {
  for (const by of ['PT4H20M', 'PT15M']) {
    await bench.advance(by);
    await new Promise((resolve) => setTimeout(resolve, 5_000));
  }
}

async function onHandsets({ bench }: Works): Promise<{ once: number; twice: number }> {
  let [once, twice] = [0, 0];
  for (const number of fictionNumbers(PEOPLE)) {
    const bodies = (await bench.texts(number))
      .map(({ body }) => body.slice(0, 12))
      // The adapter alone was measured on the same handsets.
      .filter((body) => BODIES.some((ours) => ours.startsWith(body)));
    if (new Set(bodies).size < bodies.length) twice += 1;
    else if (bodies.length === BODIES.length) once += 1;
  }
  return { once, twice };
}
