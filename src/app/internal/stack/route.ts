import { getContext } from '@/services/runtime';
import { notFound } from '@/services/kit/validation';
import { deskRequest } from '@/services/stacks/desk-request';
import { stackOf } from '@/services/stacks/press';
import { answerScreen } from '../read';

/** What the desk of a teammate asks, of their own stack in a broadcast. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(
    request,
    async (scope, { accountId }, _, body) => {
      const stack = await stackOf(scope, body.send ?? '', accountId);
      return stack ? deskRequest(await getContext(), scope, stack.id, body) : notFound('stack');
    },
    undefined,
    'answer',
  );
