import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { teammateMailQueue } from '@/services/email/teammate-mail';
import { workThrough } from '@/services/kit/trouble';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import type { MailGateway, OutgoingMail } from '@/gateways/mail/sender';
import type { SubmitOutcome } from '@/gateways/carrier';
import { endCalendarAddress, newCalendarAddress, readCalendar, tellByMail } from './follow-calendar';
import { readTaskScreen, type WhoseTasks } from './screen';
import { changeTask, createTask } from './tasks';

let world: World;
let tova: { name: string; accountId: string };
let marek: { name: string; accountId: string };
const letters: OutgoingMail[] = [];
let answer: SubmitOutcome;
const gateway: MailGateway = {
  free: () => 1,
  send: (mail) => {
    letters.push(mail);
    return Promise.resolve(answer);
  },
  close: () => Promise.resolve(),
};
const queue = teammateMailQueue(() => gateway);

beforeEach(async () => {
  world = await makeWorld();
  letters.length = 0;
  answer = { kind: 'taken', carrierId: 'mail:1' };
  const account = async (name: string) => {
    const accountId = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: `${name}@example.org`, name, password: 'a long password', role: 'manager' },
    });
    return { name: accountId, accountId };
  };
  tova = await account('tova');
  marek = await account('marek');
});
afterEach(() => world.close());

const task = (title: string, to: string | null, by = marek) =>
  world.within(async (scope) => {
    const due = new Date(world.clock.at + DAY).toISOString();
    return must(
      await createTask(world.ctx, scope, { title, due, ...(to ? { account: to } : {}) }, 'hand', by),
    ).id;
  });
const wantMail = (wanted: boolean) => world.within((scope) => tellByMail(world.ctx, scope, wanted, tova));

describe('a new task', () => {
  it('is told by e-mail to who wants that, and to nobody else', async () => {
    await task('Nobody asked', tova.accountId);
    await wantMail(true);
    await task('Call Ana', tova.accountId);
    await task('Nobody’s yet', null);
    await task('Marek’s', marek.accountId);
    await task('Her own', tova.accountId, tova);
    await workThrough(world.ctx, queue);
    expect(letters.map(({ to, subject }) => `${to} ${subject}`)).toEqual(['tova@example.org Task: Call Ana']);
    expect(letters[0]!.text).toContain('/tasks');
    await workThrough(world.ctx, queue);
    expect(letters).toHaveLength(1);
    await wantMail(false);
    await task('Quiet again', tova.accountId);
    expect(await workThrough(world.ctx, queue)).toBe(0);
  });

  it('that is handed on is told to who gets it', async () => {
    await wantMail(true);
    const id = await task('Call Ana', marek.accountId);
    await world.within(async (scope) =>
      must(await changeTask(world.ctx, scope, id, { verb: 'hand-on', account: tova.accountId }, marek)),
    );
    await workThrough(world.ctx, queue);
    expect(letters.map(({ subject }) => subject)).toEqual(['Task: Call Ana']);
  });

  it('whose letter is not taken is tried again; one that is refused shows its problem', async () => {
    await wantMail(true);
    await task('Call Ana', tova.accountId);
    answer = { kind: 'not-written' };
    await workThrough(world.ctx, queue);
    answer = { kind: 'refused', reason: 'mailbox-gone', status: 550 };
    world.clock.at += DAY / 2;
    await workThrough(world.ctx, queue);
    expect(letters).toHaveLength(2);
    const troubles = await world.rows<{ queue: string; aside_at: Date | null }>(
      `select queue, aside_at from trouble where workspace_id = :workspace`,
    );
    expect(troubles).toMatchObject([{ queue: 'teammate-mail', aside_at: expect.any(Date) as Date }]);
  });
});

describe('a list of tasks', () => {
  it('is one’s own, nobody’s yet, or everybody’s, and counts all three', async () => {
    const [mine, free, other] = [
      await task('Call', tova.accountId),
      await task('Ask', null),
      await task('Go', marek.accountId),
    ];
    const read = (whose: WhoseTasks) =>
      world.within((scope) => readTaskScreen(world.ctx, scope, whose, tova.accountId));
    const ids = async (whose: WhoseTasks) => (await read(whose)).open.map(({ id }) => id).sort();
    expect([await ids('mine'), await ids('nobody'), await ids('all')]).toEqual([
      [mine],
      [free],
      [mine, free, other].sort(),
    ]);
    expect((await read('mine')).counts).toEqual({ mine: 1, nobody: 1, all: 3, nobodyDue: 0 });
    world.clock.at += DAY;
    await world.within((scope) => changeTask(world.ctx, scope, other, { verb: 'done' }, marek));
    expect((await read('all')).counts).toEqual({ mine: 1, nobody: 1, all: 2, nobodyDue: 1 });
    expect((await read('nobody')).settled).toEqual([]);
    expect((await read('all')).settled.map(({ id }) => id)).toEqual([other]);
  });
});

describe('a calendar that is followed', () => {
  it('shows the open tasks of whose address it is, until that ends', async () => {
    await task('Call Ana', tova.accountId);
    await task('Marek’s', marek.accountId);
    const address = await world.within((scope) => newCalendarAddress(world.ctx, scope, tova));
    const key = address.split('/').at(-1)!;
    const calendar = (await readCalendar(world.ctx, key))!;
    expect(calendar).toContain('SUMMARY:Call Ana');
    expect(calendar).not.toContain('Marek');
    expect(await readCalendar(world.ctx, `${key}x`)).toBeNull();
    const next = await world.within((scope) => newCalendarAddress(world.ctx, scope, tova));
    expect(await readCalendar(world.ctx, key)).toBeNull();
    await world.within((scope) => endCalendarAddress(world.ctx, scope, tova));
    expect(await readCalendar(world.ctx, next.split('/').at(-1)!)).toBeNull();
  });

  it('of one workspace is not touched by another', async () => {
    const other = await world.another();
    await addAccount(world.ctx, other.id, {
      ...{ email: 'tova@example.org', name: 'tova', password: 'a long password', role: 'manager' },
    });
    const address = await world.within((scope) => newCalendarAddress(world.ctx, scope, tova));
    await world.within((scope) => endCalendarAddress(world.ctx, scope, tova), other.id);
    expect(await readCalendar(world.ctx, address.split('/').at(-1)!)).not.toBeNull();
  });
});
