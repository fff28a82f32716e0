import { ok } from '@/core/shared/result';
import {
  dropUnfinished,
  keepUnfinished,
  LARGEST_UNFINISHED,
  readUnfinished,
} from '@/services/kit/unfinished';
import { answerScreen } from '../read';

/** What somebody is writing: kept as they go, read when they come back, dropped when it went. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(
    request,
    async (scope, { accountId }, now, { act, place, content }) => {
      const whose = { accountId, place: place ?? '' };
      if (act === 'keep') {
        const kept = await keepUnfinished(scope, whose, content ?? '', new Date(now));
        return kept.ok ? ok({ at: now }) : kept;
      }
      if (act === 'drop') return ok({ dropped: await dropUnfinished(scope, whose) });
      const found = await readUnfinished(scope, whose);
      return ok({ found: found && { content: found.content, at: found.at.getTime() } });
    },
    LARGEST_UNFINISHED * 2,
  );
