import { countSegments } from '@/services/audience/segment-counts';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, (scope, session, now) => countSegments(scope, session.accountId, now));
