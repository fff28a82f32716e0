import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE, toIso } from '@/core/shared/instant';
import { Broadcast } from '@/db/sends/entities';
import { broadcastTo, receipt, round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { storeAnswers } from '@/services/delivery/store-answers';
import { createBroadcast, sendBroadcast } from './broadcasts';
import { copyBroadcast } from './copy-broadcast';
import { exportResult, type ResultFormat } from './export-result';
import { readOutcomes, readUsual } from './outcomes';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from './prepare-broadcast';
import { endRepeat } from './repeat-broadcast';
import { reschedule } from './reschedule';
import { readSend } from './screen';
import { endShares, readShared, shareResult } from './share-result';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

/** Three people: one answers, one leaves, one is not reached. */
async function sentTo3(): Promise<string> {
  const id = await broadcastTo(world, 3);
  const carrier = new Scripted();
  await round(world, carrier);
  const failing = carrier.parts.findIndex(({ to }) => to === phone(2));
  await storeAnswers(
    world.ctx,
    [],
    carrier.parts.map((part, i) =>
      i === failing ? receipt(part, carrier.ids[i]!, 'EXPIRED') : receipt(part, carrier.ids[i]!),
    ),
  );
  world.clock.at += MINUTE;
  await world.texts(phone(0), 'we are coming');
  await world.texts(phone(1), 'STOP');
  await finishBroadcasts(world.ctx);
  return id;
}

describe('what became of a broadcast', () => {
  it('is told by number, hour, place and against the usual', async () => {
    const id = await sentTo3();
    const by = (what: 'number' | 'hour' | 'place') =>
      world.within((scope) =>
        readOutcomes(scope, { id, by: what, zone: 'America/Denver', accountId: '', now: world.clock.at }),
      );
    const counts = { people: 3, delivered: 2, failed: 1, replies: 1, opt_outs: 1 };
    expect(await by('number')).toMatchObject([{ label: '(719) 555-0110', ...counts }]);
    expect(await by('hour')).toMatchObject([{ label: '2026-11-24 12:00', ...counts }]);
    expect(await by('place')).toMatchObject([{ label: 'Colorado', ...counts }]);
    const broadcast = await world.within((scope) => scope.em.findOneOrFail(Broadcast, { id }));
    const send = await world.within((scope) => readSend(scope, id, world.clock.at));
    expect(send!.replies.map(({ body }) => body)).toEqual(['STOP', 'we are coming']);
    expect(
      await world.within((scope) => readUsual(scope, broadcast, send!.result, world.clock.at)),
    ).toBeNull();
  });

  it.each<[ResultFormat, (text: string) => void]>([
    [
      'csv',
      (text) => {
        const [head, ...lines] = text.trim().split('\r\n');
        expect(head).toContain('Address,First name');
        expect(lines).toHaveLength(3);
        expect(
          lines.filter((line) => line.startsWith(`${phone(0)},`) && line.endsWith(',yes,,')),
        ).toHaveLength(1);
      },
    ],
    [
      'json',
      (text) => {
        const rows = JSON.parse(text) as { address: string; state: string; opted_out: boolean }[];
        expect(rows.map(({ state }) => state).sort()).toEqual(['delivered', 'delivered', 'failed']);
        expect(rows.find(({ address }) => address === phone(1))!.opted_out).toBe(true);
      },
    ],
    ['xlsx', (text) => expect(text.startsWith('PK')).toBe(true)],
  ])('is a file of its people: %s', async (format, check) => {
    const id = await sentTo3();
    const file = must(await exportResult(world.ctx.orm, world.workspaceId, id, format));
    check(await new Response(file.body as BodyInit).text());
    const { id: other } = await world.another();
    expect(await exportResult(world.ctx.orm, other, id, format)).toMatchObject({ ok: false });
  });

  it('is shared without an account, counts and words only, until it ends or somebody ends it', async () => {
    const id = await sentTo3();
    const share = () => world.within((scope) => shareResult(world.ctx, scope, id, { days: 7 }, ME));
    const keyOf = ({ url }: { url: string }) => url.split('/').at(-1)!;
    const key = keyOf(must(await share()));
    const shown = await readShared(world.ctx, key);
    expect(shown).toMatchObject({
      name: 'B',
      program: 'Clear Sky Alerts',
      result: { delivered: 2, replies: 1 },
    });
    expect(JSON.stringify(shown)).not.toMatch(/303555|per_|we are coming/);
    expect(await readShared(world.ctx, 'nothing')).toBeNull();
    world.clock.at += 8 * DAY;
    expect(await readShared(world.ctx, key)).toBeNull();
    const again = keyOf(must(await share()));
    expect(must(await world.within((scope) => endShares(world.ctx, scope, id, ME)))).toEqual({ ended: 2 });
    expect(await readShared(world.ctx, again)).toBeNull();
  });
});

describe('another like it', () => {
  const numbersOf = async (id: string) =>
    (
      await world.rows<{ address: string }>(
        `select address from message where workspace_id = :workspace and send_id = :id and state = 'queued' order by address`,
        { id },
      )
    ).map(({ address }) => address);

  it.each([
    ['not-got', [phone(2)]],
    ['not-answered', [phone(1)]],
  ] as const)('is for those of whom it is said: %s', async (whom, numbers) => {
    const id = await sentTo3();
    await world.texts(phone(1), 'sky');
    await round(world, new Scripted());
    const copy = must(await world.within((scope) => copyBroadcast(world.ctx, scope, id, whom, ME)));
    expect(copy).toMatchObject({ state: 'draft', body: 'Clear tonight.' });
    await world.rows(
      `update broadcast set body = 'Clear again.' where workspace_id = :workspace and id = :id returning id`,
      { id: copy.id },
    );
    must(await world.within((scope) => sendBroadcast(world.ctx, scope, copy.id, {}, ME)));
    await beginDueBroadcasts(world.ctx);
    await prepareBroadcast(world.ctx, world.workspaceId, copy.id);
    expect(await numbersOf(copy.id)).toEqual(numbers);
  });
});

describe('a broadcast that repeats', () => {
  async function weekly(repeat = 'FREQ=WEEKLY'): Promise<string> {
    await world.texts(phone(0), 'sky');
    await round(world, new Scripted());
    const { id } = must(
      await world.within((scope) =>
        createBroadcast(
          world.ctx,
          scope,
          { program: 'Clear Sky Alerts', name: 'B', body: 'Clear tonight.', repeat },
          ME,
        ),
      ),
    );
    must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
    return id;
  }
  const scheduled = () =>
    world.rows<{ id: string; send_at: Date; series_id: string }>(
      `select id, send_at, series_id from broadcast where workspace_id = :workspace and state = 'scheduled'`,
    );

  it('has its next one scheduled when it begins, once, and sends the same words to nobody twice', async () => {
    const id = await weekly();
    await beginDueBroadcasts(world.ctx);
    await beginDueBroadcasts(world.ctx);
    const next = await scheduled();
    expect(next).toMatchObject([{ series_id: id, send_at: new Date(NOON + 7 * DAY) }]);
    await prepareBroadcast(world.ctx, world.workspaceId, id);
    await round(world, new Scripted());
    world.clock.at = NOON + 7 * DAY;
    await world.texts(phone(1), 'sky');
    await round(world, new Scripted());
    await beginDueBroadcasts(world.ctx);
    await prepareBroadcast(world.ctx, world.workspaceId, next[0]!.id);
    const rows = await world.rows<{ address: string; state: string }>(
      `select address, state from message where workspace_id = :workspace and send_id = :id order by address`,
      { id: next[0]!.id },
    );
    expect(rows).toEqual([
      { address: phone(0), state: 'blocked' },
      { address: phone(1), state: 'queued' },
    ]);
    expect(await scheduled()).toMatchObject([{ send_at: new Date(NOON + 14 * DAY), series_id: id }]);
  });

  it('leaves out the times that passed while nothing ran, and ends with the one that is the last', async () => {
    await weekly();
    world.clock.at = NOON + DAY;
    await beginDueBroadcasts(world.ctx);
    const [next] = await scheduled();
    must(await world.within((scope) => endRepeat(world.ctx, scope, next!.id, ME)));
    world.clock.at = NOON + 7 * DAY + HOUR;
    await beginDueBroadcasts(world.ctx);
    expect(await scheduled()).toEqual([]);
    expect(await world.within((scope) => endRepeat(world.ctx, scope, next!.id, ME))).toMatchObject({
      ok: false,
    });
  });

  it('is moved to another time; the next counts from its rule', async () => {
    await weekly();
    await beginDueBroadcasts(world.ctx);
    const [next] = await scheduled();
    const to = (at: number) =>
      world.within((scope) => reschedule(world.ctx, scope, next!.id, { at: toIso(at) }, ME));
    must(await to(NOON + 8 * DAY));
    expect(await to(NOON - DAY)).toMatchObject({ ok: false, reason: { problems: [{ field: 'at' }] } });
    world.clock.at = NOON + 8 * DAY;
    await beginDueBroadcasts(world.ctx);
    expect(await scheduled()).toMatchObject([{ send_at: new Date(NOON + 14 * DAY) }]);
    expect(await to(NOON + 9 * DAY)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it.each(['FREQ=SECONDLY', 'often'])('is refused with %s', async (repeat) =>
    expect(
      await world.within((scope) =>
        createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name: 'B', body: 'C.', repeat }, ME),
      ),
    ).toMatchObject({ ok: false, reason: { problems: [{ field: 'repeat' }] } }),
  );
});
