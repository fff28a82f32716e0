import { reportClearance } from '@/services/clearance/report-clearance';
import type { DraftStep } from '@/services/clearance/so-far';
import { findProgram } from '@/services/programs/find-program';
import { forecastWaves } from '@/services/voicemail/forecast';
import { answerInSteps } from '../read';
import { questionOf } from '../question';

export const POST = (request: Request): Promise<Response> =>
  answerInSteps<DraftStep>(request, async (scope, { session, now, body }, watch) => {
    const question = await questionOf(scope, body, session, now);
    if (!question.ok) return question;
    const result = await reportClearance(scope, question.value, watch);
    if (!result.ok) return result;
    const { channel, at, timing, program } = question.value;
    const { cleared, held } = result.value.report;
    const waves =
      channel === 'voicemail'
        ? await forecastWaves(scope, {
            ...{ at, own: timing?.hours ?? null, programId: (await findProgram(scope, program))!.id },
            people: cleared + held - (result.value.letters ?? 0),
          })
        : null;
    return { ok: true, value: { ...result.value, waves, now } };
  });
