import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Condition } from '@/core/audience/condition';
import { checkConsent } from '@/services/consent/check-consent';
import { findOrMakeLabel, setLabel } from './labels';
import { mergePeople, readMerge } from './merge-people';
import { undoMerge } from './undo-merge';
import { addPerson, editField, must, pageThrough } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

const API = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (number: string, more: object = {}) => addPerson(world, number, more);
const edit = (id: string, field: string, value: string) => editField(world, id, field, value);
const page = (sort: string, most?: number, condition?: Condition, search?: string) =>
  pageThrough(world, sort, most, condition, search);

describe('a merge', () => {
  const state = async (id: string) =>
    (
      await rows<{ state: string }>(
        `select state from consent_state where workspace_id = :workspace and person_id = :id and current`,
        { id },
      )
    )[0]?.state;
  const merge = (kept: string, gone: string, choices = {}) =>
    world.within((scope) => mergePeople(world.ctx, scope, kept, gone, choices, API));
  const byNumber = async (number: string) =>
    (
      await rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number = :number`,
        { number },
      )
    )[0]!.id;

  it('keeps chosen values, takes history along, and a text from the old number finds the one that was kept', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550102', 'hello there');
    const [ana, anna] = [await byNumber('+13035550101'), await byNumber('+13035550102')];
    must(await edit(anna, 'first_name', 'Anna'));
    must(await edit(anna, 'email', 'anna@example.org'));
    const tag = must(
      await world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', 'walks', 'test')),
    );
    await world.within((scope) => setLabel(world.ctx, scope, tag.id, [anna], true));
    const screen = (await world.within((scope) => readMerge(scope, [anna, ana])))!;
    expect([screen.one.id, screen.choices]).toEqual([
      ana,
      { number: 'one', firstName: 'other', email: 'other' },
    ]);
    const { mergeId } = must(await merge(ana, anna, screen.choices));
    expect(
      await rows(
        `select number, first_name, email, merged_into from person where workspace_id = :workspace order by number`,
      ),
    ).toEqual([
      { number: '+13035550101', first_name: 'Anna', email: 'anna@example.org', merged_into: null },
      { number: null, first_name: 'Anna', email: null, merged_into: ana },
    ]);
    expect(await page('')).toEqual(['Anna']);
    expect(
      await rows(
        `select count(*)::int as n from inbound_text where workspace_id = :workspace and person_id = :ana`,
        { ana },
      ),
    ).toEqual([{ n: 2 }]);
    await world.texts('+13035550102', 'hello again');
    expect(
      await rows(
        `select count(*)::int as n from inbound_text where workspace_id = :workspace and person_id = :ana`,
        { ana },
      ),
    ).toEqual([{ n: 3 }]);
    expect(must(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test')))).toEqual({
      keptId: ana,
      goneId: anna,
    });
    expect(
      await rows(
        `select number, first_name, email, merged_into from person where workspace_id = :workspace order by number`,
      ),
    ).toEqual([
      { number: '+13035550101', first_name: null, email: null, merged_into: null },
      { number: '+13035550102', first_name: 'Anna', email: 'anna@example.org', merged_into: null },
    ]);
    expect(
      await rows(`select person_id from person_label where workspace_id = :workspace and person_id = :anna`, {
        anna,
      }),
    ).toHaveLength(1);
    expect(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test'))).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('with somebody who opted out leaves the person opted out', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550102', 'sky');
    await world.texts('+13035550102', 'STOP');
    const [ana, anna] = [await byNumber('+13035550101'), await byNumber('+13035550102')];
    const { mergeId } = must(await merge(ana, anna));
    expect(await state(ana)).toBe('out');
    expect(
      await rows(
        `select stopped_at is not null as stopped from person where workspace_id = :workspace and id = :ana`,
        { ana },
      ),
    ).toEqual([{ stopped: true }]);
    must(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test')));
    expect([await state(ana), await state(anna)]).toEqual(['in', 'out']);
    expect(
      await rows(`select id from person where workspace_id = :workspace and stopped_at is not null`),
    ).toEqual([{ id: anna }]);
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('carries agreement over with its address, to no other', async () => {
    const ana = await add('3035550101');
    await world.texts('+13035550102', 'sky');
    const anna = await byNumber('+13035550102');
    must(await merge(ana, anna, { number: 'one' }));
    expect(
      await rows(
        `select address, state, current from consent_state where workspace_id = :workspace and person_id = :ana`,
        { ana },
      ),
    ).toEqual([{ address: '+13035550102', state: 'in', current: true }]);
    expect(await state(anna)).toBe('lapsed');
    expect(
      await rows(
        `select value, rank from address where workspace_id = :workspace and person_id = :ana order by rank`,
        { ana },
      ),
    ).toEqual([
      { value: '+13035550101', rank: 0 },
      { value: '+13035550102', rank: 1 },
    ]);
  });

  it('takes the agreement along with the number it was given from', async () => {
    const ana = await add('3035550101', { first_name: 'Ana' });
    await world.texts('+13035550102', 'sky');
    const anna = await byNumber('+13035550102');
    must(await merge(ana, anna, { number: 'other' }));
    expect(await state(ana)).toBe('in');
    expect(await byNumber('+13035550102')).toBe(ana);
  });

  it.each([
    ['oneself', (ana: string) => [ana, ana]],
    ['nobody', (ana: string) => [ana, 'per_elsewhere']],
  ])('with %s is refused', async (_, ids) => {
    const ana = await add('3035550101');
    const [one, other] = ids(ana) as [string, string];
    expect((await merge(one, other)).ok).toBe(false);
  });
});
