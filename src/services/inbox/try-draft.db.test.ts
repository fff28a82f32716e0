import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR } from '@/core/shared/instant';
import { OwnNumber } from '@/db/sequences/entities';
import { addAccount } from '@/services/access/create-workspace';
import { must } from '@/services/testing/people';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { tryDraft, type TryQuestion } from './try-draft';

let world: World;
let me: { name: string; accountId: string };
const MINE = '+13035550147';
beforeEach(async () => {
  world = await makeWorld();
  const account = {
    email: 'tova@example.org',
    name: 'Tova Lindqvist',
    password: 'a long password',
    role: 'manager' as const,
  };
  me = { name: 'tova', accountId: await addAccount(world.ctx, world.workspaceId, account) };
});
afterEach(() => world.close());

const prove = () =>
  world.within((scope) =>
    scope.run(
      `insert into own_number (workspace_id, account_id, number) values (:workspace, :account, :number)`,
      { account: me.accountId, number: MINE },
    ),
  );
const BODY = 'Sky: hi {$person.first_name :wren:field fallback=friend}, see https://sky.example.org';
const tryIt = (more: Partial<TryQuestion> = {}) =>
  world.within((scope) =>
    tryDraft(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', body: BODY, personId: null, senderName: 'Tova', ...more },
      me,
    ),
  );
async function come(): Promise<string[]> {
  const carrier = new Scripted();
  await round(world, carrier);
  return carrier.parts.map(({ to, body }) => `${to} ${body}`);
}

describe('a text that is tried', () => {
  it('needs a number that is proved', async () => {
    expect(await tryIt()).toMatchObject({ ok: false, reason: { problems: [{ field: 'number' }] } });
  });

  it('comes as somebody would read it, again and again, and is of no send', async () => {
    await prove();
    await world.texts(phone(0), 'sky');
    await world.within((scope) =>
      scope.run(`update person set first_name = 'Ana' where workspace_id = :workspace and number = :number`, {
        number: phone(0),
      }),
    );
    await come();
    const [ana] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = :number`,
      { number: phone(0) },
    );
    must(await tryIt({ personId: ana!.id }));
    expect(await come()).toEqual([`${MINE} Sky: hi Ana, see https://sky.example.org`]);
    must(await tryIt());
    expect(await come()).toEqual([`${MINE} Sky: hi Tova, see https://sky.example.org`]);
    must(await tryIt());
    expect(await come()).toHaveLength(1);
    expect(
      await world.rows(
        `select distinct kind, send_id from message where workspace_id = :workspace and address = :mine`,
        { mine: MINE },
      ),
    ).toEqual([{ kind: 'trial', send_id: null }]);
  });

  it('does not keep the real one from a member', async () => {
    await prove();
    await world.texts(MINE, 'sky');
    await come();
    must(await tryIt({ body: 'Clear tonight.' }));
    expect(await come()).toHaveLength(1);
    await broadcastTo(world, 0, 'Clear tonight.');
    expect(await come()).toEqual([`${MINE} Clear tonight.`]);
  });

  it('comes to nobody after a STOP, and not in floods', async () => {
    await prove();
    for (let i = 0; i < 30; i++) must(await tryIt({ body: `Sky ${i}` }));
    expect(await tryIt()).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    world.clock.at += HOUR + 1;
    must(await tryIt());
    await world.texts(MINE, 'STOP');
    expect(await tryIt()).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it.each([
    [{ body: ' ' }, 'body'],
    [{ body: 'Hi {$person' }, 'body'],
    [{ body: 'Hi {$person.email}' }, 'body'],
    [{ program: 'None' }, 'program'],
  ])('says what is wrong with %j', async (more, field) => {
    await prove();
    expect(await tryIt(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });

  it('is rendered as nobody of another workspace', async () => {
    await prove();
    const other = await world.another();
    const [them] = await world.within(
      (scope) => scope.rows<{ id: string }>(`select id from person where workspace_id = :workspace limit 1`),
      other.id,
    );
    expect(await tryIt({ personId: them?.id ?? 'per_none' })).toMatchObject({
      ok: false,
      reason: { code: 'not-found' },
    });
    expect(await world.within((scope) => scope.em.count(OwnNumber, {}))).toBe(1);
  });
});
