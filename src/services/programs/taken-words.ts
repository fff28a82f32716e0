import type { Scope } from '@/db/kit/scope';
import { KeywordRow, KeywordSpelling } from '@/db/programs/entities';

/** Keywords and spellings that the workspace uses. */
export const takenWords = async (scope: Scope): Promise<string[]> => [
  ...(await scope.em.find(KeywordRow, {})).map(({ word }) => word),
  ...(await scope.em.find(KeywordSpelling, {})).map(({ word }) => word),
];
