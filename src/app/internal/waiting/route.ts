import { countWaiting } from '@/services/sends/leave-out';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, (scope, _, now, body) =>
    countWaiting(scope, now, body.id ?? '', body.condition ?? ''),
  );
