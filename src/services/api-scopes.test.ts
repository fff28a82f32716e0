import { expect, it } from 'vitest';
import { scopeFor } from '@/core/access/scopes';
import { ROOMS } from './rooms';

it('every endpoint needs a scope that is known', () => {
  const endpoints = ROOMS.flatMap(({ api = [] }) => api);
  const without = endpoints.filter(({ method, path }) => scopeFor(method, path) === null);
  expect(without.map(({ method, path }) => `${method} ${path}`)).toEqual([]);
  const posts = endpoints.filter(({ method }) => method !== 'GET');
  const reads = posts.filter(({ method, path }) => scopeFor(method, path) === 'read');
  // What is asked with a body changes nothing: each is named here, so that a new one is looked at.
  expect(reads.map(({ method, path }) => `${method} ${path}`).sort()).toMatchInlineSnapshot(`
    [
      "POST /calls-to-action/reading",
      "POST /clearance/check",
      "POST /credit-entries/check",
      "POST /number-searches",
      "POST /people/count",
      "POST /results/keeping",
      "POST /results/overview",
      "POST /results/speed",
      "POST /results/works",
      "POST /sequences/rehearsals",
      "POST /texts/check",
      "POST /texts/interpret",
      "POST /texts/measure",
    ]
  `);
});
