import pg from 'pg';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { HOUR, MINUTE } from '@/core/shared/instant';
import type { IncomingPart } from '@/gateways/carrier';
import { acceptNearMiss } from './answer-thread';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import type { CreateProgramInput } from '@/services/programs/inputs';
import { readExpiredParts, receiveText, settleArrival } from './receive-text';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, NUMBER, type World } from '@/services/testing/world';
import { workThrough } from '@/services/kit/trouble';
import { readUnread, settleUnread, UNREAD_QUEUE } from './unread-texts';

const ANA = '+13035550142';
let world: World;
beforeEach(async () => {
  world = await makeWorld();
  vi.spyOn(console, 'error').mockImplementation(() => {});
});
afterEach(async () => {
  vi.restoreAllMocks();
  await world.close();
});

const part = (body: string, over: Partial<IncomingPart> = {}): IncomingPart => ({
  ...{ carrierId: null, from: ANA, to: NUMBER, body, concat: null },
  ...over,
});
/** A text without an id, of which the carrier surely knows that we have it. */
async function texts(body: string, over: Partial<IncomingPart> = {}) {
  const received = await receiveText(world.ctx, part(body, over));
  await settleArrival(world.ctx, part(body, over));
  return received;
}
const rows = <T extends object>(sql: string) => world.within((scope) => scope.rows<T>(sql));
const consent = async (number = ANA) =>
  (
    await rows<{ state: string }>(
      `select c.state from consent_state c join person p on p.id = c.person_id where c.workspace_id = :workspace and p.number = '${number}'`,
    )
  ).map(({ state }) => state);
const bodies = async () =>
  (
    await rows<{ body: string }>(
      `select body from inbound_text where workspace_id = :workspace order by at, id`,
    )
  ).map(({ body }) => body);
const unread = () => world.within(readUnread);
/** Sends whatever may be sent, to see who gets it. */
async function leaves(): Promise<string[]> {
  const carrier = new Scripted();
  while ((await round(world, carrier)) > 0);
  return carrier.parts.map(({ to, body }) => `${to} ${body}`);
}

/** Lets the nth statement from now on fail inside the database, and all after it as `all` says; counts them. */
function failing(nth: number, all: boolean): { count: number } {
  const seen = { count: 0 };
  const real = pg.Client.prototype.query as (...args: unknown[]) => unknown;
  vi.spyOn(pg.Client.prototype, 'query').mockImplementation(function (this: pg.Client, ...args: unknown[]) {
    const [config, ...rest] = args as [string | { text: string; values?: unknown[] }, ...unknown[]];
    const text = typeof config === 'string' ? config : config.text;
    // What ends a failed try must work, or there is no database at all.
    const ends = /^(rollback|begin|commit)/i.test(text);
    if (!ends) seen.count += 1;
    const fails =
      !ends && (all ? seen.count >= nth && !/unread_text|savepoint/.test(text) : seen.count === nth);
    const broken = typeof config === 'string' ? 'select 1/0' : { ...config, text: 'select 1/0', values: [] };
    return real.call(this, fails ? broken : config, ...rest);
  } as never);
  return seen;
}

