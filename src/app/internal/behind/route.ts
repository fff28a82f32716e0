import { isReasonCode } from '@/core/clearance/reasons';
import { cutText } from '@/core/shared/clean-text';
import { peopleBehind } from '@/services/clearance/report-clearance';
import { answerScreen } from '../read';
import { questionOf } from '../question';

const VERDICTS = ['cleared', 'held', 'blocked'] as const;

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, session, now, body, signal) => {
    const verdict = VERDICTS.find((one) => one === body.verdict) ?? null;
    const code = body.code && isReasonCode(body.code) ? body.code : null;
    const called = cutText(body.called ?? '', 100);
    const question = await questionOf(scope, body, session, now);
    if (!question.ok) return question;
    return peopleBehind(scope, question.value, { verdict, code, called }, called ? 8 : 500, signal);
  });
