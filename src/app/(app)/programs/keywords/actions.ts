'use server';
import { cleanText } from '@/core/shared/clean-text';
import { instantOfLocal } from '@/core/shared/zone';
import { countSpelling } from '@/services/inbox/near-misses';
import { tryKeyword } from '@/services/inbox/try-keyword';
import { readInput } from '@/services/kit/validation';
import { changeKeyword, removeSpelling } from '@/services/programs/change-keyword';
import { ChangeKeywordInput, SpellingInput } from '@/services/programs/inputs';
import type { Problems } from '@/ui/kit/labelled';
import { plural } from '@/ui/kit/numbers';
import type { Outcome } from '@/ui/programs/keyword-more';
import type { KeywordDraft } from '@/ui/programs/keyword-desk';
import { change, currentSession } from '../../../session';

export async function saveKeywordAction(
  id: string,
  stamp: number,
  draft: KeywordDraft,
  press: string,
): Promise<Problems> {
  const zone = (await currentSession())?.workspaceZone ?? 'UTC';
  const input = await readInput(ChangeKeywordInput, {
    ...{
      stamp,
      welcome: draft.welcome,
      labels: draft.labels,
      sequences: draft.sequences,
      offer: draft.offer,
    },
    ...{ sender_numbers: draft.senders, before_words: draft.beforeWords, after_words: draft.afterWords },
    ...{ questions: draft.questions, thanks: draft.thanks },
    ...{ link_days: draft.linkDays, task_after: draft.taskAfter },
    ...{
      valid_from: instantOfLocal(String(draft.from ?? ''), zone),
      valid_to: instantOfLocal(String(draft.to ?? ''), zone),
    },
  });
  if (!input.ok) return { problems: input.reason.problems };
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => changeKeyword(ctx, scope, String(id), input.value, session.accountId),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function countSpellingAction(
  id: string,
  spelling: string,
  days: number,
  press: string,
): Promise<Outcome> {
  const input = await readInput(SpellingInput, { spelling: cleanText(String(spelling)), days });
  if (!input.ok) return { problems: input.reason.problems };
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => countSpelling(ctx, scope, String(id), input.value, session.accountId),
    String(press),
  );
  if (!result.ok) return { problems: result.reason.problems };
  const { joined, left } = result.value;
  const more = left > 0 ? ` ${left} more wait for another press.` : '';
  return {
    problems: [],
    said:
      joined > 0
        ? `“${spelling}” counts from now on, and ${plural(joined, 'person', 'people')} came in.${more}`
        : `“${spelling}” counts from now on.`,
  };
}

export async function dropSpellingAction(id: string, spelling: string, press: string): Promise<Problems> {
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => removeSpelling(ctx, scope, String(id), String(spelling), session.accountId),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function tryKeywordAction(id: string, press: string): Promise<Outcome> {
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => tryKeyword(ctx, scope, String(id), session.accountId),
    String(press),
  );
  return result.ok ? { problems: [], said: 'It is on its way.' } : { problems: result.reason.problems };
}