describe('a STOP', () => {
  it.each([
    'STOP \ud83d',
    '\udc1e stop',
    'ST\0OP',
    `stop ${'x'.repeat(494)}🐞`,
    `${'s'.repeat(499)}🐞 stop texting me`,
  ])('counts and keeps its evidence whatever it is dressed in: %j', async (body) => {
    await texts('sky');
    await leaves();
    await broadcastTo(world, 0, 'Clear tonight.');
    await texts(body);
    expect(await consent()).not.toContain('in');
    expect((await leaves()).filter((text) => !text.includes('opted out'))).toEqual([]);
    const [event] = await rows<{ evidence: { said: string } }>(
      `select evidence from consent_event where workspace_id = :workspace and kind = 'opted-out'`,
    );
    expect(event?.evidence.said.isWellFormed() ?? true).toBe(true);
  });

  it('is never lost, whichever statement of receiving fails, once or from there on', async () => {
    await texts('sky');
    await leaves();
    const counted = failing(Infinity, false);
    await world.texts('+13035550143', 'stop');
    vi.restoreAllMocks();
    vi.spyOn(console, 'error').mockImplementation(() => {});
    expect(counted.count).toBeGreaterThan(15);
    for (const all of [false, true])
      for (let nth = 1; nth <= counted.count + 6; nth++) {
        const number = `+1${all ? 720 : 970}555${String(100 + nth).padStart(4, '0')}`;
        await texts('sky', { from: number });
        await leaves();
        const seen = failing(nth, all);
        let acknowledged = true;
        try {
          await receiveText(world.ctx, part('STOP', { from: number }));
        } catch {
          acknowledged = false;
        }
        vi.restoreAllMocks();
        vi.spyOn(console, 'error').mockImplementation(() => {});
        const kept = (await unread()).map(({ body }) => body);
        const stored = await rows(
          `select 1 from inbound_text where workspace_id = :workspace and from_number = '${number}' and body = 'STOP'`,
        );
        // An acknowledged text is somewhere; one that is not is brought again by the carrier.
        if (acknowledged) expect(stored.length + kept.length).toBe(1);
        else await receiveText(world.ctx, part('STOP', { from: number }));
        await world.within((scope) =>
          scope.run(
            `insert into message (id, workspace_id, person_id, program_id, channel, kind, address, body, body_hash, alphabet, parts, credits, state, priority, not_before, created_at)
             select 'txt_' || p.id, :workspace, p.id, g.id, 'sms', 'broadcast', p.number, 'Clear.', p.id, 'GSM-7', 1, 1, 'queued', 5, :at, :at
               from person p, program g where p.workspace_id = :workspace and p.number = :number`,
            { number, at: new Date(world.clock.at) },
          ),
        );
        expect((await leaves()).filter((text) => text.includes('Clear.'))).toEqual([]);
        // A later try settles it.
        world.clock.at += MINUTE;
        await workThrough(world.ctx, UNREAD_QUEUE);
        expect(await unread()).toEqual([]);
        expect(await consent(number)).toEqual(['out']);
        if (seen.count < nth) break;
      }
  });

  it('that cannot be worked on is settled by a human, and holds until then', async () => {
    await texts('sky');
    await leaves();
    await world.poison('consent_event', `new.kind = 'opted-out'`);
    await texts('please stop');
    for (let i = 0; i < 12; i++) {
      world.clock.at += 12 * HOUR;
      await workThrough(world.ctx, UNREAD_QUEUE);
    }
    const [waiting] = await unread();
    expect(waiting).toMatchObject({
      body: 'please stop',
      from_number: ANA,
      problem: expect.stringContaining('poisoned'),
    });
    const [aside] = await rows<{ aside_at: Date }>(
      `select aside_at from trouble where workspace_id = :workspace`,
    );
    expect(aside?.aside_at).toBeTruthy();
    await world.cure('consent_event');
    await world.within((scope) => settleUnread(world.ctx, scope, waiting!.id, 'leaves', 'acc_me'));
    expect(await consent()).toEqual(['out', 'out']);
    expect(await unread()).toEqual([]);
    expect(await bodies()).toContain('please stop');
  });
});

describe('a text without an id', () => {
  it('counts each time it is written, within the same minute', async () => {
    await texts('sky');
    for (const [body, state] of [
      ['STOP', 'out'],
      ['START', 'in'],
      ['STOP', 'out'],
      ['START', 'in'],
    ] as const) {
      await texts(body);
      expect(await consent()).toEqual([state]);
    }
  });

  it('acts once when it is delivered again a minute later because our answer was lost', async () => {
    await receiveText(world.ctx, part('sky'));
    world.clock.at += 2 * MINUTE;
    await receiveText(world.ctx, part('sky'));
    await receiveText(world.ctx, part('Is it open?'));
    world.clock.at += 90_000;
    await receiveText(world.ctx, part('Is it open?'));
    expect(await bodies()).toEqual(['sky', 'Is it open?']);
    expect(await leaves()).toHaveLength(1);
  });

  it('does not open again what a STOP ended, when the START before it comes once more', async () => {
    await texts('sky');
    await texts('STOP');
    await receiveText(world.ctx, part('START'));
    await texts('STOP');
    await receiveText(world.ctx, part('START'));
    expect(await consent()).toEqual(['out']);
  });

  it('is told from others by its id where it has one', async () => {
    await receiveText(world.ctx, part('sky', { carrierId: 'a' }));
    await receiveText(world.ctx, part('sky', { carrierId: 'a' }));
    await receiveText(world.ctx, part('sky', { carrierId: 'b' }));
    expect(await bodies()).toEqual(['sky', 'sky']);
  });
});

