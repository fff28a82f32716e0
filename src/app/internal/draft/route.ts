import { reportClearance } from '@/services/clearance/report-clearance';
import { answerScreen } from '../read';
import { questionOf } from '../question';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, session, now, body) => {
    const result = await reportClearance(scope, questionOf(body, session, now));
    return result.ok ? { ok: true, value: { ...result.value, now } } : result;
  });
