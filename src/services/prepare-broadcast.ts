import { toIso } from '@/core/shared/instant';
import { parseTemplate } from '@/core/text/template';
import { Account, Broadcast } from '@/db/entities';
import { freezeAudience, frozenPage } from '@/db/queries/audience';
import { addJob } from '@/db/queries/jobs';
import { ON_THE_WAY } from '@/db/queries/text-moves';
import { giveRoom } from '@/db/queries/people';
import { insertTexts, type NewText } from '@/db/queries/texts';
import { acrossWorkspaces, byKey, inWorkspace, type Scope } from '@/db/scope';
import { audienceContext, cutOf, planCondition } from './audience';
import { clearAudience, type Cleared } from './clear-audience';
import { loadProgramFacts } from './clearance-facts';
import type { Context } from './context';
import { moveBroadcast } from './move-broadcast';

const RECHECK_MS = 15 * 60_000;

/** Begins broadcasts whose time has come: the state and the job that prepares them commit together. */
export async function beginDueBroadcasts(ctx: Context): Promise<number> {
  const at = new Date(ctx.now());
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const due = await crossing.rows<{ id: string; workspace_id: string }>(
      `select id, workspace_id from broadcast where state = 'scheduled' and send_at <= :at for update skip locked`,
      { at },
    );
    for (const { id, workspace_id: workspaceId } of due) {
      const scope = crossing.within(workspaceId);
      await moveBroadcast(scope, id, 'begin', at);
      await scope.run(`update broadcast set begun_at = :at where workspace_id = :workspace and id = :id`, {
        id,
        at,
      });
      await freezeWho(scope, id, at.getTime());
      await addJob(scope, 'prepare-broadcast', { workspaceId, broadcastId: id });
    }
    return due.length;
  });
}

/** A segment stays live until the moment of sending; then who it means is written down. */
async function freezeWho(scope: Scope, broadcastId: string, now: number): Promise<void> {
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id: broadcastId });
  if (!broadcast.audience) return;
  const plan = planCondition(broadcast.audience, await audienceContext(scope, now));
  // Something it asks for is gone since: nobody is texted on a guess.
  const cut = cutOf(plan.ok ? plan.value : { op: 'or', of: [] }, '');
  await giveRoom(scope);
  await freezeAudience(scope, broadcastId, cut);
}

/**
 * Makes the texts of a broadcast, slice by slice; each slice commits with the cursor, so that after a crash it
 * goes on where it was. A person never gets two rows: the table refuses a second one.
 */
export async function prepareBroadcast(
  ctx: Context,
  workspaceId: string,
  broadcastId: string,
): Promise<void> {
  while (await inWorkspace(ctx.orm, workspaceId, (scope) => prepareSlice(ctx, scope, broadcastId)));
}

/** No slice for this long means that whoever prepared it is gone. */
const ABANDONED_MS = 3_000;

/**
 * Goes on with broadcasts whose preparation stopped half-way: the job queue would give a dead worker's job to
 * another only after hours. Two at once do no harm: each slice holds the broadcast's row.
 */
export async function resumePreparing(ctx: Context): Promise<void> {
  const abandoned = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ id: string; workspace_id: string }>(
      `select id, workspace_id from broadcast where state = 'preparing' and updated_at < :before`,
      { before: new Date(ctx.now() - ABANDONED_MS) },
    ),
  );
  for (const { id, workspace_id: workspaceId } of abandoned) await prepareBroadcast(ctx, workspaceId, id);
}

/** True while there may be more. */
async function prepareSlice(ctx: Context, scope: Scope, broadcastId: string): Promise<boolean> {
  const at = ctx.now();
  await byKey(scope);
  await scope.rows(
    `select id from broadcast where workspace_id = :workspace and id = :broadcastId for update`,
    { broadcastId },
  );
  const broadcast = await scope.em.findOne(Broadcast, { id: broadcastId });
  if (!broadcast || broadcast.state !== 'preparing') return false;
  const facts = await loadProgramFacts(scope, broadcast.programId, at);
  const template = parseTemplate(broadcast.body);
  if (!facts || !template.ok) throw new Error(`Broadcast ${broadcastId} cannot be read any more`);
  const senderName = await firstNameOf(scope, broadcast.createdBy);
  const sending = { facts, template: template.value, senderName, at };
  const meant = broadcast.audience
    ? { page: (within: Scope, after: string, most: number) => frozenPage(within, broadcastId, after, most) }
    : {};
  const slices = clearAudience(scope, { ...sending, ...meant }, broadcast.cursor);
  const slice = (await slices.next()).value as Cleared[] | undefined;
  if (!slice) {
    await moveBroadcast(scope, broadcastId, 'prepared', new Date(at));
    return false;
  }
  await insertTexts(
    scope,
    slice.map((cleared) => rowOf(ctx, broadcast, cleared)),
  );
  const cursor = slice[slice.length - 1]!.person.id;
  await scope.run(
    `update broadcast set cursor = :cursor, updated_at = :at where workspace_id = :workspace and id = :broadcastId`,
    { cursor, broadcastId, at: new Date(ctx.now()) },
  );
  return true;
}

function rowOf(ctx: Context, broadcast: Broadcast, { person, copy, clearance }: Cleared): NewText {
  const at = ctx.now();
  const { verdict, until } = clearance;
  return {
    id: ctx.id('txt'),
    personId: person.id,
    programId: broadcast.programId,
    broadcastId: broadcast.id,
    inReplyTo: null,
    kind: 'broadcast',
    number: person.number,
    senderId: clearance.senderId,
    body: copy.text,
    bodyHash: copy.bodyHash,
    alphabet: copy.alphabet,
    parts: copy.parts,
    credits: copy.credits,
    notBefore: verdict === 'blocked' ? null : new Date(verdict === 'held' ? (until ?? at + RECHECK_MS) : at),
    clearance: JSON.stringify({ at: toIso(at), ...clearance }),
    createdBy: broadcast.createdBy,
    createdAt: new Date(at),
  };
}

/** The first name a text is signed with; null for nobody. */
export async function firstNameOf(scope: Scope, accountId: string | null): Promise<string | null> {
  if (!accountId) return null;
  const account = await scope.em.findOne(Account, { id: accountId });
  return account?.name.split(' ')[0] ?? null;
}

/** Ends broadcasts of which nothing waits or is being sent any more. */
export async function finishBroadcasts(ctx: Context): Promise<number> {
  const at = new Date(ctx.now());
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const done = await crossing.rows<{ id: string; workspace_id: string }>(
      `select id, workspace_id from broadcast b where state = 'sending'
         and not exists (select 1 from text t where t.broadcast_id = b.id and t.not_before is not null)
         and not exists (select 1 from ${ON_THE_WAY} where d.workspace_id = b.workspace_id and t.broadcast_id = b.id)
       for update skip locked`,
    );
    for (const { id, workspace_id: workspaceId } of done)
      await moveBroadcast(crossing.within(workspaceId), id, 'settle', at);
    return done.length;
  });
}
