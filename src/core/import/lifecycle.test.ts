import { describe, expect, it } from 'vitest';
import { reachable } from '../shared/testing/reachable';
import { DROPPABLE, IMPORT_MOVES, importMoves, type ImportEvent, type ImportState } from './lifecycle';

const STATES = Object.keys(IMPORT_MOVES) as ImportState[];
describe('the life of an import', () => {
  it('reaches every state, and leaves every state but the last', () => {
    expect([...reachable('draft', IMPORT_MOVES)].sort()).toEqual([...STATES].sort());
    for (const state of STATES)
      expect(Object.keys(IMPORT_MOVES[state]).length > 0, state).toBe(state !== 'undone');
  });

  it('has a way out of whatever works: stopped, or failed', () => {
    for (const state of ['checking', 'running', 'undoing'] as const)
      expect(Object.keys(IMPORT_MOVES[state])).toContain('stop');
  });

  it('can drop only what changed nobody, and nothing leads back to it from what did', () => {
    for (const state of STATES.filter((one) => !DROPPABLE.includes(one) && one !== 'checking'))
      for (const drop of DROPPABLE)
        expect(reachable(state, IMPORT_MOVES).has(drop), `${state} to ${drop}`).toBe(false);
  });

  it.each<[ImportEvent, [ImportState, ImportState][]]>([
    [
      'run',
      [
        ['checked', 'running'],
        ['stopped', 'running'],
      ],
    ],
    [
      'settle',
      [
        ['running', 'finished'],
        ['undoing', 'undone'],
      ],
    ],
    [
      'stop',
      [
        ['checking', 'failed'],
        ['running', 'stopped'],
        ['undoing', 'stopped'],
      ],
    ],
    [
      'undo',
      [
        ['finished', 'undoing'],
        ['stopped', 'undoing'],
      ],
    ],
  ])('%s finds and leads to %j', (event, moves) => {
    expect(importMoves(event)).toEqual(moves);
  });
});
