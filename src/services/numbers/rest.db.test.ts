import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { moveAssignments } from '@/db/delivery/due-texts';
import { Message, SenderAssignment } from '@/db/delivery/entities';
import { TeammateMail } from '@/db/email/entities';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Program, ProgramSender } from '@/db/programs/entities';
import { putTogether } from '@/db/results/results';
import { addAccount, addSenderNumber } from '@/services/access/create-workspace';
import { reportClearance } from '@/services/clearance/report-clearance';
import { workThrough } from '@/services/kit/trouble';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { bringNumberBack, NUMBERS_QUEUE, restNumber } from './rest';

const OTHER = '+13035550190';
const ME = { accountId: null, name: 'test' };

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await world.within(async (scope) => {
    const sender = await addSenderNumber(world.ctx, scope, {
      ...{ number: OTHER, kind: 'local', registration: 'registered', partsPerSecond: 1_000 },
    });
    const program = await scope.em.findOneOrFail(Program, {});
    await scope.em.persistAndFlush(
      scope.em.create(ProgramSender, {
        ...{ workspaceId: scope.workspaceId, programId: program.id, senderId: sender.id },
      }),
    );
    // Whoever joined before it was there knows the first.
    await scope.run(`update sender_number set created_at = now() where workspace_id = :workspace`);
  });
});
afterEach(() => world.close());

const numbered = (number = NUMBER) =>
  world.within((scope) => scope.em.findOneOrFail(SenderNumberRow, { number }));
const rest = async (number = NUMBER, days = 7) => {
  const { id } = await numbered(number);
  return world.within((scope) => restNumber(world.ctx, scope, id, { days, why: 'to see' }, ME));
};
const lookAfter = async () => {
  await world.within((scope) =>
    scope.em.nativeUpdate(Workspace, { id: scope.workspaceId }, { numbersAt: new Date(world.clock.at) }),
  );
  await workThrough(world.ctx, NUMBERS_QUEUE);
};
let named = 0;
/** A broadcast whose texts are queued. */
const broadcast = async () => {
  const name = `B${(named += 1)}`;
  const made = must(
    await world.within((scope) =>
      createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name, body: `${name} tonight.` }, ME),
    ),
  );
  await world.within((scope) => sendBroadcast(world.ctx, scope, made.id, {}, ME));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, made.id);
  return made.id;
};
const joined = async (people: number) => {
  for (let i = 0; i < people; i++) await world.texts(phone(i), 'sky');
  await round(world, new Scripted());
};
const messages = (kind: Message['kind']) =>
  world.within((scope) => scope.em.find(Message, { kind }, { orderBy: { id: 'asc' } }));

