import { readAudience, readCondition } from '@/services/audience/audience';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, session, now, body) => {
    const condition = readCondition(body.condition);
    return condition.ok
      ? readAudience(scope, condition.value, body.search ?? '', now, session.accountId)
      : condition;
  });
