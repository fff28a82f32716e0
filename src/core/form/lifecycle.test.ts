import { expect, it } from 'vitest';
import { reachable } from '../shared/testing/reachable';
import { SUBMISSION_MOVES, submissionFrom, type SubmissionState } from './lifecycle';

const STATES = Object.keys(SUBMISSION_MOVES) as SubmissionState[];

it('reaches every state from what just came, and everything that waits has a way out', () => {
  expect([...reachable('received', SUBMISSION_MOVES)].sort()).toEqual([...STATES].sort());
  for (const state of ['received', 'asked', 'held', 'lapsed'] as const)
    expect(Object.keys(SUBMISSION_MOVES[state]).length, state).toBeGreaterThan(0);
});

it('asks nobody of whom it was refused, and proves only what was asked', () => {
  expect(submissionFrom('ask')).toEqual(['received', 'held']);
  expect(submissionFrom('prove')).toEqual(['asked', 'lapsed']);
  expect([...reachable('refused', SUBMISSION_MOVES)]).toEqual(['refused']);
});
