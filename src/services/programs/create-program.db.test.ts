import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { must } from '@/services/testing/people';
import { makeWorld, NUMBER, type World } from '@/services/testing/world';
import { createKeyword, createProgram, removeKeyword } from './create-program';
import type { CreateProgramInput } from './inputs';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const make = (more: Partial<CreateProgramInput> = {}) =>
  world.within((scope) =>
    createProgram(
      world.ctx,
      scope,
      { name: 'Dome Members', purpose: 'marketing', ...more } as CreateProgramInput,
      'test',
    ),
  );
const word = (text: string, program = 'Clear Sky Alerts') =>
  world.within((scope) => createKeyword(world.ctx, scope, { program, word: text }, 'test'));

describe('a program', () => {
  it('is sent from the numbers named, or from all that are registered', async () => {
    const senders = (id: string) =>
      world.rows<{ number: string }>(
        `select n.number from program_sender p join sender_number n on n.id = p.sender_id where p.workspace_id = :workspace and p.program_id = :id`,
        { id },
      );
    expect(await senders(must(await make()).id)).toEqual([{ number: NUMBER }]);
    expect(await senders(must(await make({ name: 'Walks', sender_numbers: [] })).id)).toEqual([]);
  });

  it.each<[string, Partial<CreateProgramInput>, string, string]>([
    ['a name that is taken, whatever its case', { name: 'clear sky alerts' }, 'conflict', 'name'],
    ['hours on no day', { hours: { days: [], from: '09:00', to: '17:00' } }, 'invalid', 'hours'],
    [
      'hours that end before they begin',
      { hours: { days: [1], from: '17:00', to: '09:00' } },
      'invalid',
      'hours',
    ],
    ['a number that is not here', { sender_numbers: ['+13035550199'] }, 'invalid', 'sender_numbers'],
  ])('refuses %s', async (_, more, code, field) =>
    expect(await make(more)).toMatchObject({ ok: false, reason: { code, problems: [{ field }] } }),
  );
});

describe('a keyword', () => {
  it('is taken once, in any dress, and is free again when given back; who joined by it stays', async () => {
    const row = must(await word('Moon'));
    expect(await word('“MOON!”')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    await world.texts('+13035550101', 'moon');
    expect(await world.within((scope) => removeKeyword(world.ctx, scope, row.id, 'test'))).toBe(true);
    expect(await world.within((scope) => removeKeyword(world.ctx, scope, row.id, 'test'))).toBe(false);
    expect((await word('moon')).ok).toBe(true);
    expect(
      await world.rows(`select 1 from consent_state where workspace_id = :workspace and state = 'in'`),
    ).toHaveLength(1);
  });

  it.each([
    ['STOP', 'word'],
    ['a', 'word'],
  ])('%s is refused', async (text, field) =>
    expect(await word(text)).toMatchObject({ ok: false, reason: { code: 'invalid', problems: [{ field }] } }),
  );

  it('joins a program that is here', async () =>
    expect(await word('moon', 'Nothing')).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'program' }] },
    }));
});
