import { log } from '@/log/log';
import { interpret } from '@/core/reply/interpret';
import { DAY, SECOND } from '@/core/shared/instant';
import { assertNever, ok } from '@/core/shared/result';
import { ChatAccount, ChatTold, ChatWording } from '@/db/chat/entities';
import { CHAT_ARRIVED, forgetTold, insertTold, noteRead, sentChats, toldDue } from '@/db/chat/chats';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { carrierIdOf } from '@/gateways/chat/network';
import type { ArrivedChat, Told } from '@/gateways/chat/told';
import { storeToldReceipts } from '@/services/delivery/told-receipts';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { fetchFiles, leaveByBlock, receiveChat, takeBack, type FetchedFile } from './receive-chat';
import { decide } from './review';
import { lockWording } from './templates';

/** The account whose door this is. */
export interface ChatDoor {
  id: string;
  workspaceId: string;
  secret: string;
}

export const chatDoorOf = (ctx: Context, key: string): Promise<ChatDoor | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const account = await crossing.em.findOne(
      ChatAccount,
      { doorKey: key, removedAt: null },
      { filters: false },
    );
    return account && { id: account.id, workspaceId: account.workspaceId, secret: account.secret };
  });

type ReceiptTold = Extract<Told, { kind: 'receipt' }>;
type OtherTold = Exclude<Told, { kind: 'receipt' }>;

/**
 * Keeps what a network told, each once, before it hears that we have it. Receipts are stored at once, as a carrier’s are;
 * anything else is worked on by the worker, one after the other for each person.
 */
export async function keepTold(ctx: Context, door: ChatDoor, told: readonly Told[]): Promise<void> {
  const receipts = told.filter((one): one is ReceiptTold => one.kind === 'receipt');
  const others = told.filter((one): one is OtherTold => one.kind !== 'receipt');
  if (others.length > 0)
    await acrossWorkspaces(ctx.orm, (crossing) =>
      insertTold(crossing.within(door.workspaceId), {
        ...{ accountId: door.id, at: new Date(ctx.now()) },
        told: others.map((one) => ({
          ...{
            id: ctx.id('ctd'),
            eventId: one.eventId,
            who: whoOf(one),
            leaves: mayLeave(one),
            content: one,
          },
        })),
      }),
    );
  if (receipts.length > 0) await takeReceipts(ctx, door, receipts);
}

const whoOf = (told: OtherTold): string =>
  told.kind === 'arrived' ? told.chat.from : 'from' in told ? told.from : '';

function mayLeave(told: OtherTold): boolean {
  if (told.kind === 'blocked') return true;
  if (told.kind !== 'arrived') return false;
  const { button, text } = told.chat;
  return button?.leaves === true || ['opt-out', 'unclear'].includes(interpret(text).meaning);
}

const takeReceipts = (ctx: Context, door: ChatDoor, told: readonly ReceiptTold[]): Promise<void> =>
  storeToldReceipts(ctx, carrierIdOf, told, async (crossing) => {
    const sent = await sentChats(
      crossing,
      door.id,
      told.map(({ reference }) => reference),
    );
    const known = new Set(sent.map(({ id }) => id));
    const read = told.filter(({ reference, stat }) => stat === 'read' && known.has(reference));
    if (read.length > 0) await noteRead(crossing, door.id, firstOfEach(read));
    return sent;
  });

function firstOfEach(read: readonly ReceiptTold[]): { id: string; at: Date }[] {
  const first = new Map<string, Date>();
  for (const { reference, at } of read)
    if (!first.has(reference) || at < first.get(reference)!) first.set(reference, at);
  return [...first].map(([id, at]) => ({ id, at }));
}

/** What networks told, one after the other. */
export const TOLD_QUEUE: Queue = {
  name: 'chat-told',
  rows: {
    named: `(select case when t.who = '' then a.name else t.who end from chat_told t join chat_account a on a.id = t.account_id where t.id = x.row_id)`,
    waits: `exists (select 1 from chat_told t where t.id = x.row_id and t.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  untilDone: true,
  ...{ wakes: true, channel: CHAT_ARRIVED },
  due: async (reading, untroubled, at) => asDue(await toldDue(reading, untroubled('t.id'), at)),
  work: (ctx, { id, workspaceId }) => workOnTold(ctx, workspaceId!, id),
  // What they wrote stays in the row; nothing follows from it any more.
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(ChatTold, { id }, { dueAt: null })),
};

async function workOnTold(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const found = await inWorkspace(ctx.orm, workspaceId, (scope) => waiting(scope, id));
  if (!found) return false;
  const files = found.told.kind === 'arrived' ? await fetchFiles(found.account, found.told.chat) : [];
  return inWorkspace(ctx.orm, workspaceId, async (scope) => {
    await scope.rows(`select 1 from chat_told where workspace_id = :workspace and id = :id for update`, {
      id,
    });
    const now = await waiting(scope, id);
    if (!now) return false;
    await follow(ctx, scope, now, files);
    await scope.em.nativeUpdate(ChatTold, { id }, { dueAt: null, content: null });
    return true;
  });
}

interface Waiting {
  account: ChatAccount;
  told: OtherTold;
  at: Date;
}

async function waiting(scope: Scope, id: string): Promise<Waiting | null> {
  const row = await scope.em.findOne(ChatTold, { id }, { refresh: true });
  if (!row?.dueAt) return null;
  const account = await scope.em.findOneOrFail(ChatAccount, { id: row.accountId });
  return { account, told: revived(row.content as OtherTold), at: row.at };
}

/** JSON knows no dates. */
const revived = (told: OtherTold): OtherTold =>
  told.kind === 'arrived'
    ? { ...told, chat: { ...told.chat, at: new Date(told.chat.at) } as ArrivedChat }
    : told;

async function follow(
  ctx: Context,
  scope: Scope,
  { account, told, at }: Waiting,
  files: readonly FetchedFile[],
): Promise<unknown> {
  switch (told.kind) {
    case 'arrived':
      return receiveChat(ctx, scope, account, told.chat, files);
    case 'blocked':
      return leaveByBlock(ctx, scope, account, told.from, at);
    case 'unblocked':
      return takeBack(scope, told.from);
    case 'review': {
      const found = await scope.em.findOne(ChatWording, { networkId: told.template });
      const wording = found && (await lockWording(scope, found.id));
      if (!wording)
        return log.warn({ account: account.id }, 'A network told of a template that is none of ours.');
      return decide(ctx, scope, wording, told);
    }
    case 'account':
      return scope.em.nativeUpdate(ChatAccount, { id: account.id }, { dueAt: new Date(ctx.now()) });
    default:
      return assertNever(told);
  }
}

/** What was worked on so long ago is told no second time. */
const KEPT = 30 * DAY;

export const forgetOldTold = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => forgetTold(crossing, new Date(ctx.now() - KEPT)));
