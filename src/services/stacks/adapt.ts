import { ADAPT_WORDS, adaptText } from '@/core/stack/adapt';
import { mayAdapt } from '@/core/broadcast/timing';
import { ok, type Result } from '@/core/shared/result';
import { measure } from '@/core/text/measure';
import { templateFromPlain } from '@/core/text/template';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { Program } from '@/db/programs/entities';
import { Broadcast } from '@/db/sends/entities';
import { Stack } from '@/db/stacks/entities';
import { adaptRow, lockUnpressed } from '@/db/stacks/stacks';
import { hashBody } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { findInWording } from '@/services/templates/check-wording';
import type { AdaptInput } from './inputs';

/** Other words for one person, as far as the author of the broadcast allows it, before they are pressed. */
export async function adapt(
  ctx: Context,
  scope: Scope,
  stackId: string,
  { message, body: typed }: AdaptInput,
): Promise<Result<null, Refusal>> {
  const stack = await scope.em.findOne(Stack, { id: stackId, endedAt: null });
  if (!stack) return notFound('stack');
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id: stack.sendId });
  if (!mayAdapt(broadcast.timing.pace))
    return conflict('body', 'body: these words are to be pressed as they are.');
  const row = await lockUnpressed(scope, { stackId, id: message });
  if (!row || row.channel !== 'sms')
    return conflict('message', 'message: it was pressed or passed over already, or is not in this stack.');
  const read = adaptText(row.body, typed, (text) => measure(text).parts);
  if (!read.ok) return invalid('body', `body: ${ADAPT_WORDS[read.reason]}`);
  const program = await scope.em.findOneOrFail(Program, { id: broadcast.programId });
  const asked = { program, channel: 'sms' as const, at: ctx.now(), broadcastId: broadcast.id };
  const [must] = (await findInWording(scope, { ...asked, source: templateFromPlain(read.value) })).filter(
    ({ severity }) => severity === 'must',
  );
  if (must) return invalid('body', `body: ${must.message}`);
  const { alphabet, parts } = measure(read.value);
  const size = row.media
    ? { alphabet: null, parts: row.parts, credits: row.credits }
    : { alphabet, parts, credits: Math.round((row.credits / row.parts) * parts) };
  await adaptRow(scope, { id: message, body: read.value, bodyHash: hashBody(read.value), ...size });
  await announce(scope, false);
  return ok(null);
}
