import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { SHIPPED_TEMPLATES } from '@/core/template/shipped';
import { addAccount } from '@/services/access/create-workspace';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { must } from '@/services/testing/people';
import { receipt, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { storeAnswers } from '@/services/delivery/store-answers';
import type { TemplateInput } from './inputs';
import {
  changeTemplate,
  createTemplate,
  dropTemplate,
  importTemplates,
  listTemplates,
  readTemplates,
  takeShipped,
  templatesDocument,
  versionsOf,
} from './templates';

const NOBODY = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const create = (
  more: Partial<TemplateInput> = {},
  actor: { name: string; accountId: string | null } = NOBODY,
) =>
  world.within((scope) =>
    createTemplate(world.ctx, scope, { name: 'Clear nights', body: 'Clear tonight.', ...more }, actor),
  );
const list = (accountId: string | null = null) => world.within((scope) => listTemplates(scope, accountId));

describe('a template', () => {
  it('keeps its words as they were, and of two who change it at once one is told', async () => {
    const { id } = must(await create());
    const change = (body: string) =>
      world.within((scope) => changeTemplate(world.ctx, scope, id, { version: 1, body }, NOBODY));
    expect(must(await change('Clear until two.')).version).toBe(2);
    expect(await change('Clear until three.')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    const versions = await world.within((scope) => versionsOf(scope, id));
    expect(versions.map(({ version, body }) => [version, body])).toEqual([
      [2, 'Clear until two.'],
      [1, 'Clear tonight.'],
    ]);
    must(await world.within((scope) => dropTemplate(world.ctx, scope, id, NOBODY)));
    expect(await list()).toEqual([]);
  });

  it('of one’s own is seen by nobody else, of whatever workspace', async () => {
    const of = (name: string) =>
      addAccount(world.ctx, world.workspaceId, {
        ...{ email: `${name}@juniper-gap.example.org`, name, role: 'manager' as const },
        password: 'a long pass phrase',
      });
    const [mine, other] = [await of('odile'), await of('piet')];
    const { id } = must(await create({ own: true }, { name: 'Odile', accountId: mine }));
    expect(await list(mine)).toHaveLength(1);
    expect(await list(other)).toEqual([]);
    const theirs = { name: 'Piet', accountId: other };
    const change = () =>
      world.within((scope) => changeTemplate(world.ctx, scope, id, { version: 1, body: 'No.' }, theirs));
    expect(await change()).toMatchObject({ ok: false, reason: { code: 'not-found' } });
    const { id: elsewhere } = await world.another();
    expect(await world.within((scope) => listTemplates(scope, mine), elsewhere)).toEqual([]);
  });

  it('counts what was sent from it and who replied', async () => {
    const { id } = must(await create());
    for (let i = 0; i < 2; i++) await world.texts(phone(i), 'sky');
    await round(world, new Scripted());
    const broadcast = must(
      await world.within((scope) =>
        createBroadcast(
          world.ctx,
          scope,
          { program: 'Clear Sky Alerts', name: 'B', body: 'Clear tonight.', template: id },
          NOBODY,
        ),
      ),
    );
    must(await world.within((scope) => sendBroadcast(world.ctx, scope, broadcast.id, {}, NOBODY)));
    await beginDueBroadcasts(world.ctx);
    await prepareBroadcast(world.ctx, world.workspaceId, broadcast.id);
    const carrier = new Scripted();
    await round(world, carrier);
    await storeAnswers(
      world.ctx,
      [],
      carrier.parts.map((part, i) => receipt(part, carrier.ids[i]!)),
    );
    await world.texts(phone(0), 'we are coming');
    const [line] = await world.within((scope) => readTemplates(world.ctx, scope, ''));
    expect(line).toMatchObject({ sends: 1, replied: { count: 1, of: 2 } });
  });
});

describe('templates as a document', () => {
  it('go out and come in again, each once', async () => {
    must(await world.within((scope) => takeShipped(world.ctx, scope, NOBODY)));
    const json = JSON.stringify(templatesDocument(await list()));
    const bring = () => world.within((scope) => importTemplates(world.ctx, scope, json, NOBODY));
    expect(must(await bring())).toEqual({ added: 0, known: SHIPPED_TEMPLATES.length });
    for (const { id } of await list())
      await world.within((scope) => dropTemplate(world.ctx, scope, id, NOBODY));
    expect(must(await bring())).toEqual({ added: SHIPPED_TEMPLATES.length, known: 0 });
    expect(JSON.stringify(templatesDocument(await list()))).toBe(json);
  });

  it.each([
    ['no JSON', '{'],
    ['something else', '{"format":"x"}'],
    ['null', 'null'],
  ])('are refused with %s', async (_, json) =>
    expect(await world.within((scope) => importTemplates(world.ctx, scope, json, NOBODY))).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'document' }] },
    }),
  );
});
