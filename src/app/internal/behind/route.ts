import { isReasonCode } from '@/core/clearance/reasons';
import { cutText } from '@/core/shared/clean-text';
import { peopleBehind } from '@/services/clearance/report-clearance';
import { answerScreen } from '../read';
import { questionOf } from '../question';

const VERDICTS = ['cleared', 'held', 'blocked'] as const;

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, (scope, session, now, body) => {
    const verdict = VERDICTS.find((one) => one === body.verdict) ?? null;
    const code = body.code && isReasonCode(body.code) ? body.code : null;
    const called = cutText(body.called ?? '', 100);
    return peopleBehind(scope, questionOf(body, session, now), { verdict, code, called }, called ? 8 : 500);
  });
