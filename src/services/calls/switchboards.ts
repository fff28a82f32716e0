import { createHash } from 'node:crypto';
import { readBody } from '@/core/inquiry/read-body';
import { isTooDeep, type Tree } from '@/core/inquiry/tree';
import { CALL_NEEDS, CALL_TARGET_WORDS, type CallMapping } from '@/core/calls/mapping';
import { proposeCallMapping, readCallMapping } from '@/core/calls/read-call';
import { cleanText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { insertCallEvents } from '@/db/calls/calls';
import { CallEvent, Switchboard } from '@/db/calls/entities';
import { announce } from '@/db/delivery/texts';
import { toJson } from '@/db/kit/json';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { callHosts } from '@/services/kit/settings';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { CallMappingInput, ConnectSwitchboardInput } from './inputs';

/** Makes a door for a telephone system. What it tells is read once its mapping is known. */
export async function connectSwitchboard(
  ctx: Context,
  scope: Scope,
  input: ConnectSwitchboardInput,
  { accountId, name: actor }: Actor,
): Promise<Result<Switchboard, Refusal>> {
  const numbersUrl = input.numbers_url?.trim() || null;
  const refused = numbersUrl && refusedUrl(numbersUrl, callHosts());
  if (refused) return invalid('numbers_url', `numbers_url: ${refused}`);
  const made = scope.em.create(Switchboard, {
    ...{ id: ctx.id('swb'), workspaceId: scope.workspaceId, name: cleanText(input.name.trim()) },
    doorKey: Buffer.from(ctx.bytes(15)).toString('hex'),
    secret: `whsec_${Buffer.from(ctx.bytes(24)).toString('base64')}`,
    ...{ signs: input.signs ?? 'none', mapping: {}, numbersUrl, token: input.token?.trim() || null },
    ...{ heardAt: null, removedAt: null, createdBy: accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'switchboard.connected', made.id, { name: made.name });
  return ok(made);
}

export const standingBoard = (scope: Scope, id: string): Promise<Switchboard | null> =>
  scope.em.findOne(Switchboard, { id, removedAt: null });

/** Says where what it tells stands; what could not be read until now is read again. */
export async function mapSwitchboard(
  ctx: Context,
  scope: Scope,
  id: string,
  { mapping: given }: CallMappingInput,
  { name: actor }: Actor,
): Promise<Result<Switchboard, Refusal>> {
  const board = await standingBoard(scope, id);
  if (!board) return notFound('telephone system');
  const mapping = readCallMapping(given);
  if (!mapping)
    return invalid('mapping', 'mapping: must hold JSON Pointers such as "/call/id", by what stands there.');
  const missing = CALL_NEEDS.find((target) => mapping[target] === undefined);
  if (missing) return invalid('mapping', `mapping: say where ${CALL_TARGET_WORDS[missing]} stands.`);
  board.mapping = mapping;
  await scope.em.flush();
  await scope.run(
    `update call_event set due_at = :at, trouble = null where workspace_id = :workspace and switchboard_id = :id and (trouble is not null or due_at is not null) and content is not null`,
    { id, at: new Date(ctx.now()) },
  );
  await writeAudit(ctx, scope, actor, 'switchboard.mapped', id);
  await announce(scope, true);
  return ok(board);
}

export async function removeSwitchboard(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<Switchboard, Refusal>> {
  const board = await standingBoard(scope, id);
  if (!board) return notFound('telephone system');
  board.removedAt = new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'switchboard.removed', id, { name: board.name });
  return ok(board);
}

export interface BoardDoor {
  id: string;
  workspaceId: string;
  secret: string;
  signs: 'none' | 'standard';
}

export const boardDoorOf = (ctx: Context, key: string): Promise<BoardDoor | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const board = await crossing.em.findOne(
      Switchboard,
      { doorKey: key, removedAt: null },
      { filters: false },
    );
    return (
      board && { id: board.id, workspaceId: board.workspaceId, secret: board.secret, signs: board.signs }
    );
  });

/** More in one body is no list of events. */
const MOST_TOGETHER = 500;

/** Keeps what a telephone system told, one event or a list of them, each once. False: it cannot be read. */
export async function keepCallEvents(ctx: Context, door: BoardDoor, body: string): Promise<boolean> {
  const read = readBody('json', body);
  if (!read.ok) return false;
  const events = eventsIn(read.value);
  if (events.length === 0 || events.length > MOST_TOGETHER || events.some(isTooDeep)) return false;
  const at = new Date(ctx.now());
  await inWorkspace(ctx.orm, door.workspaceId, async (scope) => {
    await insertCallEvents(scope, {
      switchboardId: door.id,
      at,
      // What is told twice is told in the same words.
      told: events.map((content) => ({
        ...{ id: ctx.id('cev'), content },
        key: createHash('sha256').update(toJson(content)).digest('base64url'),
      })),
    });
    await scope.em.nativeUpdate(Switchboard, { id: door.id }, { heardAt: at });
  });
  return true;
}

/** A list, or a list under one name, or one event alone. */
function eventsIn(tree: Tree): Tree[] {
  if (Array.isArray(tree)) return tree;
  if (typeof tree !== 'object' || tree === null) return [];
  const lists = Object.values(tree).filter(
    (one): one is Tree[] => Array.isArray(one) && one.every((below) => typeof below === 'object'),
  );
  return lists.length === 1 && lists[0]!.length > 0 ? lists[0]! : [tree];
}

const SAMPLES = 20;

/** What it told lately, as it came. */
export const samplesOf = (scope: Scope, switchboardId: string): Promise<CallEvent[]> =>
  scope.em.find(
    CallEvent,
    { switchboardId, content: { $ne: null } },
    { orderBy: { at: 'desc' }, limit: SAMPLES },
  );

/** What a mapping may be, by what it told lately. */
export const proposedMapping = (samples: readonly CallEvent[]): CallMapping =>
  proposeCallMapping(samples.map(({ content }) => content as Tree));
