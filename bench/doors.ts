import { MOST_UNFOLDED } from '@/core/audience/plan';
import type { Condition } from '@/core/audience/condition';
import { cleanText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { interpret } from '@/core/reply/interpret';
import { readAudience, readSteps } from '@/services/audience/audience';
import { BatchInput } from '../src/services/batches/inputs';
import { BulkPeopleInput } from '../src/services/people/inputs';
import { reportClearance } from '@/services/clearance/report-clearance';
import { addCrowd } from '@/services/testing/crowd';
import { makeWorld } from '@/services/testing/world';
import { readInput } from '@/services/kit/validation';
import { round, say } from './report';

const PEOPLE = 30_000;
/** Nothing a user sends may keep the process from everybody else for longer. */
const MOST_MS = 200;

/** The longest time in which the process did nothing else while it worked on something. */
async function longestHold(work: () => unknown): Promise<number> {
  let last = performance.now();
  let longest = 0;
  const look = () => {
    const now = performance.now();
    longest = Math.max(longest, now - last);
    last = now;
  };
  const timer = setInterval(look, 1);
  await new Promise((resolve) => setTimeout(resolve, 20));
  longest = 0;
  await work();
  look();
  clearInterval(timer);
  return longest;
}

/** The dearest things somebody can send to the web process: how long each holds it. */
export async function benchDoors(): Promise<void> {
  const world = await makeWorld({ credits: 10_000_000 });
  try {
    const program = await world.within(async (scope) => {
      const [row] = await scope.rows<{ id: string }>(
        `select id from program where workspace_id = :workspace`,
      );
      await addCrowd(scope, row!.id, PEOPLE);
      return row!.id;
    });
    const leaf = (i: number): Condition => ({
      ask: 'field',
      field: 'first_name',
      test: 'contains',
      value: `Person ${i}`,
    });
    const wide: Condition = { any: Array.from({ length: MOST_UNFOLDED - 1 }, (_, i) => leaf(i)) };
    const sixty: Condition = { all: Array.from({ length: 60 }, (_, i) => leaf(i)) };
    const draft = {
      ...{ program, at: world.clock.at, senderName: null, personId: null },
      body: `Hi {$person.first_name :wren:field fallback=friend}, ${'clear skies tonight – '.repeat(20)}`,
    };
    const asks: Record<string, () => unknown> = {
      'a count of the widest condition': () =>
        world.within((scope) => readAudience(scope, wide, '', world.clock.at)),
      'sixty steps': () => world.within((scope) => readSteps(scope, sixty, '', world.clock.at)),
      [`a clearance report of ${PEOPLE} people`]: () =>
        world.within((scope) => reportClearance(scope, draft)),
      'fifty thousand ids': () =>
        readInput(BatchInput, {
          name: 'x',
          action: 'keep',
          people: Array.from({ length: 50_000 }, (_, i) => `per_${i}`),
        }),
      'three thousand people at once': () =>
        readInput(BulkPeopleInput, {
          people: Array.from({ length: 3_000 }, () => ({ number: 'x', consent: {} })),
        }),
      'JSON of a quarter megabyte, nested': () => parseJson('{"a":'.repeat(50_000)),
      'a text of forty thousand letters': () => interpret(cleanText('stop the bus please '.repeat(2_000))),
      'a text of one letter, over and over': () => interpret(cleanText('s'.repeat(40_000))),
    };
    for (const [what, ask] of Object.entries(asks)) {
      const longest = await longestHold(ask);
      say(`held by ${what}`, { longest_ms: round(longest), of_the_limit: round(longest / MOST_MS) });
    }
  } finally {
    await world.close();
  }
}
