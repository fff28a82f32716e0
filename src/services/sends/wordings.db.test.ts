import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { isFirst, wordingOf } from '@/core/broadcast/wordings';
import { MINUTE } from '@/core/shared/instant';
import { workThrough } from '@/services/kit/trouble';
import { storeAnswers } from '@/services/delivery/store-answers';
import { waitingSends } from '@/db/sends/broadcasts';
import { addCrowd } from '@/services/testing/crowd';
import { must } from '@/services/testing/people';
import { receipt, round, Scripted } from '@/services/testing/sending';
import { makeWorld, type World } from '@/services/testing/world';
import { createBroadcast, sendBroadcast } from './broadcasts';
import { chooseWording, COMPARE_QUEUE, compareWordings } from './choose-wording';
import type { ComparisonInput, CreateBroadcastInput } from './inputs';
import { finishBroadcasts, beginDueBroadcasts, prepareBroadcast } from './prepare-broadcast';

const ME = { name: 'test', accountId: null };
const PEOPLE = 120;
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const OTHERS = { others: [{ body: 'Bring a coat: clear tonight.' }], by: 'replies' as const };

const draft = (comparison: Partial<ComparisonInput>, more: Partial<CreateBroadcastInput> = {}) =>
  world.within((scope) =>
    createBroadcast(
      world.ctx,
      scope,
      {
        ...{ program: 'Clear Sky Alerts', name: 'B', body: 'Clear tonight.' },
        ...{ comparison: { ...OTHERS, ...comparison }, ...more },
      },
      ME,
    ),
  );

async function going(comparison: Partial<ComparisonInput>): Promise<string> {
  const [program] = await world.rows<{ id: string }>(
    `select id from program where workspace_id = :workspace`,
  );
  await world.within((scope) => addCrowd(scope, program!.id, PEOPLE));
  const { id } = must(await draft(comparison));
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return id;
}

const made = (id: string) =>
  world.rows<{ person_id: string; wording: number; body: string; address: string }>(
    `select person_id, wording, body, address from message where workspace_id = :workspace and send_id = :id order by person_id`,
    { id },
  );

/** All of it leaves and is delivered; who was told to answers. */
async function deliver(answers: (body: string) => boolean): Promise<void> {
  const carrier = new Scripted();
  while ((await round(world, carrier, 100)) > 0);
  await storeAnswers(
    world.ctx,
    [],
    carrier.parts.map((part, i) => receipt(part, carrier.ids[i]!)),
  );
  world.clock.at += MINUTE;
  for (const part of carrier.parts)
    if (answers(String(part.body))) await world.texts(part.to, 'we are coming');
}

const standing = (id: string, comparison = { ...OTHERS, first: null, byItself: false }) =>
  world.within((scope) =>
    compareWordings(scope, id, {
      ...comparison,
      others: [{ subject: null, body: OTHERS.others[0]!.body }],
    }),
  );

describe('two wordings', () => {
  it('are split by lot over all, and compared by who replied', async () => {
    const id = await going({});
    const rows = await made(id);
    expect(rows).toHaveLength(PEOPLE);
    for (const row of rows) {
      expect(row.wording).toBe(wordingOf(id, row.person_id, 2));
      expect(row.body).toBe(row.wording === 0 ? 'Clear tonight.' : OTHERS.others[0]!.body);
    }
    await deliver((body) => body.startsWith('Bring'));
    const { tallies, verdict } = await standing(id);
    expect(tallies.map(({ replies, delivered }) => [replies, delivered])).toEqual([
      [0, rows.filter(({ wording }) => wording === 0).length],
      [
        rows.filter(({ wording }) => wording === 1).length,
        rows.filter(({ wording }) => wording === 1).length,
      ],
    ]);
    expect(verdict.better).toBe(1);
    expect(await finishBroadcasts(world.ctx)).toBe(1);
  });

  it('go to some first, and the better one to the rest by itself, once the difference is real', async () => {
    const id = await going({ first: 40, by_itself: true });
    const first = await made(id);
    expect(first.every(({ person_id: person }) => isFirst(id, person, 40))).toBe(true);
    expect(await workThrough(world.ctx, COMPARE_QUEUE)).toBe(0);
    await deliver((body) => body.startsWith('Bring'));
    expect(await finishBroadcasts(world.ctx)).toBe(0);
    expect(await workThrough(world.ctx, COMPARE_QUEUE)).toBe(1);
    await prepareBroadcast(world.ctx, world.workspaceId, id);
    const all = await made(id);
    expect(all).toHaveLength(PEOPLE);
    expect(
      all.filter(({ person_id: person }) => !isFirst(id, person, 40)).every(({ wording }) => wording === 1),
    ).toBe(true);
    await deliver(() => false);
    expect(await finishBroadcasts(world.ctx)).toBe(1);
  });

  it('wait for somebody where the difference is not real; a choice counts once', async () => {
    const id = await going({ first: 40, by_itself: true });
    await deliver(() => false);
    expect(await workThrough(world.ctx, COMPARE_QUEUE)).toBe(0);
    const choose = (wording: number) =>
      world.within((scope) => chooseWording(world.ctx, scope, id, wording, ME));
    expect(await world.within(waitingSends)).toMatchObject([{ id, held: null }]);
    expect(await choose(2)).toMatchObject({ ok: false, reason: { problems: [{ field: 'wording' }] } });
    must(await choose(0));
    expect(await choose(1)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    await prepareBroadcast(world.ctx, world.workspaceId, id);
    expect(await choose(1)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    const rest = (await made(id)).filter(({ person_id: person }) => !isFirst(id, person, 40));
    expect(rest.length).toBeGreaterThan(0);
    expect(rest.every(({ wording }) => wording === 0)).toBe(true);
  });

  it.each<[string, Partial<ComparisonInput>, string]>([
    ['the same words twice', { others: [{ body: 'Clear tonight.' }] }, 'comparison'],
    ['clicks without a link', { by: 'clicks' }, 'comparison'],
    [
      'a field nobody has',
      { others: [{ body: 'Hi {$person.shoe :wren:field}' }] },
      'comparison.others.0.body',
    ],
    ['a subject on a text', { others: [{ body: 'Hi', subject: 'Hi' }] }, 'comparison.others.0.subject'],
  ])('are refused with %s', async (_, comparison, field) =>
    expect(await draft(comparison)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );
});
