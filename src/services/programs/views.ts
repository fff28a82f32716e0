import { doubtAbout } from '@/core/keyword/keyword';
import type { Program, KeywordRow } from '@/db/programs/entities';
import { iso } from '@/services/kit/views';
import type { readKeyword } from './keyword-screen';

export const programView = (program: Program) => ({
  id: program.id,
  name: program.name,
  purpose: program.purpose,
  promise:
    program.promiseCount === null ? null : { count: program.promiseCount, period: program.promisePeriod },
  welcome: program.welcome,
  double_opt_in: program.doubleOptIn,
  hours: program.ownHours,
  archived_at: iso(program.archivedAt),
  merged_into: program.mergedInto,
  stamp: program.stamp,
  created_at: iso(program.createdAt),
});

export const keywordView = (keyword: KeywordRow) => ({
  id: keyword.id,
  program_id: keyword.programId,
  word: keyword.word,
  ...{ welcome: keyword.welcome, before_words: keyword.beforeWords, after_words: keyword.afterWords },
  ...{ valid_from: iso(keyword.validFrom), valid_to: iso(keyword.validTo), offer: keyword.offerId },
  ...{ questions: keyword.questions, thanks: keyword.thanks },
  ...{ link_days: keyword.linkDays, task_after: keyword.taskAfter },
  stamp: keyword.stamp,
  /** What speaks against it; null: nothing. */
  doubt: doubtAbout(keyword.word),
  created_at: iso(keyword.createdAt),
});

type Full = NonNullable<Awaited<ReturnType<typeof readKeyword>>>;

export const keywordInFull = ({ keyword, labels, sequences, senders, spellings }: Full) => ({
  ...keywordView(keyword),
  ...{ labels, sequences, sender_numbers: senders, spellings },
});
