import { ok } from '@/core/shared/result';
import { lookAtTargets } from '@/services/links/look-at-targets';
import { answerScreen } from '../read';

/** Whether pages answer where the links of a draft lead. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(
    request,
    async (_scope, _session, _now, body) =>
      ok({ found: await lookAtTargets((body.addresses ?? '').split('\n').filter(Boolean)) }),
    undefined,
    'send',
  );