describe('a number that rests', () => {
  it('begins nothing; its people are told of the number that comes instead, before anything leaves from it, and keep it', async () => {
    await joined(3);
    const [resting, other] = [await numbered(), await numbered(OTHER)];
    must(await rest());
    const draft = await world.within((scope) =>
      reportClearance(scope, {
        ...{ program: 'Clear Sky Alerts', body: 'Clear tonight.', at: world.clock.at },
        ...{ senderName: null, personId: null },
      }),
    );
    expect(must(draft).toldFirst).toBe(3);
    await broadcast();
    const carrier = new Scripted();
    await round(world, carrier);
    world.clock.at += MINUTE;
    await round(world, carrier);
    await round(world, carrier);
    for (let i = 0; i < 3; i++) {
      const theirs = carrier.parts.filter(({ to }) => to === phone(i));
      expect(theirs.map(({ from }) => from)).toEqual([OTHER, OTHER]);
    }
    const told = await messages('other-number');
    expect(told).toHaveLength(3);
    expect(told[0]!.body).toContain('instead of (719) 555-0110');
    const known = await world.within((scope) => scope.em.find(SenderAssignment, {}));
    expect(known.map(({ senderId, before }) => [senderId, before])).toEqual(
      Array(3).fill([other.id, resting.id]),
    );
    // Once: what follows leaves from the number they were told of.
    world.clock.at += DAY;
    await broadcast();
    await round(world, carrier);
    expect(await messages('other-number')).toHaveLength(3);
    expect((await messages('broadcast')).filter(({ state }) => state === 'submitted')).toHaveLength(6);
  });

  it('gives somebody another number once, and who waited for that tells them nothing', async () => {
    await joined(1);
    const [known] = await world.within((scope) => scope.em.find(SenderAssignment, {}));
    const { id: senderId } = await numbered(OTHER);
    const move = (scope: Scope) =>
      moveAssignments(
        scope,
        [{ personId: known!.personId, programId: known!.programId, senderId }],
        new Date(world.clock.at),
      );
    let second: Promise<object[]> = Promise.resolve([]);
    const first = await world.within(async (scope) => {
      const moved = await move(scope);
      second = world.within(move);
      return moved;
    });
    expect(first).toEqual([{ person_id: known!.personId }]);
    expect(await second).toEqual([]);
  });

  it('answers who writes to it', async () => {
    must(await rest());
    await world.texts(phone(5), 'sky');
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts.map(({ from }) => from)).toEqual([NUMBER]);
  });

  it('that was queued from before it rested leaves from the other', async () => {
    await joined(2);
    await broadcast();
    must(await rest());
    const carrier = new Scripted();
    for (let i = 0; i < 4; i++) {
      await round(world, carrier);
      world.clock.at += MINUTE;
    }
    expect(carrier.parts.map(({ from }) => from)).toEqual(Array(4).fill(OTHER));
  });

  it('is never the last one of a program, nor rested twice', async () => {
    must(await rest(OTHER));
    expect(await rest(OTHER)).toMatchObject({ ok: false });
    const refused = await rest();
    if (refused.ok) throw new Error('rested');
    expect(refused.reason.problems[0]!.message).toContain('Clear Sky Alerts would have no other number');
  });

  it('is brought back by hand or by the clock, carries more by the day, and is as it was', async () => {
    await joined(1);
    must(await rest());
    const { id } = await numbered();
    must(await world.within((scope) => bringNumberBack(world.ctx, scope, id, ME)));
    expect(await numbered()).toMatchObject({ restedAt: null, usualADay: 1 });
    must(await rest(OTHER, 2));
    await world.within((scope) =>
      scope.em.nativeUpdate(SenderNumberRow, { number: OTHER }, { usualADay: 400 }),
    );
    world.clock.at += 2 * DAY;
    await lookAfter();
    expect(await numbered(OTHER)).toMatchObject({ restedAt: null, restUntil: null, usualADay: 400 });
    // Back on its first day it takes 25, the rest waits for tomorrow.
    await world.within((scope) =>
      scope.run(
        `update sender_number set registration = 'none' where workspace_id = :workspace and number = '${NUMBER}'`,
      ),
    );
    for (let i = 0; i < 30; i++) await world.texts(phone(10 + i), 'sky', OTHER);
    await round(world, new Scripted());
    await round(world, new Scripted());
    expect((await messages('confirmation')).filter(({ state }) => state === 'submitted').length).toBe(26);
    world.clock.at += 5 * DAY;
    await lookAfter();
    expect(await numbered(OTHER)).toMatchObject({ backAt: null, usualADay: null, rests: 0 });
  });

  it('rests by itself where it is unwell and another is well, and its managers are told', async () => {
    await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'ana@example.org', name: 'Ana', password: 'clear-skies-tonight', role: 'manager' },
    });
    await world.within((scope) =>
      scope.em.nativeUpdate(SenderNumberRow, { number: OTHER }, { registration: 'none' }),
    );
    await unwell();
    await lookAfter();
    // The other may not send: nobody falls silent for a rule.
    expect((await numbered()).restedAt).toBeNull();
    await world.within((scope) =>
      scope.em.nativeUpdate(SenderNumberRow, { number: OTHER }, { registration: 'registered' }),
    );
    await lookAfter();
    expect(await numbered()).toMatchObject({ restedBy: 'rule', rests: 1 });
    expect((await numbered()).restUntil!.getTime()).toBe(world.clock.at + 7 * DAY);
    const letters = await world.within((scope) => scope.em.find(TeammateMail, {}));
    expect(letters.map(({ subject }) => subject)).toEqual([
      '(719) 555-0110 rests: less of it is delivered, more of it is refused as spam',
    ]);
  });

  it('stays where the workspace wants no rule', async () => {
    await unwell();
    await world.within((scope) =>
      scope.em.nativeUpdate(Workspace, { id: scope.workspaceId }, { restsUnwell: false }),
    );
    await lookAfter();
    expect((await numbered()).restedAt).toBeNull();
  });
});

/** Weeks of texts of which nearly all arrive, and then days on which the carrier refuses many as spam. */
async function unwell(): Promise<void> {
  await joined(1);
  const { id } = await numbered();
  await world.within(async (scope) => {
    const [person] = await scope.rows<{ id: string; program: string }>(
      `select p.id, g.id as program from person p, program g where p.workspace_id = :workspace and g.workspace_id = :workspace`,
    );
    const day = (n: number) => new Date(world.clock.at - n * DAY - HOUR);
    const insert = (state: string, failure: string | null, at: Date, count: number) =>
      scope.run(
        `insert into message (id, workspace_id, person_id, program_id, kind, channel, address, sender_id, body, body_hash, alphabet, parts, credits, state, failure, priority, attempts, submitted_at, settled_at, created_at)
         select 'txt_' || :mark || i, :workspace, :person, :program, 'answer', 'sms', '${phone(0)}', :id, 'x', 'x', 'GSM-7', 1, 0, :state, :failure, 1, 1, :at, :at, :at from generate_series(1, :count) i`,
        {
          mark: `${state}${at.getTime()}`,
          person: person!.id,
          program: person!.program,
          id,
          state,
          failure,
          at,
          count,
        },
      );
    for (let n = 10; n < 40; n += 5) await insert('delivered', null, day(n), 60);
    await insert('delivered', null, day(1), 60);
    await insert('failed', 'spam-blocked', day(1), 40);
  });
  await acrossWorkspaces(world.ctx.orm, (crossing) => putTogether(crossing));
}
