import { log } from '@/log/log';
import { begins, openUntil } from '@/core/chat/window';
import { MINUTE, SECOND, type Millis } from '@/core/shared/instant';
import { ChatAccount, ChatWording } from '@/db/chat/entities';
import { chatsOf, lockAccountsOf, noteBegun } from '@/db/chat/chats';
import { lockUnsentTexts } from '@/db/delivery/due-texts';
import { unconfirmedBy } from '@/db/delivery/unconfirmed';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { carrierIdOf, type ChatNetwork, type OutgoingChat } from '@/gateways/chat/network';
import type { SubmitOutcome } from '@/gateways/carrier';
import { claimDue, type Handed, type Leaving, type Verdict, type Way } from '@/services/delivery/claim-due';
import { settleByAsking } from '@/services/delivery/settle-by-asking';
import type { Context } from '@/services/kit/context';
import { filesById } from '@/services/media/files';
import { fileUrl } from '@/services/media/views';

/** A chat message that is committed as `submitting` and must now be handed over. */
export interface LeavingChat extends Leaving {
  address: string;
  body: string;
}

const CHATS_LINE = { channel: 'chat', carriage: 'words' } as const;

const CHATS: Way<LeavingChat> = {
  ...CHATS_LINE,
  async due(crossing, at, room) {
    const due = await lockUnsentTexts(crossing, CHATS_LINE, new Date(at), room);
    // How many an account began with today is counted by one worker at a time.
    if (due.length > 0) await lockAccountsOf(crossing, [...new Set(due.map((text) => text.workspace_id))]);
    return due;
  },
  leave: ({ text }) => ({
    ...{ id: text.id, workspaceId: text.workspace_id, senderId: null, reference: null },
    ...{ attempts: text.attempts + 1, address: text.address, body: text.body },
  }),
  async note(scope, leaving, at) {
    const rows = new Map(
      (
        await chatsOf(
          scope,
          leaving.map(({ text }) => text.id),
        )
      ).map((row) => [row.message_id, row]),
    );
    const begun = leaving.flatMap((verdict) => {
      const row = rows.get(verdict.text.id);
      return row?.wording_id && begins(windowOf(verdict, row.account_id), at)
        ? [{ accountId: row.account_id, address: verdict.text.address }]
        : [];
    });
    if (begun.length > 0) await noteBegun(scope, begun, new Date(at));
  },
};

function windowOf({ person }: Verdict, accountId: string) {
  const { wrote, begun } = person.row.windows?.[accountId] ?? { wrote: null, begun: null };
  return { wroteAt: wrote ? Date.parse(wrote) : null, begunAt: begun ? Date.parse(begun) : null };
}

export const claimDueChats = (ctx: Context, worker: number, room: number): Promise<LeavingChat[]> =>
  claimDue(ctx, worker, room, CHATS);

/** Hands one over. Never throws: what cannot be put together was not written. */
export async function handOverChat(
  ctx: Context,
  network: ChatNetwork,
  text: LeavingChat,
): Promise<Handed<LeavingChat>> {
  try {
    const made = await inWorkspace(ctx.orm, text.workspaceId, async (scope) => {
      const [row] = await chatsOf(scope, [text.id]);
      if (!row) throw new Error(`What belongs to chat message ${text.id} is missing`);
      const account = await scope.em.findOneOrFail(ChatAccount, { id: row.account_id });
      const [window] = await scope.rows<{ wrote_at: Date | null }>(
        `select wrote_at from chat_window where workspace_id = :workspace and account_id = :account and address = :address`,
        { account: row.account_id, address: text.address },
      );
      const files = (await filesById(scope, row.media)).map(({ id, name, type, alt }) => ({
        ...{ url: fileUrl(id), name, type, alt },
      }));
      return { row, account, files, wroteAt: window?.wrote_at?.getTime() ?? null };
    });
    const outcome = await handOver(ctx, network, text, made);
    if (outcome.kind === 'refused' && outcome.reason === 'template-refused')
      await askAgain(ctx, text, made.row);
    return { text, parts: [outcome] };
  } catch (error) {
    log.error({ err: error }, 'A chat message could not be put together; it waits.');
    return { text, parts: [{ kind: 'refused', reason: 'network-busy', status: 0 }] };
  }
}

/** The network takes a template no more, and nobody told us: it is asked how that stands. */
const askAgain = (
  ctx: Context,
  { workspaceId }: LeavingChat,
  { wording_id: id }: { wording_id: string | null },
): Promise<number> =>
  inWorkspace(ctx.orm, workspaceId, (scope) =>
    scope.em.nativeUpdate(ChatWording, { id: id ?? '' }, { dueAt: new Date(ctx.now()) }),
  );

/** So near its end a window may close while a message is on its way: the network would refuse it by a breath. */
const BREATH: Millis = 2 * SECOND;

async function handOver(
  ctx: Context,
  network: ChatNetwork,
  { id, address, body }: LeavingChat,
  {
    row,
    account,
    files,
    wroteAt,
  }: {
    row: Awaited<ReturnType<typeof chatsOf>>[number];
    account: ChatAccount;
    files: Extract<OutgoingChat['content'], { text: string }>['files'] & object;
    wroteAt: Millis | null;
  },
): Promise<SubmitOutcome> {
  const until = openUntil(wroteAt, ctx.now());
  // It was open when it was cleared, moments ago.
  if (row.wording_id === null && (until === null || until - ctx.now() < BREATH))
    return { kind: 'refused', reason: 'window-closed', status: 0 };
  if (row.wording_id !== null && row.network_id === null)
    return { kind: 'refused', reason: 'template-refused', status: 0 };
  const content: OutgoingChat['content'] =
    row.wording_id === null
      ? {
          text: body,
          ...(row.buttons ? { buttons: row.buttons.map(replyButton) } : {}),
          ...(files.length > 0 ? { files } : {}),
        }
      : { template: { id: row.network_id!, filled: row.filled ?? {} } };
  return network.send(account, { reference: id, to: address, content });
}

const replyButton = (words: string) => ({ kind: 'reply' as const, words });

/** Nothing of a message is on the wire any more after so long. */
const OFF_THE_WIRE: Millis = MINUTE;

/** Settles chat messages of which nobody knows whether the network has them. Gives how many. */
export async function settleUnconfirmed(ctx: Context, network: ChatNetwork): Promise<number> {
  const waiting = await acrossWorkspaces(ctx.orm, (crossing) =>
    unconfirmedBy(crossing, 'chat', new Date(ctx.now() - OFF_THE_WIRE)),
  );
  return settleByAsking(ctx, waiting, {
    carrierId: carrierIdOf,
    async has({ id, workspace_id: workspaceId, account_id: accountId }) {
      const account = await inWorkspace(ctx.orm, workspaceId, (scope) =>
        scope.em.findOne(ChatAccount, { id: accountId }),
      );
      return account && network.has(account, id);
    },
  });
}
