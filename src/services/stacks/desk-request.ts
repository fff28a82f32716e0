import { parseJson } from '@/core/shared/json';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { found } from '@/services/kit/api';
import { invalid, readInput, type Refusal } from '@/services/kit/validation';
import { AdaptInput, PressInput, SkipInput } from './inputs';
import { adapt } from './adapt';
import { answerFromStack, askForAnother, letLeave, letStay, noteFromStack, readTalk } from './guest';
import { press, openDesk, skip } from './press';

/** What a desk asks, of whoever it is: who is next, what was pressed, who is passed over, what somebody wrote. */
export async function deskRequest(
  ctx: Context,
  scope: Scope,
  stackId: string,
  { act, messages, message, why, person, body, key, value, prepared }: Record<string, string | null>,
): Promise<Result<object, Refusal>> {
  const of = { stackId, personId: person ?? '' };
  const done = (result: Result<unknown, Refusal>): Result<object, Refusal> => (result.ok ? ok({}) : result);
  switch (act) {
    case 'look':
      return found(await openDesk(ctx, scope, stackId), 'stack');
    case 'press': {
      const listed = parseJson(messages ?? '');
      const input = await readInput(PressInput, { messages: listed.ok ? listed.value : null });
      return input.ok ? press(ctx, scope, stackId, input.value) : input;
    }
    case 'adapt': {
      const input = await readInput(AdaptInput, { message, body });
      return input.ok ? done(await adapt(ctx, scope, stackId, input.value)) : input;
    }
    case 'skip': {
      const input = await readInput(SkipInput, { message, why });
      return input.ok ? done(await skip(ctx, scope, stackId, input.value)) : input;
    }
    case 'talk':
      return found(await readTalk(ctx, scope, of), 'person');
    case 'answer':
      return done(await answerFromStack(ctx, scope, of, { body: body ?? '', prepared: prepared ?? null }));
    case 'note':
      return done(await noteFromStack(ctx, scope, of, { key: key ?? '', value: value ?? '' }));
    case 'another':
      return done(await askForAnother(ctx, scope, of, why ?? ''));
    case 'leave':
      return done(await letLeave(ctx, scope, of));
    case 'stay':
      return done(await letStay(ctx, scope, of));
    default:
      return invalid(
        'act',
        'act: must be one of: look, press, adapt, skip, talk, answer, note, another, leave, stay.',
      );
  }
}
