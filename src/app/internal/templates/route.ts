import { ok } from '@/core/shared/result';
import { listTemplates } from '@/services/templates/templates';
import { answerScreen } from '../read';

/** What can be put in by a slash. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, { accountId }) =>
    ok({
      items: (await listTemplates(scope, accountId)).map(({ id, name, folder, subject, body }) => ({
        ...{ id, name, folder, subject, body },
      })),
    }),
  );
