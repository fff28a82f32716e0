import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { writeAudit } from '@/services/kit/audit';
import { makeWorld, type World } from '@/services/testing/world';
import { auditFile, readAudit, readAuditCut } from './audit';

const ZONE = 'America/Denver';
let world: World;
beforeAll(async () => {
  world = await makeWorld();
  const write = (actor: string, action: string, subject: string) =>
    world.within((scope) => writeAudit(world.ctx, scope, actor, action, subject, { why: '=1+1' }));
  await write('key:Shop', 'person.paused', 'per_1');
  world.clock.at += DAY;
  await write('key:Shop', 'broadcast.sent', 'brc_1');
  await write('acc_gone', 'person.opted-out', 'per_1');
});
afterAll(() => world.close());

const subjects = async (asked: Record<string, string>) => {
  const cut = readAuditCut(asked, ZONE);
  const { rows } = await world.within((scope) => readAudit(scope, cut, null));
  return rows.filter(({ detail }) => 'why' in detail).map(({ action }) => action);
};
const day = (offset: number) =>
  new Date(world.clock.at - 7 * 3_600_000 + offset * DAY).toISOString().slice(0, 10);

describe('the audit', () => {
  it.each([
    [{}, ['person.opted-out', 'broadcast.sent', 'person.paused']],
    [{ actor: 'key:Shop' }, ['broadcast.sent', 'person.paused']],
    [{ action: 'person.' }, ['person.opted-out', 'person.paused']],
    [{ subject: 'per_1', actor: 'acc_gone' }, ['person.opted-out']],
    [{ from: 'nonsense', action: '%' }, []],
  ])('by %j', async (asked, actions) =>
    expect(await subjects(asked as Record<string, string>)).toEqual(actions),
  );

  it('by days, the last one whole', async () => {
    expect(await subjects({ from: day(0) })).toEqual(['person.opted-out', 'broadcast.sent']);
    expect(await subjects({ to: day(-1) })).toEqual(['person.paused']);
    expect(await subjects({ from: day(-1), to: day(0) })).toHaveLength(3);
  });

  it('is one file, in which nothing runs as a formula', async () => {
    const file = auditFile(world.ctx.orm, world.workspaceId, readAuditCut({ actor: 'key:Shop' }, ZONE));
    const lines = (await new Response(file).text()).trim().split('\r\n');
    expect(lines).toHaveLength(3);
    expect(lines[1]).toContain(',key:Shop,broadcast.sent,brc_1,');
  });

  it('calls what has a name by it, and of nobody who was erased', async () => {
    await world.texts('+13035550141', 'sky');
    const [person] = await world.rows<{ id: string }>(
      `update person set first_name = 'Ana' where workspace_id = :workspace returning id`,
    );
    const [program] = await world.rows<{ id: string }>(
      `select id from program where workspace_id = :workspace`,
    );
    await world.within((scope) =>
      writeAudit(world.ctx, scope, 'key:Shop', 'person.named', person!.id, {
        in: [{ program: program!.id }],
        gone: 'tsk_1',
      }),
    );
    const look = async () => {
      const cut = readAuditCut({ action: 'person.named' }, ZONE);
      return (await world.within((scope) => readAudit(scope, cut, null))).names;
    };
    expect(await look()).toEqual({ [person!.id]: 'Ana', [program!.id]: 'Clear Sky Alerts' });
    await world.rows(`update person set erased_at = now() where workspace_id = :workspace returning id`);
    expect(await look()).toEqual({ [program!.id]: 'Clear Sky Alerts' });
  });
});
