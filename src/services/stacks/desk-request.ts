import { parseJson } from '@/core/shared/json';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { found } from '@/services/kit/api';
import { invalid, readInput, type Refusal } from '@/services/kit/validation';
import { AdaptInput, PressInput, SkipInput } from './inputs';
import { adapt } from './adapt';
import { answerFromStack, press, readDesk, readTalk, skip } from './press';

/** What a desk asks, of whoever it is: who is next, what was pressed, who is passed over, what somebody wrote. */
export async function deskRequest(
  ctx: Context,
  scope: Scope,
  stackId: string,
  { act, messages, message, why, person, body }: Record<string, string | null>,
): Promise<Result<object, Refusal>> {
  switch (act) {
    case 'look':
      return found(await readDesk(ctx, scope, stackId), 'stack');
    case 'press': {
      const listed = parseJson(messages ?? '');
      const input = await readInput(PressInput, { messages: listed.ok ? listed.value : null });
      return input.ok ? press(ctx, scope, stackId, input.value) : input;
    }
    case 'adapt': {
      const input = await readInput(AdaptInput, { message, body });
      if (!input.ok) return input;
      const done = await adapt(ctx, scope, stackId, input.value);
      return done.ok ? ok({}) : done;
    }
    case 'skip': {
      const input = await readInput(SkipInput, { message, why });
      if (!input.ok) return input;
      const done = await skip(ctx, scope, stackId, input.value);
      return done.ok ? ok({}) : done;
    }
    case 'talk':
      return found(await readTalk(scope, stackId, person ?? ''), 'person');
    case 'answer': {
      const sent = await answerFromStack(ctx, scope, stackId, { personId: person ?? '', body: body ?? '' });
      return sent.ok ? ok({}) : sent;
    }
    default:
      return invalid('act', 'act: must be one of: look, press, adapt, skip, talk, answer.');
  }
}
