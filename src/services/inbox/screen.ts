import { mergeFields } from '@/services/audience/merge-fields';
import type { Context } from '@/services/kit/context';
import { answerValues } from './word-answer';
import type { Scope } from '@/db/kit/scope';
import { waitingThreads } from '@/db/inbox/threads';

export const readThreads = (scope: Scope) => waitingThreads(scope, { most: 200, asking: false });

/** What an answer to somebody can be written with. */
export async function readAnswering(ctx: Context, scope: Scope, personId: string, answering: string) {
  return {
    fields: await mergeFields(scope),
    values: await answerValues(ctx, scope, personId, answering.split(' ')[0] ?? null),
  };
}
