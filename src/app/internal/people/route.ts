import { readCondition } from '@/services/audience/audience';
import { readPeopleTable } from '@/services/people/people-table';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, _session, now, body) => {
    const condition = readCondition(body.condition);
    if (!condition.ok) return condition;
    const { search, sort, after } = body;
    return readPeopleTable(
      scope,
      { condition: condition.value, search: search ?? '', sort: sort ?? '', after: after ?? '' },
      now,
    );
  });
