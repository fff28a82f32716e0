import { doubtAbout } from '@/core/keyword/keyword';
import type { Program, KeywordRow } from '@/db/programs/entities';
import { iso } from '@/services/kit/views';

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
  /** What speaks against it; null: nothing. */
  doubt: doubtAbout(keyword.word),
  created_at: iso(keyword.createdAt),
});
