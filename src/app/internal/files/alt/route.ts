import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { describeFile } from '@/services/media/files';
import { answerScreen } from '../../read';

/** Says what a picture shows. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(
    request,
    async (scope, _session, _now, { id, alt }) => {
      const described = await describeFile(scope, id ?? '', cutText(alt ?? '', 300));
      return described.ok ? ok({}) : described;
    },
    undefined,
    'answer',
  );
