import { EVERYBODY, type Condition } from '@/core/audience/condition';
import { splitLeftOut, withLeftOut } from '@/core/audience/left-out';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { notFound, type Refusal } from '@/services/kit/validation';
import type { CopyFor } from './copy-for';
import { freshBroadcast } from './fresh-broadcast';

/** A new draft with the words and the audience of a broadcast. The hours of the day it had are chosen anew. */
export async function copyBroadcast(
  ctx: Context,
  scope: Scope,
  id: string,
  whom: CopyFor,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  const {
    programId,
    channel,
    subject,
    body,
    links,
    timing,
    comparison,
    media,
    instead,
    companion,
    chatTemplateId,
    recordingId,
  } = broadcast;
  const copy = scope.em.create(Broadcast, {
    ...freshBroadcast(ctx, scope, actor.accountId),
    ...{ programId, channel, subject, body, links, media, instead, companion, chatTemplateId, recordingId },
    name: cutText(`${broadcast.name}${NAMES[whom]}`, 120),
    audience: audienceFor(broadcast, whom),
    timing: { ...timing, local: null, pace: timing.pace && 'until' in timing.pace ? null : timing.pace },
    comparison: whom === 'same' ? comparison : null,
  });
  await scope.em.persistAndFlush(copy);
  await writeAudit(ctx, scope, actor.name, 'broadcast.created', copy.id, { copied_from: id, for: whom });
  return ok(copy);
}

const NAMES: Record<CopyFor, string> = {
  same: ', again',
  'not-got': ', for who did not get it',
  'not-answered': ', for who did not answer',
};

function audienceFor({ id, audience }: Broadcast, whom: CopyFor): Condition | null {
  const { base, leftOut } = splitLeftOut(audience ?? EVERYBODY);
  switch (whom) {
    case 'same':
      return audience;
    case 'not-got':
      return withLeftOut({ base, leftOut: [...leftOut, id] });
    case 'not-answered':
      return {
        all: [
          { ask: 'sent', has: true, outcome: 'got', of: { broadcast: id } },
          { ask: 'did', has: false, act: 'replied', of: { broadcast: id } },
        ],
      };
  }
}
