import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { checkConsent } from './check-consent';
import { sent } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());
const run = (sql: string) => world.within((scope) => scope.run(sql));

describe('the check of consent', () => {
  it('finds what was changed beside the ledger, and what was lost from it', async () => {
    for (let i = 0; i < 4; i++) await world.texts(phone(i), 'sky');
    const check = async () => checkConsent(world.ctx, world.workspaceId);
    expect(await check()).toEqual({ people: 4, differences: [] });
    const person = (i: number) => `(select id from person where number = '${phone(i)}')`;
    await run(
      `update consent_state set state = 'out' where workspace_id = :workspace and person_id = ${person(0)}`,
    );
    await run(`delete from consent_state where workspace_id = :workspace and person_id = ${person(1)}`);
    await run(
      `update consent_state set event_id = 'con_other' where workspace_id = :workspace and person_id = ${person(2)}`,
    );
    const { differences } = await check();
    expect(differences.map(({ ledger, stored }) => [ledger, stored]).sort()).toEqual([
      ['in', 'in'],
      ['in', 'nothing'],
      ['in', 'out'],
    ]);
    expect((await sent(world)).length).toBe(0);
  });
});
