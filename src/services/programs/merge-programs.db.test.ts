import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Program } from '@/db/programs/entities';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { createKeyword, createProgram } from './create-program';
import type { CreateProgramInput } from './inputs';
import { mergePrograms } from './merge-programs';

const ME = { name: 'test', accountId: null };

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const program = (name: string, more: Partial<CreateProgramInput> = {}) =>
  world.within(async (scope) => {
    const input = { name, purpose: 'recurring', promise: { count: 6, period: 'month' }, ...more };
    const made = must(await createProgram(world.ctx, scope, input as CreateProgramInput, 'test'));
    must(await createKeyword(world.ctx, scope, { program: name, word: name.slice(0, 4) }, 'test'));
    return made.id;
  });
const merge = async (into: string, from = 'Clear Sky Alerts') =>
  world.within(async (scope) => {
    const { id } = await scope.em.findOneOrFail(Program, { name: from });
    return mergePrograms(world.ctx, scope, id, into, ME);
  });
const states = async (programId: string) =>
  (
    await world.rows<{ number: string; state: string }>(
      `select c.address as number, c.state from consent_state c where c.workspace_id = :workspace and c.program_id = :programId order by 1`,
      { programId },
    )
  ).map(({ number, state }) => `${number.slice(-4)} ${state}`);

describe('a program that goes into another', () => {
  it('takes its members and its keyword along; whoever left one of them stays out of it', async () => {
    const into = await program('News');
    for (const i of [0, 1, 2]) await world.texts(phone(i), 'sky');
    await world.texts(phone(2), 'STOP');
    await world.texts(phone(3), 'news');
    await world.texts(phone(3), 'STOP');
    await round(world, new Scripted());
    const happened = () => world.rows(`select 1 from happening where workspace_id = :workspace`);
    const before = (await happened()).length;
    expect(must(await merge('News'))).toMatchObject({ id: into, moved: 2 });
    // A STOP means every program, also one they were never in.
    expect(await states(into)).toEqual(['0100 in', '0101 in', '0102 out', '0103 out']);
    expect(await happened()).toHaveLength(before);
    expect(await round(world, new Scripted())).toBe(0);
    // Its keyword joins the other from now on, and HELP speaks for that.
    await world.texts(phone(4), 'sky');
    expect(await states(into)).toContain('0104 in');
    await world.texts(phone(0), 'HELP');
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts.find(({ to }) => to === phone(0))!.body).toContain('News');
    await world.texts(phone(0), 'STOP');
    expect(await states(into)).toContain('0100 out');
  });

  it.each<[string, Partial<CreateProgramInput>, RegExp]>([
    ['promises more', { promise: { count: 10, period: 'month' } }, /promises more messages/],
    ['promises no number', { promise: null as never }, /promises more messages/],
  ])('does not go where the other %s', async (_, more, words) => {
    await program('News', more);
    expect(await merge('News')).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'into', message: expect.stringMatching(words) }] },
    });
  });

  it('does not go where people agreed to less, twice, into itself, or into nobody', async () => {
    await program('News', { purpose: 'utility' });
    await program('More', { purpose: 'marketing' });
    expect(await merge('More', 'News')).toMatchObject({ ok: false });
    expect(await merge('Clear Sky Alerts')).toMatchObject({ ok: false });
    expect(await merge('Nobody')).toMatchObject({ ok: false, reason: { code: 'invalid' } });
    must(await merge('News'));
    expect(await merge('More')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });
});
