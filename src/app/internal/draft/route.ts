import { reportClearance } from '@/services/clearance/report-clearance';
import { answerScreen } from '../read';
import { questionOf } from '../question';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, session, now, body) => {
    const question = await questionOf(scope, body, session, now);
    if (!question.ok) return question;
    const result = await reportClearance(scope, question.value);
    return result.ok ? { ok: true, value: { ...result.value, now } } : result;
  });
