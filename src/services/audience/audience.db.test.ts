import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { EVERYBODY, type Condition } from '@/core/audience/condition';
import { audienceContext, readAudience, readSteps } from './audience';
import { addPerson, must, pageThrough } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const add = (number: string, more: object = {}) => addPerson(world, number, more);

const page = (sort: string, most?: number, condition?: Condition, search?: string) =>
  pageThrough(world, sort, most, condition, search);

describe('who is meant', () => {
  it('is counted after each branch, in words, for all, any and none', async () => {
    for (const [i, name] of ['Ana', 'Ben', 'Ben', 'Cy'].entries())
      await add(`303555010${i}`, { first_name: name });
    await world.texts('+13035550101', 'sky');
    const name = (value: string): Condition => ({ ask: 'field', field: 'first_name', test: 'is', value });
    const wrote: Condition = { ask: 'field', field: 'last_reply', test: 'not-empty' };
    const ask = async (condition: Condition) =>
      await world.within(async (scope) => ({
        ...must(await readAudience(scope, condition, '', world.clock.at)),
        ...must(await readSteps(scope, condition, '', world.clock.at)),
      }));
    const all = await ask({ all: [name('Ben'), wrote, name('Cy')] });
    expect([all.everybody, all.count, all.steps.map(({ count }) => count)]).toEqual([4, 0, [2, 1, 0]]);
    expect(all.problems).toMatchObject([{ message: expect.stringContaining('contradict') as string }]);
    const any = await ask({ any: [name('Ana'), name('Ben'), wrote] });
    expect([any.count, any.steps.map(({ count }) => count)]).toEqual([3, [1, 3, 3]]);
    const none = await ask({ none: [name('Ana'), name('Ben')] });
    expect([none.count, none.steps.map(({ count }) => count)]).toEqual([1, [3, 1]]);
    expect((await ask(EVERYBODY)).count).toBe(4);
    expect((await ask({ any: [] })).count).toBe(0);
    // Each count opens to exactly those people.
    for (const step of all.steps) expect((await ask(step.condition)).count).toBe(step.count);
    expect((await page('', 100, { all: [name('Ben')] }, '0102')).length).toBe(1);
  });

  it('reads every built-in field and thing of the workspace', async () => {
    const context = await world.within((scope) => audienceContext(scope, world.clock.at));
    for (const field of context.fields.values()) {
      const condition: Condition = { ask: 'field', field: field.name, test: 'not-empty' };
      expect((await world.within((scope) => readAudience(scope, condition, '', world.clock.at))).ok).toBe(
        true,
      );
    }
  });
});