describe('parts', () => {
  const piece = (body: string, index: number, total = 2, reference = 7) =>
    receiveText(world.ctx, part(body, { concat: { reference, total, index } }));

  it('make one text whatever their order, with an emoji cut between them', async () => {
    await piece('\udc1e out', 2);
    await piece('in \ud83d', 1);
    expect(await bodies()).toEqual(['in 🐞 out']);
  });

  it('of an older text do not complete a newer one; the older is read with its gap', async () => {
    await piece('please st', 1);
    world.clock.at += HOUR;
    await piece(' and more', 2);
    expect(await bodies()).toEqual(['please st']);
    await piece('Is it open', 1);
    expect(await bodies()).toEqual(['please st', 'Is it open and more']);
  });

  it('that were delivered again make nothing twice', async () => {
    await piece('sk', 1);
    await piece('y', 2);
    await piece('y', 2);
    await piece('sk', 1);
    expect(await bodies()).toEqual(['sky']);
  });

  it('use their reference for the next text too', async () => {
    await piece('one ', 1);
    await piece('text', 2);
    await piece('two ', 1);
    await piece('texts', 2);
    expect(await bodies()).toEqual(['one text', 'two texts']);
  });

  it('whose rest never comes are read after a while: they may end something, and begin nothing', async () => {
    await texts('sky');
    await piece('sky', 1, 2, 8);
    await piece('take me off this list please', 1, 3, 9);
    await texts('x', { from: '+13035550150' });
    await piece('sky', 1, 2, 8);
    world.clock.at += 11 * MINUTE;
    expect(await readExpiredParts(world.ctx)).toBe(2);
    expect(await consent()).toEqual(['out']);
    await texts('START');
    await receiveText(
      world.ctx,
      part('sky', { from: '+13035550151', concat: { reference: 1, total: 2, index: 1 } }),
    );
    world.clock.at += 11 * MINUTE;
    await readExpiredParts(world.ctx);
    expect(await consent('+13035550151')).toEqual([]);
  });
});

describe('a near miss counted as the keyword', () => {
  const person = async () =>
    (
      await rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number = '${ANA}'`,
      )
    )[0]!.id;

  it('is asked to confirm where the program asks everybody', async () => {
    await world.within((scope) =>
      createProgram(
        world.ctx,
        scope,
        { name: 'Dome Members', purpose: 'marketing', double_opt_in: true } as CreateProgramInput,
        'test',
      ),
    );
    await world.within((scope) =>
      createKeyword(world.ctx, scope, { program: 'Dome Members', word: 'METEOR' }, 'test'),
    );
    await texts('metoer');
    const id = await person();
    await world.within((scope) => acceptNearMiss(world.ctx, scope, id, 'acc_me'));
    expect(await consent()).toEqual(['asked']);
    expect(await leaves()).toEqual([expect.stringContaining('reply YES')]);
    await texts('yes');
    expect(await consent()).toEqual(['in']);
  });

  it('does not cover a STOP of the same moment, whichever comes first', async () => {
    for (let i = 0; i < 6; i++) {
      await texts('skyy');
      const id = await person();
      const accept = () => world.within((scope) => acceptNearMiss(world.ctx, scope, id, 'acc_me'));
      await Promise.all(i % 2 ? [accept(), texts('STOP')] : [texts('STOP'), accept()]);
      expect(await consent()).toEqual(['out']);
    }
  });
});

it('a text to a number that is not ours yet is kept, and read once it is', async () => {
  await texts('sky');
  await leaves();
  await receiveText(world.ctx, part('STOP', { to: '+17195550119' }));
  expect(await unread()).toMatchObject([{ body: 'STOP' }]);
  await world.within((scope) =>
    scope.run(
      `insert into sender_number (id, workspace_id, number, kind, registration, parts_per_second, next_free_at, created_at)
       values ('snd_new', :workspace, '+17195550119', 'local', 'registered', 10, :at, :at)`,
      { at: new Date(world.clock.at) },
    ),
  );
  await workThrough(world.ctx, UNREAD_QUEUE);
  expect(await consent()).toEqual(['out']);
});
