import { CHANNELS } from '@/core/message/channel';
import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { findProgram } from '@/services/programs/find-program';
import { findInWording } from '@/services/templates/check-wording';
import { answerScreen } from '../read';

/** What there is to say about what somebody writes in an editor. A program that is not known yet is none. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, _session, now, body) => {
    const program = body.program ? await findProgram(scope, cutText(body.program, 80)) : null;
    const findings = await findInWording(scope, {
      ...{ source: cutText(body.source ?? '', 20_000), program, at: now },
      channel: CHANNELS.find((channel) => channel === body.channel) ?? 'sms',
      answers: body.answers === 'yes',
    });
    return ok({ findings });
  });
