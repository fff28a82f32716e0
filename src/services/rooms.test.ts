import { expect, it } from 'vitest';
import { QUEUE_WORDS } from '@/core/work/queues';
import { CONSUMERS } from './follow';
import { ROOMS } from './rooms';
import { WAYS_OUT } from './stuck';

it('each queue has its ways out, told by one room', () => {
  expect([...WAYS_OUT.keys()].sort()).toEqual(Object.keys(QUEUE_WORDS).sort());
  const told = ROOMS.flatMap(({ queues = [], waysOut = [] }) => [...queues, ...waysOut]);
  // One is the house's own: happenings that somebody who follows could not take.
  expect(told).toHaveLength(WAYS_OUT.size - 1);
});

it('no two rooms, endpoints or followers share a name', () => {
  const twice = (names: readonly string[]) => names.filter((name, i) => names.indexOf(name) !== i);
  expect(twice(ROOMS.map(({ name }) => name))).toEqual([]);
  expect(twice(CONSUMERS.map(({ name }) => name))).toEqual([]);
  expect(twice(ROOMS.flatMap(({ api = [] }) => api.map(({ method, path }) => `${method} ${path}`)))).toEqual(
    [],
  );
});

it('whatever moves something at a merge can give it back', () => {
  for (const { name, merge, unmerge } of ROOMS)
    // What somebody did with their texts goes with the texts.
    if (name !== 'audience')
      expect({ name, unmerge: unmerge !== undefined }).toEqual({ name, unmerge: merge !== undefined });
});
