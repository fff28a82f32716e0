import { lockPersonByNumber } from '@/db/people/by-number';
import { ok, type Result } from '@/core/shared/result';
import { SenderNumberRow } from '@/db/numbers/entities';
import { insertInbound } from '@/db/inbox/inbound';
import { lockUnread, removeUnread, unreadDue, unreadTexts, type ShownUnread } from '@/db/inbox/unread';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { decideUnclear } from './leave-by-hand';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { carryOut } from './receive-text';
import { asDue, forgetTrouble, type Queue } from '@/services/kit/trouble';
import { notFound, type Refusal } from '@/services/kit/validation';

/** Texts whose consequences could not be carried out when they came: tried again, each on its own. */
export const UNREAD_QUEUE: Queue = {
  name: 'unread-text',
  rows: {
    named: `(select from_number from unread_text u where u.id = x.row_id)`,
    waits: `exists (select 1 from unread_text u where u.id = x.row_id)`,
  },
  everyMs: 1_000,
  wakes: true,
  giveUp: (ctx, scope, id, actor) => settleUnread(ctx, scope, id, 'stays', actor),
  due: async (reading, untroubled, at) => asDue(await unreadDue(reading, untroubled('u.id'), at)),
  work: (ctx, { id }) =>
    acrossWorkspaces(ctx.orm, async (crossing) => {
      const unread = await lockUnread(crossing, id);
      if (!unread) return false;
      const sender = await crossing.em.findOne(
        SenderNumberRow,
        { number: unread.to_number },
        { filters: false },
      );
      if (!sender) return false;
      await carryOut(ctx, crossing.within(sender.workspaceId), sender, {
        ...{
          carrierId: unread.carrier_id,
          fingerprint: unread.fingerprint,
          begins: 'unless-they-wrote-since',
        },
        ...{ from: unread.from_number, to: unread.to_number, body: unread.body, at: unread.at.getTime() },
      });
      return removeUnread(crossing, id);
    }),
};

export const readUnread = unreadTexts;

/**
 * A human's word on a text that could not be worked on: they want to leave, or nothing follows from it. It is taken
 * out of where it waits; what they wrote stays in the audit.
 */
export async function settleUnread(
  ctx: Context,
  scope: Scope,
  id: string,
  word: 'leaves' | 'stays',
  actor: string,
): Promise<Result<null, Refusal>> {
  const waiting = (await unreadTexts(scope)).find((one) => one.id === id);
  if (!waiting) return notFound('text');
  const { from_number: number, to_number: to, at } = waiting;
  const made = { id: ctx.id('per'), number, source: `text to ${to}`, at, region: null, zones: [] };
  const person = await lockPersonByNumber(scope, made);
  // Their words go where all their words stand, if they can.
  await scope.attempt(() => storeWords(ctx, scope, waiting, person.id, word));
  if (word === 'leaves') {
    const left = await decideUnclear(ctx, scope, person.id, true, actor);
    if (!left.ok) return left;
  }
  await scope.run(
    `delete from unread_text where id = :id and (workspace_id = :workspace or workspace_id is null)`,
    { id },
  );
  await forgetTrouble(scope, 'unread-text', id);
  await writeAudit(ctx, scope, actor, `unread-text.${word}`, person.id);
  return ok(null);
}

async function storeWords(
  ctx: Context,
  scope: Scope,
  { from_number: from, to_number: to, body, at }: ShownUnread,
  personId: string,
  word: 'leaves' | 'stays',
): Promise<void> {
  const sender = await scope.em.findOne(SenderNumberRow, { number: to });
  if (!sender) return;
  const meaning = word === 'leaves' ? ('opt-out' as const) : ('reply' as const);
  const interpretation = { meaning, rule: 'by-hand', evidence: '', keyword: null, nearKeyword: null };
  const words = { from, body, at, interpretation, carrierId: null, fingerprint: null, afterTextId: null };
  await insertInbound(scope, {
    ...{ id: ctx.id('inb'), personId, channel: 'sms', subject: null, senderId: sender.id },
    ...words,
  });
}
