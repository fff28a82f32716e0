import type { InterpretContext } from '@/core/reply/interpret';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow, KeywordSender, KeywordSpelling } from '@/db/programs/entities';

export interface Heard extends Pick<InterpretContext, 'keywords' | 'spellings'> {
  rows: KeywordRow[];
}

/** The keywords that are heard on a number, with the spellings that count. Null: on any number. */
export async function heardKeywords(scope: Scope, senderId: string | null): Promise<Heard> {
  const all = await scope.em.find(KeywordRow, {}, { orderBy: { id: 'asc' } });
  const only = await scope.em.find(KeywordSender, {});
  const rows = all.filter(({ id }) => {
    const on = only.filter(({ keywordId }) => keywordId === id);
    return senderId === null || on.length === 0 || on.some((one) => one.senderId === senderId);
  });
  const wordOf = new Map(rows.map(({ id, word }) => [id, word]));
  const spellings = (await scope.em.find(KeywordSpelling, {})).flatMap(({ word, keywordId }) => {
    const keyword = wordOf.get(keywordId);
    return keyword === undefined ? [] : [[word, keyword] as const];
  });
  return { rows, keywords: [...wordOf.values()], spellings: new Map(spellings) };
}
