import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await world.within(async (scope) => {
    await createProgram(world.ctx, scope, { name: 'Gift Shop Offers', purpose: 'recurring' }, 'test');
    await createKeyword(world.ctx, scope, { program: 'Gift Shop Offers', word: 'MUG' }, 'test');
  });
});
afterEach(() => world.close());

const consents = () =>
  world.rows(
    `select g.name, s.state from consent_state s join program g on g.id = s.program_id where s.workspace_id = :workspace order by 1`,
  );
const queued = () =>
  world.rows<{ kind: string; body: string }>(
    `select kind, body from message where workspace_id = :workspace and state = 'queued' order by kind`,
  );

describe('somebody in two programs who leaves one of them in words', () => {
  it('is out of that one, stays in the other, and gets what that still has for them', async () => {
    await world.texts(phone(0), 'mug');
    await broadcastTo(world, 1);
    await world.texts(phone(0), 'Please stop the gift shop ones but keep the sky alerts');
    expect(await consents()).toEqual([
      { name: 'Clear Sky Alerts', state: 'in' },
      { name: 'Gift Shop Offers', state: 'out' },
    ]);
    const [broadcast, confirmation] = await queued();
    expect(broadcast).toMatchObject({ kind: 'broadcast' });
    expect(confirmation!.body).toContain('you are out of Gift Shop Offers');
    expect(confirmation!.body).toContain('STOP to end all');
    const carrier = new Scripted();
    expect(await round(world, carrier)).toBe(2);
    await world.texts(phone(0), 'STOP');
    expect((await consents()).map((one) => (one as { state: string }).state)).toEqual(['out', 'out']);
  });

  it('is out of all where it is not said what stays', async () => {
    await world.texts(phone(0), 'mug');
    await world.texts(phone(0), 'sky');
    await world.texts(phone(0), 'please stop the gift shop offers');
    expect((await consents()).map((one) => (one as { state: string }).state)).toEqual(['out', 'out']);
  });
});
