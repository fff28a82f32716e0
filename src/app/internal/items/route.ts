import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { findItems } from '@/services/items/find-items';
import { answerScreen } from '../read';

/** What can be put in behind a hash. */
export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, _session, now, { called }) =>
    ok({ items: await findItems({ now: () => now }, scope, cutText(called ?? '', 60)) }),
  );
