import { readAudience, readCondition } from '@/services/audience/audience';
import { whileWaitedFor } from '@/services/kit/watch';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, session, now, body, signal) => {
    const condition = readCondition(body.condition);
    return condition.ok
      ? whileWaitedFor(scope, signal, () =>
          readAudience(scope, condition.value, body.search ?? '', now, session.accountId),
        )
      : condition;
  });
